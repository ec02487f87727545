import { filledPath } from '../../routes/examples/fill-path.ts';
import { routeTitle } from '../../routes/table/route.ts';
import { spotOf, witnessOf } from '../engine/context.ts';
import type { Found } from '../engine/finding.ts';
import type { Rule } from '../engine/rule.ts';

export const anyMethod: Rule = {
  id: 'methods/any-method',
  level: 'note',
  messages: {
    one: '{title} handles every method, also those nobody thought of',
  },
  advice: {
    name: 'Name the methods that the handler knows; the others then get 405 with an Allow list.',
  },
  meta: {
    what: 'A route for any method that is no proxy.',
    why: 'A DELETE that was never meant reaches the handler, which may treat it as a GET.',
    example: '- ANY /locks/{lockId} -> locks.read',
    fix: 'Write the methods out.',
  },
  check: ({ router }) =>
    (router?.table.routes ?? [])
      // A tail hands everything on to somebody else.
      .filter(
        (r) =>
          r.methods.includes('ANY') &&
          r.origin.methodsUnknown !== true &&
          !r.isBarrier &&
          !r.pattern.shapes.some((s) => s.some((p) => p.kind === 'span')),
      )
      .map(
        (route): Found => ({
          message: 'one',
          advice: 'name',
          data: { title: routeTitle(route) },
          at: spotOf(route),
          ...(router === undefined
            ? {}
            : { witness: witnessOf(router, { method: 'DELETE', target: filledPath(route, new Map()), headers: {} }) }),
        }),
      ),
};
