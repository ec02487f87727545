/** Expectations for a table: the requests that people try by hand, each with the outcome that the model predicts. */
import type { Context } from '../checks/engine/context.ts';
import { routeRequest } from '../checks/engine/endpoint.ts';
import { isPassedTo } from '../checks/engine/follow-services.ts';
import type { Member, Resource } from '../contract/resources/resources.ts';
import { followWithFacts } from '../routes/follow/with-facts.ts';
import type { Router } from '../routes/index/router.ts';
import type { Request } from '../routes/request/request.ts';
import { namedSelector, type Versioning } from '../routes/request/requested-version.ts';
import { parseTarget } from '../routes/request/target.ts';
import type { Route } from '../routes/table/route.ts';

export interface Draft {
  /** What it belongs to: the path of a resource, or words. */
  readonly of: string;
  readonly request: Request;
  readonly handler: string | undefined;
  readonly status: number | undefined;
  readonly allow: readonly string[] | undefined;
}

/** In the order in which people look whether a method is served. */
const METHODS = ['DELETE', 'PUT', 'PATCH', 'POST', 'GET'];
/** Values that types refuse, the likeliest mistake first. */
const REFUSED = ['text', '0', '-', '%20'];

/**
 * For each resource: its list, one item, an item with a value that its type refuses, a method that is not served, the prefix
 * left out, a slash added; where versions are named in a header or the query, none and an unknown one. What is undecided is left
 * out, and so is what a gateway passes to another service. O(resources), each as `follow` finds it.
 */
export function draftsFor(context: Context, router: Router): readonly Draft[] {
  const all = context.resources().flatMap((resource) => draftsOf(resource, router));
  const first = all.find((d) => d.handler !== undefined);
  const { versioning } = context.service;
  const versions = first === undefined || versioning === undefined ? [] : versionDrafts(first, versioning, router);
  return distinct([...all, ...versions]).filter((d) => isPassedTo(context.service, d.request));
}

/** What the model predicts, as an expectation; undefined where it is undecided. */
export function drafted(of: string, router: Router, request: Request): Draft | undefined {
  const { outcome, leaf, status, allow } = followWithFacts(router, request);
  if (leaf !== undefined && status === null && outcome === 'routed')
    return { of, request, handler: leaf.route.handler, status: undefined, allow: undefined };
  if (status === null) return undefined;
  return { of, request, handler: undefined, status, allow: allow ?? undefined };
}

/** One for each request, the first. */
export function distinct(drafts: readonly Draft[]): readonly Draft[] {
  const byRequest = new Map<string, Draft>();
  for (const draft of drafts) {
    const { method, target, headers } = draft.request;
    const key = `${method} ${target} ${JSON.stringify(headers)}`;
    if (!byRequest.has(key)) byRequest.set(key, draft);
  }
  return [...byRequest.values()];
}

function draftsOf(resource: Resource, router: Router): readonly Draft[] {
  const of = resource.path.text;
  const requestOf = (role: Member['role']): { readonly request: Request; readonly route: Route } | undefined => {
    const member = resource.members.find((m) => m.role === role && m.endpoint.method === 'GET' && m.endpoint.route !== undefined);
    const route = member?.endpoint.route;
    return route === undefined ? undefined : { route, request: routeRequest(router, route, 'GET') };
  };
  const [list, item] = [requestOf('collection'), requestOf('item')];
  const head = list ?? item;
  if (head === undefined) return [];
  const draft = (request: Request | undefined): readonly Draft[] => {
    const made = request === undefined ? undefined : drafted(of, router, request);
    return made === undefined ? [] : [made];
  };
  return [
    ...draft(list?.request),
    ...draft(item?.request),
    ...draft(item === undefined ? undefined : refusedItem(item.request, item.route, router)),
    ...draft(unserved(head.request, router)),
    ...draft(withoutPrefix(head.request, head.route, router)),
    ...draft(head.request.target.includes('?') ? undefined : { ...head.request, target: `${head.request.target}/` }),
  ];
}

/** The item asked for with a value that another outcome comes of. */
function refusedItem(request: Request, route: Route, router: Router): Request | undefined {
  const segments = request.target.split('/');
  return REFUSED.map((value) => ({ ...request, target: [...segments.slice(0, -1), value].join('/') })).find((changed) => {
    const { leaf, outcome } = followWithFacts(router, changed);
    return leaf?.route !== route && outcome !== 'undecided';
  });
}

function unserved(request: Request, router: Router): Request | undefined {
  return METHODS.map((method) => ({ ...request, method })).find(
    (r) => followWithFacts(router, r).outcome === 'method-not-allowed',
  );
}

/** A first segment that other routes have too is a prefix, which people forget. */
function withoutPrefix(request: Request, route: Route, router: Router): Request | undefined {
  const target = parseTarget(request.target, 'kept');
  if (!target.ok || target.segments.length < 2) return undefined;
  const [prefix, ...rest] = target.path.slice(1).split('/');
  const others = router.table.routes.filter((r) => r !== route && r.path.startsWith(`/${prefix}/`));
  return others.length === 0 ? undefined : { ...request, target: `/${rest.join('/')}` };
}

/** The same request without a version, and with one that nobody knows. */
function versionDrafts({ request }: Draft, versioning: Versioning, router: Router): readonly Draft[] {
  const { selector, name } = namedSelector(versioning);
  if (selector !== 'header' && selector !== 'query') return [];
  const { [name]: _, ...headers } = request.headers;
  const plain = { ...request, headers, target: request.target.replace(/\?.*$/su, '') };
  const unknown =
    selector === 'header'
      ? { ...plain, headers: { ...headers, [name]: 'unknown' } }
      : { ...plain, target: `${plain.target}?${encodeURIComponent(name)}=unknown` };
  return [plain, unknown].flatMap((r) => drafted('versions', router, r) ?? []);
}
