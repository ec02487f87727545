import type { Rule } from '../engine/rule.ts';
import { typingFindings } from './shared.ts';

export const refusesDocumented: Rule = {
  id: 'types/refuses-documented',
  level: 'error',
  messages: {
    less: '{place} {name} is {promised} in the document, and the route accepts {type} only: "{value}" is rejected',
    crossing:
      '{place} {name} is {promised} in the document and {type} in the route: "{value}" is documented and rejected, "{other}" is accepted and not documented',
  },
  advice: {
    widen: 'Widen the type of the route, or narrow the schema to what is really accepted.',
  },
  meta: {
    what: 'A parameter of which the route accepts less than the document promises.',
    why: 'A client that follows the document gets an error it was not told of, mostly a 404.',
    example: '- GET /locks/{lockId:int(1..99)} -> locks.read          # the document says integer, without bounds',
    fix: 'Make the two equal.',
  },
  check: (context) =>
    typingFindings(context, (t) => {
      const level = t.isSlight ? { level: 'note' as const } : {};
      if (t.relation === 'subset') return { ...level, message: 'less', advice: 'widen', text: t.refused };
      return t.relation === 'overlapping' ? { ...level, message: 'crossing', advice: 'widen', text: t.refused } : undefined;
    }),
};
