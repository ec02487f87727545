/** Operations by versions of one API: what is the same, changed, dropped and new, and what a request gets that names none. */

import { KeyedMemo } from '../base/memo.ts';
import { percentEncoded } from '../base/percent.ts';
import type { Contract, Operation } from '../contract/model/contract.ts';
import type { Endpoint } from '../contract/pairing/endpoints.ts';
import { fullPath } from '../contract/pairing/full-path.ts';
import { type Version, type Versioned, type Versions, versionSegment } from '../contract/resources/api-versions.ts';
import { isSubset } from '../language/language.ts';
import { compiler, PLAIN_READING } from '../paths/compile.ts';
import type { Shape } from '../paths/pattern.ts';
import { filledShape } from '../routes/examples/fill-path.ts';
import { follow } from '../routes/follow/follow.ts';
import type { RoutingOutcome } from '../routes/follow/outcome.ts';
import type { Router } from '../routes/index/router.ts';
import type { Request } from '../routes/request/request.ts';
import { namedSelector } from '../routes/request/requested-version.ts';
import { newTelling } from './changes/cause-log.ts';
import type { Affected, Change, Effect } from './changes/change.ts';
import { compareContracts } from './compare-contracts.ts';
import { operationChanges } from './operation/operation-changes.ts';
import { type ComparisonSession, newSession } from './relation/session.ts';

export const CELL_STATUSES = ['new', 'same', 'changed', 'breaking', 'dropped', 'none'] as const;
export type CellStatus = (typeof CELL_STATUSES)[number];

export interface Cell {
  readonly standing: CellStatus;
  readonly endpoint: Endpoint | undefined;
  /** By the operation, its route or its version. */
  readonly deprecated: boolean;
  readonly sunset: string | undefined;
}

export interface GridRow {
  readonly method: string;
  /** Without a version. */
  readonly path: string;
  /** One cell for each version. */
  readonly cells: readonly Cell[];
  /** What happens to a request that names no version, and to one that names a version that nobody knows. */
  readonly silent: RoutingOutcome | undefined;
  readonly unknown: RoutingOutcome | undefined;
}

export interface GridOptions {
  readonly openEnumerations?: string | undefined;
  /** Those of the operations: what an operation by itself leaves undecided may be proved by what it shares with others. */
  readonly contracts: readonly Contract[];
}

/** How two operations are compared. */
interface Comparing {
  readonly session: ComparisonSession;
  /** The effects on one of the changes between two whole contracts. */
  readonly effectsOn: (was: Operation, is: Operation) => readonly Effect[];
}

/** Every operation that belongs to a version, in declared order; each is compared with the version before as `compareContracts` does. */
export function versionGrid(
  all: readonly Versioned[],
  versions: Versions,
  router: Router | undefined,
  options: GridOptions,
): readonly GridRow[] {
  const rows = new Map<string, Versioned[]>();
  for (const v of all) rows.set(v.key, [...(rows.get(v.key) ?? []), v]);
  const comparing = { session: newSession(options.openEnumerations), effectsOn: effectsIn(options, versions) };
  // What nothing here is for drops nothing.
  const served = new Set(all.flatMap((v) => (v.by === 'none' ? [] : v.ids)));
  return [...rows.values()].map((members): GridRow => {
    const [first] = members as [Versioned];
    return {
      method: first.endpoint.method,
      path: first.text,
      cells: cellsOf(members, versions, comparing, served),
      silent: router === undefined ? undefined : follow(router, requestFor(first, versions, undefined)),
      unknown: router === undefined ? undefined : follow(router, requestFor(first, versions, unknownId(versions))),
    };
  });
}

function cellsOf(
  members: readonly Versioned[],
  { all }: Versions,
  comparing: Comparing,
  served: ReadonlySet<string>,
): readonly Cell[] {
  const cells: Cell[] = [];
  let before: Endpoint | undefined;
  for (const [i, version] of all.entries()) {
    const member = members.find((m) => m.ids.includes(version.id));
    const endpoint = member?.endpoint;
    const standing = endpoint === undefined && !served.has(version.id) ? 'none' : standingOf(endpoint, before, i, comparing);
    cells.push({ standing, endpoint, ...retirement(endpoint, member?.by === 'none' ? undefined : version) });
    if (served.has(version.id)) before = endpoint;
  }
  return cells;
}

function standingOf(
  endpoint: Endpoint | undefined,
  before: Endpoint | undefined,
  at: number,
  { session, effectsOn }: Comparing,
): CellStatus {
  if (endpoint === undefined) return before === undefined ? 'none' : 'dropped';
  // The first version has nothing before it.
  if (at === 0 || endpoint === before) return 'same';
  if (before === undefined) return 'new';
  const [was, is] = [before.operation, endpoint.operation];
  const alone =
    was === undefined || is === undefined ? [] : operationChanges({ ...session, ...newTelling() }, was, is).map((c) => c.effect);
  const isOpen = alone.includes('undecided') && !alone.includes('breaking');
  const changes = isOpen && was !== undefined && is !== undefined ? [...alone, ...effectsOn(was, is)] : alone;
  if (changes.includes('breaking') || narrowsRoute(before, endpoint)) return 'breaking';
  return changes.length > 0 || !sameRoute(before, endpoint) ? 'changed' : 'same';
}

