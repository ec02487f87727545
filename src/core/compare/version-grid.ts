/** Operations by versions of one API: what is the same, changed, dropped and new, and what a request gets that names none. */

import { percentEncoded } from '../base/percent.ts';
import type { Endpoint } from '../contract/pairing/endpoints.ts';
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

/** Every operation that belongs to a version, in declared order; each is compared with the version before as `compareContracts` does. */
export function versionGrid(
  all: readonly Versioned[],
  versions: Versions,
  router: Router | undefined,
  openEnumerations?: string,
): readonly GridRow[] {
  const rows = new Map<string, Versioned[]>();
  for (const v of all) rows.set(v.key, [...(rows.get(v.key) ?? []), v]);
  const memory = newSession(openEnumerations);
  // What nothing here is for drops nothing.
  const served = new Set(all.flatMap((v) => (v.by === 'none' ? [] : v.ids)));
  return [...rows.values()].map((members): GridRow => {
    const [first] = members as [Versioned];
    return {
      method: first.endpoint.method,
      path: first.text,
      cells: cellsOf(members, versions, memory, served),
      silent: router === undefined ? undefined : follow(router, requestFor(first, versions, undefined)),
      unknown: router === undefined ? undefined : follow(router, requestFor(first, versions, unknownId(versions))),
    };
  });
}

function cellsOf(
  members: readonly Versioned[],
  { all }: Versions,
  memory: ComparisonSession,
  served: ReadonlySet<string>,
): readonly Cell[] {
  const cells: Cell[] = [];
  let before: Endpoint | undefined;
  for (const [i, version] of all.entries()) {
    const member = members.find((m) => m.ids.includes(version.id));
    const endpoint = member?.endpoint;
    const standing = endpoint === undefined && !served.has(version.id) ? 'none' : standingOf(endpoint, before, i, memory);
    cells.push({ standing, endpoint, ...retirement(endpoint, member?.by === 'none' ? undefined : version) });
    if (served.has(version.id)) before = endpoint;
  }
  return cells;
}

function standingOf(
  endpoint: Endpoint | undefined,
  before: Endpoint | undefined,
  at: number,
  memory: ComparisonSession,
): CellStatus {
  if (endpoint === undefined) return before === undefined ? 'none' : 'dropped';
  // The first version has nothing before it.
  if (at === 0 || endpoint === before) return 'same';
  if (before === undefined) return 'new';
  const [was, is] = [before.operation, endpoint.operation];
  const changes =
    was === undefined || is === undefined ? [] : operationChanges({ ...memory, ...newTelling() }, was, is).map((c) => c.effect);
  if (changes.includes('breaking') || narrowsRoute(before, endpoint)) return 'breaking';
  return changes.length > 0 || !sameRoute(before, endpoint) ? 'changed' : 'same';
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
