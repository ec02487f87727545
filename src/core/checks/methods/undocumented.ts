import { exampleFor } from '../../routes/examples.ts';
import { resourceOf } from '../../routes/resource.ts';
import { ANY_METHOD, type Route, routeTitle } from '../../routes/route.ts';
import { type Context, spotOf, witnessOf } from '../context.ts';
import type { Found, Rule } from '../finding.ts';

/** The router answers these by itself, so nobody documents them. */
const UNDOCUMENTED_BY_HABIT = new Set(['HEAD', 'OPTIONS']);

export const undocumented: Rule = {
  id: 'methods/undocumented',
  level: 'warning',
  messages: {
    one: '{route} is served, and no document mentions it',
    path: '{path} is served, and no document mentions it: {methods}',
    resource: '{count} routes of {resource} are served, and no document mentions any of them',
  },
  advice: { add: 'Document it, or take the route out if nobody needs it.' },
  meta: {
    what: 'A route that no OpenAPI document of the service describes.',
    why: 'Clients are told nothing about it, and nobody reviews what it lets in and gives out.',
    example: '- POST /locks/{lockId}/cycle -> locks.cycle        # and no such path in the document',
    mend: 'Add the operation to the document, or remove the route.',
  },
  check: (context) => {
    const pairing = context.pairing();
    if (pairing === undefined || context.router === undefined) return [];
    const dead = context.dead();
    const alive = context.router.table.routes.filter((r) => !dead.has(r) && !r.ends);
    const isMissing = (r: Route): boolean =>
      undescribed(r, pairing.documentedBy.get(r)?.map((d) => d.operation.method) ?? []).length > 0;
    const missing = alive.filter(isMissing);
    // A resource that is missing throughout is one finding, a path with several methods another.
    const known = new Set(alive.filter((r) => !isMissing(r)).map(resourceOf));
    const groups = new Map<string, Route[]>();
    for (const route of missing) {
      const key = known.has(resourceOf(route)) ? route.path : `${resourceOf(route)} throughout`;
      groups.set(key, [...(groups.get(key) ?? []), route]);
    }
    return [...groups.values()].map((routes) => report(context, routes as [Route, ...Route[]]));
  },
};

function undescribed(route: Route, documented: readonly string[]): readonly string[] {
  if (route.methods.includes(ANY_METHOD)) return documented.length > 0 ? [] : [ANY_METHOD];
  return route.methods.filter((m) => !documented.includes(m) && !UNDOCUMENTED_BY_HABIT.has(m));
}

function report(context: Context, routes: readonly [Route, ...Route[]]): Found {
  const [first, ...others] = routes;
  const router = context.router as NonNullable<Context['router']>;
  const documented = (r: Route): string[] =>
    context
      .pairing()
      ?.documentedBy.get(r)
      ?.map((d) => d.operation.method) ?? [];
  const methods = routes.flatMap((r) => undescribed(r, documented(r)));
  const [leaf] = router.leavesOf(first);
  const paths = new Set(routes.map((r) => r.path));
  return {
    message: paths.size > 1 ? 'resource' : methods.length > 1 ? 'path' : 'one',
    advice: 'add',
    data: {
      route: routeTitle({ methods, path: first.path }),
      path: first.path,
      methods: methods.join(', '),
      count: routes.length,
      resource: `/${resourceOf(first)}`,
    },
    at: spotOf(first),
    related: others.map((r) => ({ role: 'undocumented too', ...spotOf(r) })),
    ...(leaf === undefined ? {} : { witness: witnessOf(router, exampleFor(router, leaf, methods[0] as string)) }),
  };
}
