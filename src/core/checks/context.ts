/** What the rules ask: one service, its table and documents, and facts about them computed once. */
import type { Contract } from '../contract/model.ts';
import { type Pairing, pair } from '../contract/pairing.ts';
import { follow } from '../routes/follow.ts';
import type { Following } from '../routes/following.ts';
import type { Request } from '../routes/request.ts';
import type { Route, RouteTable } from '../routes/route.ts';
import { routeLine } from '../routes/route.ts';
import { buildRouter, type Router } from '../routes/router.ts';
import { type Shadow, shadowOf, type Undecided } from '../routes/shadow.ts';
import type { RequestWitness, Spot } from './finding.ts';

export interface Service {
  readonly name: string;
  readonly table: RouteTable | undefined;
  readonly contracts: readonly Contract[];
}

export interface Context {
  readonly service: Service;
  readonly router: Router | undefined;
  /** The shadows over the table's routes, in declared order. */
  readonly shadows: () => readonly (Shadow | Undecided)[];
  /** Undefined unless there are both a table and a document. */
  readonly pairing: () => Pairing | undefined;
}

/** Prepares a service for the checks. Nothing is computed before it is asked for. */
export function contextOf(service: Service): Context {
  const router = service.table === undefined ? undefined : buildRouter(service.table);
  return {
    service,
    router,
    shadows: once(() => (router === undefined ? [] : router.table.routes.flatMap((r) => shadowOf(router, r) ?? []))),
    pairing: once(() =>
      service.table === undefined || service.contracts.length === 0 ? undefined : pair(service.table, service.contracts),
    ),
  };
}

export function once<T>(compute: () => T): () => T {
  let done: { readonly value: T } | undefined;
  return () => {
    done ??= { value: compute() };
    return done.value;
  };
}

/** A route as the spot of a finding. */
export function spotOf(route: Route): Spot {
  return { place: route.place, what: routeLine(route) };
}

/** A request together with what becomes of it. */
export function witnessOf(router: Router, request: Request): RequestWitness & { readonly following: Following } {
  const following = follow(router, request);
  return { kind: 'request', request, takenBy: following.leaf?.route.handler ?? null, status: following.status, following };
}
