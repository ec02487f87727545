import { writtenParameter } from '../../paths/written.ts';
import { refusals } from '../../routes/findings/refused-values.ts';
import { routeTitle } from '../../routes/table/route.ts';
import { restsOn } from '../../routes/table/router-facts.ts';
import { spotOf } from '../engine/context.ts';
import type { Rule } from '../engine/rule.ts';

export const refusedByHandler: Rule = {
  id: 'paths/refused-by-handler',
  level: 'error',
  messages: { fails: '{route} lets "{value}" through as {parameter}, and its handler, which wants {type}, fails with 500' },
  advice: { type: 'Write the type into the pattern, {example}, or answer 404 or 400 in the handler.' },
  meta: {
    what: 'Text that the pattern lets through and that the handler answers with 500, because it wants another type.',
    why: 'A client that sends nonsense gets a server error, and somebody is woken by it.',
    example:
      'router: { refusal: "500" }\nroutes:\n  - { route: GET /tolls/{number}, handler: tolls.read, parameters: { number: uint } }',
    fix: 'Let the pattern refuse what the handler cannot use.',
  },
  check: ({ router }) => {
    if (router === undefined || router.facts.refusal !== '500') return [];
    return refusals(router).map(({ route, parameter, type, value, following }) => ({
      message: 'fails',
      advice: 'type',
      data: {
        route: routeTitle(route),
        value,
        parameter,
        type: type.name,
        example: writtenParameter(router.table.style, parameter, type.name),
      },
      at: spotOf(route),
      witness: { kind: 'request' as const, request: following.request, takenBy: route.handler, status: following.status },
      restsOn: restsOn(router.facts, 'refusal', 'types'),
    }));
  },
};
