import { ties } from '../../routes/findings/overlaps.ts';
import { routeTitle } from '../../routes/table/route.ts';
import { orderFacts } from '../../routes/table/router-facts.ts';
import { spotOf, witnessOf } from '../engine/context.ts';
import type { Rule } from '../engine/rule.ts';

export const ambiguous: Rule = {
  id: 'paths/ambiguous',
  level: 'error',
  messages: {
    tie: '{route} and {other} match the same request, and neither is more specific',
    start: '{route} and {other} overlap, and a router that wants exclusive patterns will not start',
  },
  advice: { narrow: 'Make one of the two more specific, or give it a type that leaves the other its requests.' },
  meta: {
    what: 'Two routes that match the same request and that nothing puts in order.',
    why: 'Which handler runs is left to chance, to the order of registration, or the service does not start at all.',
    example:
      'router: { precedence: most-specific }\nroutes:\n  - GET /tolls/{number:int} -> tolls.read\n  - GET /tolls/{code:hex} -> tolls.byCode        # /tolls/7 is both',
    fix: 'Make the types disjoint, or put a literal into one of the paths.',
  },
  check: ({ router }) =>
    router === undefined
      ? []
      : ties(router).map(({ route, others, witness }) => ({
          message: router.facts.precedence === 'exclusive' ? 'start' : 'tie',
          advice: 'narrow',
          data: {
            route: routeTitle(route),
            other: others.length > 1 ? `${others.length} other routes` : routeTitle(others[0] as never),
          },
          at: spotOf(route),
          related: others.map((o) => ({ role: 'matches it too', ...spotOf(o) })),
          witness: witnessOf(router, witness),
          restsOn: orderFacts(router.facts),
        })),
};
