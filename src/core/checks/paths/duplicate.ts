import { restsOn } from '../../routes/facts.ts';
import { routeTitle } from '../../routes/route.ts';
import { spotOf, witnessOf } from '../context.ts';
import type { Rule } from '../finding.ts';

export const duplicate: Rule = {
  id: 'paths/duplicate',
  level: 'error',
  messages: { twice: '{route} is declared twice: {other} matches the same requests' },
  advice: { remove: 'Take one of the two out, or change the method or path that was copied.' },
  meta: {
    what: 'Two routes that match exactly the same requests, whatever their parameters are called.',
    why: 'Only one of the two handlers ever runs; which one depends on the router. Mostly one was copied and its method or path forgotten.',
    example: '- GET /tolls/{tollId} -> tolls.read\n- GET /tolls/{id} -> tolls.quote           # the same requests',
    mend: 'Remove one, or correct the method or path of the copy.',
  },
  check: (context) =>
    context.shadows().flatMap((shadow) => {
      if ('why' in shadow || !shadow.equal || !shadow.whole) return [];
      const [other] = shadow.by;
      if (other === undefined || context.router === undefined) return [];
      return [
        {
          message: 'twice',
          advice: 'remove',
          data: { route: routeTitle(shadow.route), other: routeTitle(other) },
          at: spotOf(shadow.route),
          related: [{ role: 'matches the same', ...spotOf(other) }],
          witness: witnessOf(context.router, shadow.witness),
          restsOn: restsOn(context.router.facts, 'precedence'),
        },
      ];
    }),
};
