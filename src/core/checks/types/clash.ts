import type { Rule } from '../engine/rule.ts';
import { typingFindings } from './shared.ts';

export const clash: Rule = {
  id: 'types/clash',
  level: 'error',
  messages: {
    apart: '{place} {name} is {type} in the route and {promised} in the document: no value is both',
  },
  advice: {
    agree: 'Give both sides one type; what the service really reads decides which.',
  },
  meta: {
    what: 'A parameter whose types in the route and in the document have no value in common.',
    why: 'Every documented request for it is refused, and whatever is served was never documented.',
    example: '- GET /passages/{passageId:int} -> passages.read       # the document says format: uuid',
    fix: 'Change the side that is wrong.',
  },
  check: (context) =>
    typingFindings(context, (t) =>
      t.relation === 'disjoint' ? { message: 'apart', advice: 'agree', text: t.refused } : undefined,
    ),
};
