import type { Rule } from '../engine/rule.ts';
import { flawsOf } from './flaws.ts';

export const reference: Rule = {
  id: 'document/reference',
  level: 'error',
  messages: { part: '{problem}', remote: '{problem}' },
  advice: { correct: 'Correct the reference; until then whatever it stood for counts as anything.' },
  meta: {
    what: 'A reference that leads nowhere, back to itself, or to another machine (a note, because nothing is fetched).',
    why: 'What stands behind it is missing from every check, and from what clients are told.',
    example: "schema: { $ref: '#/components/schemas/Lok' }      # the schema is called Lock",
    fix: 'Correct its spelling, or put what it refers to beside the document.',
  },
  check: (context) => flawsOf(context, ['reference', 'remote'], 'correct'),
};
