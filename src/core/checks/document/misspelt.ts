import type { Rule } from '../engine/rule.ts';
import { flawsOf } from './flaws.ts';

export const misspelt: Rule = {
  id: 'document/misspelt',
  level: 'note',
  messages: { part: '{problem}' },
  advice: { correct: 'Correct the key, or give it the prefix x- if it is meant to be your own.' },
  meta: {
    what: 'A key that means nothing where it stands and is nearly one that does.',
    why: 'Unknown keys are ignored in silence, so what was meant does not happen.',
    example: 'schema: { type: object, requred: [lockId] }',
    fix: 'Correct its spelling.',
  },
  check: (context) => flawsOf(context, ['misspelt'], 'correct'),
};
