/** The gateway of two states, for `review`: which of their services are the same, and which came or went. */
import { routerOf } from '../core/checks/engine/context.ts';
import type { GatewayPair, GatewayState, Through } from '../core/compare/table/through-gateway.ts';
import type { Router } from '../core/routes/index/router.ts';
import { buildRouter } from '../core/routes/index/router.ts';
import type { LoadedService } from '../files/load-services.ts';
import type { Workspace } from '../files/workspace.ts';

export interface Gateways {
  /** For a service of one of the states. */
  readonly of: (service: LoadedService) => Through | undefined;
  /** Services that only one state has, with their routers in both: one of them has no routes. */
  readonly unpaired: readonly { readonly service: LoadedService; readonly routers: readonly [Router, Router] }[];
}

/** Undefined where one of the states declares no gateway: then nothing says which service gets a request. */
export function gatewaysOf(
  before: Workspace,
  now: Workspace,
  paired: readonly (readonly [LoadedService, LoadedService])[],
): Gateways | undefined {
  const ids = new Map<LoadedService, string>();
  for (const [was, is] of paired) for (const service of [was, is]) ids.set(service, is.name);
  const went = before.services.filter((s) => !ids.has(s));
  const came = now.services.filter((s) => !ids.has(s));
  for (const service of went) ids.set(service, `before: ${service.name}`);
  for (const service of came) ids.set(service, `now: ${service.name}`);
  const [old, is] = [before, now].map((w) => stateOf(w, ids));
  if (old === undefined || is === undefined) return undefined;
  const pair: GatewayPair = { old, now: is };
  return {
    of: (service) => {
      const id = ids.get(service);
      return id === undefined ? undefined : { pair, id };
    },
    unpaired: [
      ...went.flatMap((service) => withNone(service, (own, none) => [own, none] as const)),
      ...came.flatMap((service) => withNone(service, (own, none) => [none, own] as const)),
    ],
  };
}

function withNone(
  service: LoadedService,
  inOrder: (own: Router, none: Router) => readonly [Router, Router],
): Gateways['unpaired'] {
  const { table, versioning } = service;
  if (table === undefined) return [];
  return [{ service, routers: inOrder(routerOf(service), buildRouter({ ...table, routes: [] }, versioning)) }];
}

function stateOf({ services }: Workspace, ids: ReadonlyMap<LoadedService, string>): GatewayState | undefined {
  const [first] = services;
  if (first?.gateway === undefined) return undefined;
  return {
    choice: first.gateway.choice,
    versioning: first.versioning,
    services: services.map((s) => ({
      id: ids.get(s) as string,
      name: s.name,
      behind: s.behind ?? { mount: '/' },
      get router() {
        return s.table === undefined ? undefined : routerOf(s);
      },
    })),
  };
}
