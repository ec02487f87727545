/** Endpoints in findings: where they stand, and the request that shows them. */

import { operationTitle } from '../../contract/model/contract.ts';
import type { Endpoint } from '../../contract/pairing/endpoints.ts';
import { decide } from '../../language/limits.ts';
import { exampleFor, templateExample } from '../../routes/examples/example-request.ts';
import { filledPath } from '../../routes/examples/fill-path.ts';
import type { Router } from '../../routes/index/router.ts';
import type { Request } from '../../routes/request/request.ts';
import type { Route } from '../../routes/table/route.ts';
import { type Context, spotOf, witnessOf } from './context.ts';
import type { RequestWitness, Spot } from './finding.ts';

/** Where the document has it, because these findings speak of what is promised; the route otherwise. */
export function endpointSpot({ operation, route }: Endpoint): Spot {
  if (operation !== undefined) return { place: operation.place, what: operationTitle(operation) };
  return spotOf(route as NonNullable<typeof route>);
}

export function endpointTitle({ method, path }: Endpoint): string {
  return `${method} ${path.text}`;
}

/** A plain request for an endpoint. */
export function requestFor(
  context: Context,
  { method, path, route }: Endpoint,
  headers: Readonly<Record<string, string>> = {},
): Request {
  const { router } = context;
  if (route !== undefined) return withHeaders(routeRequest(router, route, method), headers);
  return router === undefined
    ? { method, target: path.text, headers }
    : { ...templateExample(router, method, path.text), headers };
}

/** A request for a route such as a person would send, its version and what else it asks for named. */
export function routeRequest(router: Router | undefined, route: Route, method: string): Request {
  const [leaf] = router?.leavesOf(route) ?? [];
  if (router === undefined || leaf === undefined) return { method, target: filledPath(route, new Map()), headers: {} };
  const example = decide(() => exampleFor(router, leaf, method));
  return example.decided ? example.value : { method, target: filledPath(route, new Map()), headers: {} };
}

function withHeaders(request: Request, headers: Readonly<Record<string, string>>): Request {
  return { ...request, headers: { ...request.headers, ...headers } };
}

/** A request with another method for the same path, and what becomes of it. */
export function witnessFor(
  context: Context,
  endpoint: Endpoint,
  method = endpoint.method,
  headers: Readonly<Record<string, string>> = {},
): RequestWitness | undefined {
  const { router } = context;
  return router === undefined ? undefined : witnessOf(router, { ...requestFor(context, endpoint, headers), method });
}

/** A request for a route, and what becomes of it. */
export function routeWitness({ router }: Context, route: Route): RequestWitness | undefined {
  const method = route.methods[0] === 'ANY' ? 'GET' : (route.methods[0] ?? 'GET');
  return router === undefined ? undefined : witnessOf(router, routeRequest(router, route, method));
}

/** The others of a group, as related places. */
export function sameAs(endpoints: readonly Endpoint[]): readonly (Spot & { readonly role: string })[] {
  return endpoints.map((e) => ({ role: 'the same', ...endpointSpot(e) }));
}
