/** What the rules ask: one service, its table and documents, and facts about them computed once. */

import { invariant } from '../../base/invariant.ts';
import { lazy } from '../../base/lazy.ts';
import type { Place } from '../../base/place.ts';
import type { Contract, Operation } from '../../contract/model/contract.ts';
import { type Endpoint, endpointsOf } from '../../contract/pairing/endpoints.ts';
import { fullPath, mountedBase } from '../../contract/pairing/full-path.ts';
import { describedBy } from '../../contract/pairing/media-types.ts';
import { NO_PAIRING, type Pairing, pair } from '../../contract/pairing/pair-operations.ts';
import { type Typing, typingsOf } from '../../contract/pairing/parameter-types.ts';
import { type PathSlot, slotsOfContract, slotsOfTable } from '../../contract/pairing/path-slots.ts';
import {
  presentOf,
  type Version,
  type Versioned,
  type Versions,
  versioned,
  versionsOf,
} from '../../contract/resources/api-versions.ts';
import type { Policy } from '../../contract/resources/method-policy.ts';
import { type Exchange, exchangesOf } from '../../contract/resources/negotiated.ts';
import { type Resource, resourcesOf } from '../../contract/resources/resources.ts';
import type { Shape } from '../../paths/pattern.ts';
import { parseTemplate } from '../../paths/template.ts';
import { type Duplicate, duplicates } from '../../routes/findings/duplicates.ts';
import { type Overlap, partialOverlaps } from '../../routes/findings/overlaps.ts';
import { type Shadow, shadowOf, type Undecided } from '../../routes/findings/shadow.ts';
import { follow } from '../../routes/follow/follow.ts';
import type { Behind, Choice } from '../../routes/follow/gateway.ts';
import type { RoutingOutcome } from '../../routes/follow/outcome.ts';
import { buildRouter, type Router } from '../../routes/index/router.ts';
import type { Request } from '../../routes/request/request.ts';
import type { Versioning } from '../../routes/request/requested-version.ts';
import type { Route, RouteTable } from '../../routes/table/route.ts';
import { routeLine } from '../../routes/table/route.ts';
import type { RequestWitness, Spot } from './finding.ts';

export interface Service {
  readonly name: string;
  readonly table: RouteTable | undefined;
  readonly contracts: readonly Contract[];
  /** Where a gateway puts the service. */
  readonly mount?: string;
  /** The table was made from the document, which stands in for one. */
  readonly tableIsDocument?: boolean;
  readonly versioning?: Versioning | undefined;
  /** The versions that the settings declare. */
  readonly versions?: readonly Version[] | undefined;
  /** Declared versions that no service serves, told with the first service that they are for. */
  readonly unserved?: readonly string[] | undefined;
  /** Where the settings speak of versions, for one of the services that they are for: told once. */
  readonly versionsAt?: Place | undefined;
  /** The day on which it is checked, `2027-03-14`; what has passed is told where it is known. */
  readonly today?: string | undefined;
  /** Which methods resources should have; the usual ones by default. */
  readonly policy?: Policy | undefined;
  /** Who calls the service. */
  readonly clients?: readonly Client[] | undefined;
  /** What the gateway looks at before it passes a request to it, and all that are behind it; undefined where none is declared. */
  readonly behind?: Behind | undefined;
  readonly gateway?: { readonly choice: Choice; readonly peers: readonly Service[] } | undefined;
  /** The services before it behind the same gateway. */
  readonly earlier?: readonly Service[];
  /** Requests whose outcome somebody wrote down. */
  readonly expectations?: readonly Expectation[];
}

/** Somebody who calls the service, by what it sends and accepts. */
export interface Client {
  readonly name: string;
  readonly accept: string | undefined;
  readonly sends: string | undefined;
  readonly place: Place;
}

export interface Expectation {
  readonly request: Request;
  readonly handler?: string | undefined;
  readonly status?: number | undefined;
  readonly parameters?: Readonly<Record<string, string>> | undefined;
  readonly allow?: readonly string[] | undefined;
  /** The gateway passes the request to no service. */
  readonly isPassedToNobody?: boolean;
  readonly place: Place;
}

export interface Context {
  readonly service: Service;
  readonly router: Router | undefined;
  /** The shadows over the table's routes, in declared order. */
  readonly shadows: () => readonly (Shadow | Undecided)[];
  /** The routes that no request reaches. */
  readonly dead: () => ReadonlySet<Route>;
  /** Routes that lose requests to one that is no special case of theirs. */
  readonly crossings: () => readonly Overlap[];
  /** Routes with the reach of an earlier one. */
  readonly duplicates: () => readonly Duplicate[];
  /** All paths of the service, those of its documents among them. */
  readonly paths: () => readonly { readonly path: string; readonly shape: Shape }[];
  /** Parameters with a type in a route and in the document. */
  readonly typings: () => readonly Typing[];
  /** The parameters in paths: those of the table, then those of each document. */
  readonly slots: () => readonly (readonly PathSlot[])[];
  /** Everything that is served or documented. */
  readonly endpoints: () => readonly Endpoint[];
  readonly resources: () => readonly Resource[];
  readonly versions: () => Versions;
  /** Those that the service has. */
  readonly presentVersions: () => Versions;
  /** The endpoints with the versions that they belong to. */
  readonly versioned: () => readonly Versioned[];
  /** What goes back and forth, by method and path. */
  readonly exchanges: () => readonly Exchange[];
  /** Undefined unless there are both a table and a document. */
  readonly pairing: () => Pairing | undefined;
}

