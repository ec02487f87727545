import type { Rule } from '../engine/rule.ts';
import { flawsOf } from './flaws.ts';

export const malformedDocument: Rule = {
  id: 'document/malformed',
  level: 'warning',
  messages: { part: '{problem}' },
  advice: { correct: 'Correct it; until then this part of the document is ignored.' },
  meta: {
    what: 'A part of an OpenAPI document that is not as the specification wants it.',
    why: 'What cannot be read cannot be checked, and other programs stumble over it too.',
    example: 'paths:\n  /basins:\n    parameters: { name: basinId }       # a list was expected',
    fix: 'Correct the part that is named.',
  },
  check: (context) => flawsOf(context, ['malformed'], 'correct'),
};
