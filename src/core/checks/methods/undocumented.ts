import { pathKeys } from '../../paths/keys.ts';
import { exampleFor } from '../../routes/examples/example-request.ts';
import { ANY_METHOD, type Route, routeTitle } from '../../routes/table/route.ts';
import { type Context, spotOf, witnessOf } from '../engine/context.ts';
import type { Found } from '../engine/finding.ts';
import type { Rule } from '../engine/rule.ts';

/** The router answers these by itself, so nobody documents them. */
const UNDOCUMENTED_BY_HABIT = new Set(['HEAD', 'OPTIONS']);

export const undocumented: Rule = {
  id: 'methods/undocumented',
  level: 'warning',
  messages: {
    one: '{route} is served, and no document mentions it',
    path: '{path} is served, and no document mentions it: {methods}',
    resource: '{count} routes under {resource} are served, and no document mentions any of them',
  },
  advice: { add: 'Document it, or remove the route if nobody needs it.' },
  meta: {
    what: 'A route that no OpenAPI document of the service describes.',
    why: 'Clients are told nothing about it, and nobody reviews what it lets in and gives out.',
    example: '- POST /locks/{lockId}/cycle -> locks.cycle        # and no such path in the document',
    fix: 'Add the operation to the document, or remove the route.',
  },
  check: (context) => {
    const pairing = context.pairing();
    if (pairing === undefined || context.router === undefined) return [];
    const dead = context.dead();
    const alive = context.router.table.routes.filter((r) => !dead.has(r) && !r.isBarrier);
    const isMissing = (r: Route): boolean =>
      undescribed(r, pairing.documentedBy.get(r)?.map((d) => d.operation.method) ?? []).length > 0;
    const missing = alive.filter(isMissing);
    // What is missing throughout is one finding, a path with several methods another.
    const described = new Set(alive.filter((r) => !isMissing(r)).flatMap((r) => prefixesOf(r).map((p) => p.key)));
    const groups = new Map<string, { text: string; routes: Route[] }>();
    for (const route of missing) {
      const all = prefixesOf(route);
      const { key, text } = all.find((p) => !described.has(p.key)) ?? { key: `${route.path} partly`, text: route.path };
      const group = groups.get(key) ?? { text, routes: [] };
      group.routes.push(route);
      groups.set(key, group);
    }
    return [...groups.values()].map(({ text, routes }) => report(context, text, routes as [Route, ...Route[]]));
  },
};

/** The path and what leads to it, the shortest first: by what it matches, and as it is written. */
function prefixesOf({ pattern, path }: Route): readonly { readonly key: string; readonly text: string }[] {
  const keys = pathKeys(pattern.shapes[0] ?? []);
  const texts = path.split('/').slice(1);
  return keys.map((_, i) => ({ key: keys.slice(0, i + 1).join('/'), text: `/${texts.slice(0, i + 1).join('/')}` }));
}

function undescribed(route: Route, documented: readonly string[]): readonly string[] {
  if (route.methods.includes(ANY_METHOD)) return documented.length > 0 ? [] : [ANY_METHOD];
  return route.methods.filter((m) => !documented.includes(m) && !UNDOCUMENTED_BY_HABIT.has(m));
}

function report(context: Context, resource: string, routes: readonly [Route, ...Route[]]): Found {
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
      resource,
    },
    at: spotOf(first),
    related: others.map((r) => ({ role: 'undocumented too', ...spotOf(r) })),
    ...(leaf === undefined ? {} : { witness: witnessOf(router, exampleFor(router, leaf, methods[0] as string)) }),
  };
}