/** Prepares a service for the checks. Nothing is computed before it is asked for. */
export function contextOf(service: Service): Context {
  const router = service.table === undefined ? undefined : routerOf(service);
  const { table } = service;
  // Documents are read when something asks for them.
  const contracts = (): readonly Contract[] => service.contracts;
  const shadows = lazy(() => (router === undefined ? [] : router.table.routes.flatMap((r) => shadowOf(router, r) ?? [])));
  const pairing = (): Pairing | undefined => pairingOf(service);
  const endpoints = lazy(() => endpointsOf(table, pairing(), pairing()?.operations ?? []));
  const versions = lazy(() => versionsOf(service.versions ?? [], service.versioning, endpoints()));
  const inVersions = lazy(() => versioned(endpoints(), versions(), (e) => owners().get(e.operation), contracts().length > 1));
  const owners = lazy(
    () => new Map(contracts().flatMap((c) => c.operations.map((o) => [o as Operation | undefined, c] as const))),
  );
  return {
    service,
    router,
    shadows,
    dead: lazy(() => new Set(shadows().flatMap((s) => ('why' in s || !s.whole ? [] : [s.route])))),
    crossings: lazy(() => (router === undefined ? [] : partialOverlaps(router))),
    duplicates: lazy(() => (router === undefined ? [] : duplicates(router))),
    paths: lazy(() => pathsOf(service)),
    // A document is not held against itself.
    typings: lazy(() => typingsOf(service.tableIsDocument ? NO_PAIRING : (pairing() ?? NO_PAIRING))),
    slots: lazy(() => [
      ...(table === undefined || service.tableIsDocument ? [] : [slotsOfTable(table)]),
      ...contracts().map(slotsOfContract),
    ]),
    endpoints,
    resources: lazy(() => resourcesOf(endpoints())),
    versions,
    presentVersions: lazy(() => presentOf(versions(), inVersions())),
    versioned: inVersions,
    exchanges: lazy(() => exchangesOf(endpoints())),
    pairing,
  };
}

/** Values that the documents give for path parameters: examples, then members of an enumeration. */
function samplesOf(contracts: readonly Contract[]): ReadonlyMap<string, readonly string[]> {
  const samples = new Map<string, string[]>();
  for (const { operations } of contracts)
    for (const { parameters } of operations)
      for (const { in: at, name, examples, schema } of parameters) {
        if (at !== 'path') continue;
        const said = schema?.keywords();
        const own = typeof said === 'object' ? [...said.examples, ...(said.enum ?? []).slice(0, 1)] : [];
        const values = [...examples, ...own];
        const texts = values.flatMap((v) => (typeof v === 'string' || typeof v === 'number' ? [String(v)] : []));
        if (texts.length > 0) samples.set(name, [...(samples.get(name) ?? []), ...texts].slice(0, 5));
      }
  return samples;
}

function pathsOf({ table, contracts, mount = '' }: Service): readonly { path: string; shape: Shape }[] {
  const served = (table?.routes ?? []).flatMap((r) =>
    r.isBarrier ? [] : r.pattern.shapes.map((shape) => ({ path: r.path, shape })),
  );
  const templates = new Set(
    contracts.flatMap((c) => c.operations.map((o) => fullPath(mountedBase((o.bases ?? c.bases)[0] ?? '', mount), o.path))),
  );
  return [...served, ...[...templates].flatMap((path) => parseTemplate(path).shapes.map((shape) => ({ path, shape })))];
}

const routerCache = new WeakMap<RouteTable, Router>();

/** The router of a service that has a table. */
export function routerOf(service: Service): Router {
  const { table, versioning } = service;
  invariant(table !== undefined, 'a router needs a table');
  const known = routerCache.get(table);
  if (known !== undefined && known.versioning === versioning) return known;
  const samples = lazy(() => samplesOf(service.contracts));
  const described = lazy(() => describedBy(pairingOf(service)));
  const made: Router = {
    ...buildRouter(table, versioning, samples),
    described: (route, method) => described().get(route.index)?.get(method),
  };
  routerCache.set(table, made);
  return made;
}

const pairingCache = new WeakMap<Service, { readonly pairing: Pairing | undefined }>();

function pairingOf(service: Service): Pairing | undefined {
  const { table, contracts, mount } = service;
  const known = pairingCache.get(service) ?? {
    pairing: table === undefined || contracts.length === 0 ? undefined : pair(table, contracts, mount),
  };
  pairingCache.set(service, known);
  return known.pairing;
}

/** A route as the spot of a finding. */
export function spotOf(route: Route): Spot {
  return { place: route.place, what: routeLine(route) };
}

/** A request together with what becomes of it. */
export function witnessOf(router: Router, request: Request): RequestWitness & { readonly following: RoutingOutcome } {
  return witnessAs(follow(router, request));
}

/** What became of a request, as a witness. */
export function witnessAs(following: RoutingOutcome): RequestWitness & { readonly following: RoutingOutcome } {
  const { request, leaf, status } = following;
  return { kind: 'request', request, takenBy: leaf?.route.handler ?? null, status, following };
}
