/** Which routes and operations a finding is about. */
import type { Place } from '../base/place.ts';
import type { Finding } from '../checks/engine/finding.ts';
import type { Contract, Operation } from '../contract/model/contract.ts';
import { mediaOf } from '../contract/model/visit.ts';
import type { Route } from '../routes/table/route.ts';
import { reachable } from '../schema/model/subschemas.ts';
import type { TrafficService } from './survey.ts';

/** Findings about requests that a route loses to others: those count that it matches and does not get. */
export const LOST: ReadonlySet<string> = new Set([
  'paths/shadowed',
  'paths/partly-shadowed',
  'paths/duplicate',
  'paths/ambiguous',
  'paths/claimed-twice',
]);

export interface Concerned {
  readonly routes: ReadonlySet<Route>;
  readonly operations: ReadonlySet<Operation>;
}

/** Related places of which a finding says the same as of its own. */
const ALSO = new Set(['the same', 'undocumented too', 'refused by']);

/**
 * What each finding is about: the route at its place; the operations whose part of a document holds its place; where none does,
 * those that refer to it, such as the users of a shared schema. Nothing where a finding is about no request. Costs a look at
 * every schema of every operation where one stands at a shared place.
 */
export function concernedOf(services: readonly TrafficService[], findings: readonly Finding[]): readonly Concerned[] {
  const routes = new Map(services.flatMap(({ router }) => router.table.routes.map((r) => [placeKey(r.place), r] as const)));
  const contracts = services.flatMap(({ context }) => context.service.contracts);
  const operations = new Map(contracts.flatMap((c) => c.operations.map((o) => [placeKey(o.place), [o]] as const)));
  const spots = findings.map(({ rule, at, related = [] }) =>
    [at, ...(LOST.has(rule) ? [] : related.filter((r) => ALSO.has(r.role)))].map(({ place }) => place),
  );
  const isOwn = (place: Place): boolean => routes.has(placeKey(place)) || nearest(place, operations).length > 0;
  const shared = usersOf(
    contracts,
    spots.flat().filter((place) => !isOwn(place)),
  );
  return spots.map((places) => ({
    routes: new Set(places.flatMap((place) => routes.get(placeKey(place)) ?? [])),
    operations: new Set(
      places.flatMap((place) => {
        const own = nearest(place, operations);
        return own.length > 0 ? own : nearest(place, shared);
      }),
    ),
  }));
}

function placeKey({ file, pointer, line }: Place): string {
  return `${file}#${pointer}#${line ?? ''}`;
}

/** A place and those around it, the nearest first; the whole of a file is none of them. */
function* around({ file, pointer }: Place): Generator<string> {
  for (let at = pointer; at !== ''; at = at.slice(0, at.lastIndexOf('/'))) yield placeKey({ file, pointer: at });
}

/** The operations of the nearest place around one that has any. */
function nearest(place: Place, known: ReadonlyMap<string, readonly Operation[]>): readonly Operation[] {
  for (const key of around(place)) {
    const here = known.get(key) ?? [];
    if (here.length > 0) return here;
  }
  return [];
}

/** The operations that refer to what stands at, or around, some places. */
function usersOf(contracts: readonly Contract[], places: readonly Place[]): ReadonlyMap<string, readonly Operation[]> {
  const users = new Map<string, Operation[]>(places.flatMap((place) => [...around(place)].map((key) => [key, []])));
  if (users.size === 0) return users;
  for (const { operations } of contracts)
    for (const operation of operations)
      for (const key of new Set(partsOf(operation).map(placeKey))) users.get(key)?.push(operation);
  return users;
}

/** The places of all that makes up an operation, wherever they are. */
function partsOf(operation: Operation): readonly Place[] {
  const { place, parameters, body, responses, security, securityPlace, bases } = operation;
  const headers = responses.flatMap((r) => r.headers);
  const media = [...mediaOf(operation), ...parameters.flatMap((p) => p.content ?? [])];
  const schemas = [...parameters, ...headers, ...media].flatMap((part) => part.schema ?? []);
  const { file, pointer } = place;
  return [
    { file, pointer: pointer.slice(0, pointer.lastIndexOf('/')) },
    ...(bases === undefined ? [{ file, pointer: '/servers' }] : []),
    securityPlace,
    ...security.flat().map((need) => need.scheme.place),
    ...(body === undefined ? [] : [body.place]),
    ...[...parameters, ...responses, ...headers, ...media, ...reachable(schemas)].map((part) => part.place),
  ];
}
