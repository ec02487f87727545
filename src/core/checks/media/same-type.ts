import { hidesMedia } from '../../media/media.ts';
import { endpointSpot, endpointTitle } from '../endpoint.ts';
import type { Found, Rule } from '../finding.ts';

export const sameType: Rule = {
  id: 'media/same-type',
  level: 'warning',
  messages: {
    one: '{title} has {first} and {second}, which no request can tell apart: {second} is never chosen',
  },
  advice: {
    out: 'Take one of them out, or tell them apart by a parameter such as profile (RFC 6906).',
  },
  meta: {
    what: 'Two contents that no request can tell apart, so that the later one is never chosen.',
    why: 'Whatever is described there is never sent.',
    example: 'content: { application/json: …, "application/json; charset=utf-8": … }',
    mend: 'Keep one.',
  },
  check: (context) =>
    context.endpoints().flatMap((endpoint): Found[] => {
      const { operation, route } = endpoint;
      const lists = [
        operation?.body?.content.map((m) => m.type) ?? [],
        ...(operation?.responses ?? []).map((r) => r.content.map((m) => m.type)),
        route?.conditions.takes ?? [],
        route?.conditions.returns ?? [],
      ];
      for (const list of lists) {
        for (const [i, second] of list.entries()) {
          const first = list.slice(0, i).find((t) => hidesMedia(t, second));
          if (first === undefined) continue;
          return [
            {
              message: 'one',
              advice: 'out',
              data: { title: endpointTitle(endpoint), first, second },
              at: endpointSpot(endpoint),
            },
          ];
        }
      }
      return [];
    }),
};
