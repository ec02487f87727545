import { routeTitle } from '../../routes/table/route.ts';
import { orderFacts } from '../../routes/table/router-facts.ts';
import { spotOf, witnessOf } from '../engine/context.ts';
import type { Rule } from '../engine/rule.ts';

export const partlyShadowed: Rule = {
  id: 'paths/partly-shadowed',
  level: 'warning',
  messages: { some: '{route} loses some of its requests to {other}{more}' },
  advice: { narrow: 'Give one of the two patterns a type or a literal that leaves the other its requests.' },
  meta: {
    what: 'A route that loses some of its requests to one that is asked first, though neither was written as the special case of the other.',
    why: 'Which handler runs depends on the value that a client happens to send. A literal ahead of a parameter is the normal idiom and is not meant here.',
    example: '- GET /{basin}/berths -> basins.berths\n- GET /elm/{kind} -> elm.kind                  # loses /elm/berths',
    fix: 'Decide whose request it is and say so: with a type, a literal, or a path of its own.',
  },
  check: (context) => {
    const { router } = context;
    if (router === undefined) return [];
    const dead = context.dead();
    // A route that takes all requests of a method is reported by paths/shadowed.
    const told = new Map(context.shadows().map((s) => [s.route, 'by' in s ? s.by : []]));
    return context
      .crossings()
      .filter(({ route, others }) => !dead.has(route) && others.some((o) => !told.get(route)?.includes(o)))
      .map(({ route, others, witness }) => ({
        message: 'some',
        // A document says nothing of how its service routes.
        ...(context.service.tableIsDocument ? { level: 'note' as const, together: route.place.file } : {}),
        advice: 'narrow',
        data: {
          route: routeTitle(route),
          other: others.length > 1 ? `${others.length} other routes` : routeTitle(others[0] as never),
        },
        at: spotOf(route),
        related: others.map((o) => ({ role: 'overlaps with', ...spotOf(o) })),
        witness: witnessOf(router, witness),
        restsOn: orderFacts(router.facts),
      }));
  },
};
