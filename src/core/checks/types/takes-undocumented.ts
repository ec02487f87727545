import type { Rule } from '../engine/rule.ts';
import { typingFindings } from './shared.ts';

export const takesUndocumented: Rule = {
  id: 'types/takes-undocumented',
  level: 'warning',
  messages: {
    more: '{place} {name} is {promised} in the document, and the route accepts any {type}: "{other}" reaches {handler} undocumented',
  },
  advice: {
    narrow: 'Give the route the type that the document has, so that other values end before the handler.',
  },
  meta: {
    what: 'A parameter of which the route accepts more than the document has.',
    why: 'Values that nobody expected reach the handler: text where a number is compared ends in a 500.',
    example: '- GET /locks/{lockId} -> locks.read                      # the document says integer',
    fix: 'Type the parameter in the route, or document what is accepted.',
  },
  check: (context) =>
    typingFindings(context, (t) =>
      t.relation === 'superset' ? { message: 'more', advice: 'narrow', text: t.undocumented } : undefined,
    ),
};