/** Compares whole contracts, each pair once and only where it is asked for. */
function effectsIn({ openEnumerations, contracts }: GridOptions, { all }: Versions): Comparing['effectsOn'] {
  const owners = new Map(contracts.flatMap((c) => c.operations.map((o) => [o, c] as const)));
  const made = new KeyedMemo<Contract, Contract, readonly Change[]>();
  const ids = all.map((v) => v.id);
  return (was, is) => {
    const [old, now] = [owners.get(was), owners.get(is)];
    if (old === undefined || now === undefined) return [];
    const changes = made.remember(old, now, () => compareContracts(old, now, { versions: ids, openEnumerations }).changes);
    const names = new Set(
      [old, now].flatMap(({ bases }, i) => {
        const o = i === 0 ? was : is;
        return [o.path, fullPath((o.bases ?? bases)[0] ?? '', o.path)].map((path) => `${o.method} ${path}`);
      }),
    );
    const isTouched = ({ method, path }: Affected): boolean => names.has(`${method} ${path}`);
    return changes.filter((c) => c.touches.flat().some(isTouched)).map((c) => c.effect);
  };
}

function retirement(
  { operation, route }: Partial<Endpoint> = {},
  version: Version | undefined,
): Pick<Cell, 'deprecated' | 'sunset'> {
  const said = [route?.deprecated, version?.deprecated].some((d) => d !== undefined && d !== false);
  return { deprecated: said || operation?.deprecated === true, sunset: route?.sunset ?? operation?.sunset ?? version?.sunset };
}

const plain = compiler(PLAIN_READING);

/** Does the route of the later version refuse a path or a media type that the earlier took? Seen where no document says more. */
function narrowsRoute(a: Endpoint, b: Endpoint): boolean {
  if (a.route === undefined || b.route === undefined) return false;
  const [x, y] = [segments(a.shape), segments(b.shape)];
  const values = x.length === y.length && x.some((l, i) => !l.literal && !isSubset(l.language, (y[i] as typeof l).language));
  const lost = (key: 'takes' | 'returns'): boolean => {
    const [was, is] = [a.route?.conditions[key], b.route?.conditions[key]];
    return is !== undefined && (was ?? []).some((type) => !is.includes(type));
  };
  return values || lost('takes') || lost('returns');
}

function sameRoute(a: Endpoint, b: Endpoint): boolean {
  if (a.route === undefined || b.route === undefined) return (a.route === undefined) === (b.route === undefined);
  const told = ({ route }: Endpoint): string => JSON.stringify([route?.conditions.takes, route?.conditions.returns]);
  return told(a) === told(b) && !narrowsRoute(b, a);
}

/** The languages of the segments that hold parameters, from the end: prefixes differ between versions. */
function segments(shape: Shape): readonly { readonly literal: boolean; readonly language: ReturnType<typeof plain.segment> }[] {
  return shape
    .flatMap((piece) => (piece.kind === 'segment' ? [{ literal: piece.text !== undefined, language: plain.segment(piece) }] : []))
    .filter((s) => !s.literal);
}

/** An id that no version has. */
function unknownId({ all }: Versions): string {
  const highest = Math.max(0, ...all.map((v) => Number.parseInt(v.id, 10)).filter((n) => Number.isFinite(n)));
  return all.every((v) => /^\d{4}-/u.test(v.id)) ? '2099-01-01' : String(highest + 97);
}

/** A request for an operation that names this version where versions are named, or none. */
export function requestFor({ endpoint, by }: Versioned, versions: Versions, id: string | undefined): Request {
  const ids = versions.all.map((v) => v.id);
  const target = filledShape(endpoint.shape);
  const segment = versionSegment(endpoint, ids);
  const parts = target.split('/').slice(1);
  if (segment !== undefined) {
    if (id === undefined) parts.splice(segment.at, 1);
    else parts[segment.at] = `${/^v/iu.test(parts[segment.at] ?? '') ? 'v' : ''}${id}`;
  }
  const { versioning } = versions;
  const path = `/${parts.join('/')}`;
  const base: Request = { method: endpoint.method, target: path, headers: {} };
  if (id === undefined || versioning === undefined || by === 'path' || by === 'parameter') return base;
  const named = namedSelector(versioning);
  switch (named.selector) {
    case 'header':
      return { ...base, headers: { [named.name]: id } };
    case 'query':
      return { ...base, target: `${path}?${named.name}=${percentEncoded(id)}` };
    case 'media-type':
      return { ...base, headers: { Accept: `application/json;${named.name}=${id}` } };
    case 'path':
      return { ...base, target: `/v${id}${path}` };
    default:
      return named.selector satisfies never;
  }
}
