/**
 * Resources, told by the languages of paths and not by names. A path with a parameter right behind it is a collection, and
 * that parameter's path is its item; a path that only takes POST behind an item or a collection is a task of it; the rest
 * are collections without items when they take POST or answer with a list, and singletons otherwise.
 */
import { toDisjuncts } from '../../schema/normalise/flatten.ts';
import type { Endpoint, Path } from '../pairing/endpoints.ts';
import { successTypes } from '../pairing/media-types.ts';

export type Kind = 'collection' | 'singleton';
export type Step = 'list' | 'create' | 'read' | 'replace' | 'modify' | 'delete';
export const STEPS: readonly Step[] = ['list', 'create', 'read', 'replace', 'modify', 'delete'];

export interface Member {
  readonly endpoint: Endpoint;
  /** Undefined for methods that are none of the usual steps. */
  readonly step: Step | undefined;
  readonly role: 'collection' | 'item' | 'task' | 'view';
}

export interface Resource {
  /** The path of the collection or the singleton. */
  readonly path: Path;
  readonly kind: Kind;
  /** The path of one of its items. */
  readonly item: Path | undefined;
  /** The resource that it is nested below. */
  readonly parent: string | undefined;
  readonly members: readonly Member[];
  /** Why it was grouped so, in words. */
  readonly why: string;
}

const COLLECTION_STEPS: Readonly<Record<string, Step>> = { GET: 'list', POST: 'create' };
const ITEM_STEPS: Readonly<Record<string, Step>> = { GET: 'read', PUT: 'replace', PATCH: 'modify', DELETE: 'delete' };

interface Place {
  readonly path: Path;
  readonly endpoints: Endpoint[];
}

/** Groups endpoints. O(endpoints). */
export function resourcesOf(endpoints: readonly Endpoint[]): readonly Resource[] {
  const places = new Map<string, Place>();
  for (const endpoint of endpoints) {
    const key = endpoint.path.keys.join('/');
    const place = places.get(key) ?? { path: endpoint.path, endpoints: [] };
    place.endpoints.push(endpoint);
    places.set(key, place);
  }
  const items = new Map<string, Place>();
  for (const place of places.values()) {
    if (place.path.parameter !== undefined) items.set(collectionKey(place.path, places), place);
  }
  const heads = collectionPaths(places, items);
  const index: Index = { places, items, below: new Map(), heads: new Map(heads.map((h) => [h.keys.join('/'), h])) };
  for (const place of places.values()) {
    const above = parentKey(place.path);
    index.below.set(above, [...(index.below.get(above) ?? []), place]);
  }
  return heads.map((head) => resourceOf(head, index));
}

interface Index {
  readonly places: ReadonlyMap<string, Place>;
  /** The places of items, by their collection. */
  readonly items: ReadonlyMap<string, Place>;
  /** The places right behind a path. */
  readonly below: Map<string, Place[]>;
  readonly heads: ReadonlyMap<string, Path>;
}

function parentKey({ keys }: Path): string {
  return keys.slice(0, -1).join('/');
}

/** The key of an item's collection: `/lock/{lockId}` is one of `/locks` where nothing else is. */
function collectionKey(path: Path, places: ReadonlyMap<string, Place>): string {
  const own = parentKey(path);
  if (places.has(own) || !/=[^/]{3,}$/u.test(own)) return own;
  const others = own.endsWith('s')
    ? [own.slice(0, -1), own.replace(/ies$/u, 'y'), own.replace(/es$/u, '')]
    : [`${own}s`, own.replace(/y$/u, 'ies'), `${own}es`];
  return others.find((key) => key !== own && places.has(key)) ?? own;
}

/** The paths that resources are named by: collections that nothing serves by themselves among them. */
function collectionPaths(places: ReadonlyMap<string, Place>, items: ReadonlyMap<string, Place>): readonly Path[] {
  const out = new Map<string, Path>();
  for (const { path, endpoints } of places.values()) {
    const key = path.keys.join('/');
    if (path.parameter === undefined) {
      if (!isAction(path, endpoints, places, items) && !isReadOnlySubpath(path, endpoints, places, items)) out.set(key, path);
    } else if (!places.has(collectionKey(path, places))) {
      const text = path.text.replace(/\/[^/]*$/u, '') || '/';
      out.set(parentKey(path), { keys: path.keys.slice(0, -1), text, parameter: undefined, tail: undefined });
    }
  }
  return [...out.values()];
}

/** Something is done with an item or a collection: it takes POST alone. */
function isAction(
  path: Path,
  endpoints: readonly Endpoint[],
  places: ReadonlyMap<string, Place>,
  items: ReadonlyMap<string, Place>,
): boolean {
  const behind = places.get(parentKey(path));
  return !items.has(path.keys.join('/')) && behind !== undefined && endpoints.every((e) => e.method === 'POST');
}

/** A word beside the items of a collection that is only read: `/locks/closed`. */
function isReadOnlySubpath(
  path: Path,
  endpoints: readonly Endpoint[],
  places: ReadonlyMap<string, Place>,
  items: ReadonlyMap<string, Place>,
): boolean {
  return (
    !items.has(path.keys.join('/')) &&
    items.has(parentKey(path)) &&
    places.has(parentKey(path)) &&
    endpoints.every((e) => e.method === 'GET')
  );
}

function resourceOf(path: Path, { places, items, below, heads }: Index): Resource {
  const key = path.keys.join('/');
  const own = places.get(key)?.endpoints ?? [];
  const item = items.get(key);
  const [kind, why] = kindOf(path, own, item);
  const steps = kind === 'collection' ? COLLECTION_STEPS : ITEM_STEPS;
  const members: Member[] = own.map((endpoint) => ({ endpoint, step: steps[endpoint.method], role: 'collection' }));
  // Where nothing else changes an item, a POST does.
  const changes = item?.endpoints.some((e) => e.method === 'PUT' || e.method === 'PATCH') === true;
  for (const endpoint of item?.endpoints ?? []) {
    const step = endpoint.method === 'POST' && !changes ? 'modify' : ITEM_STEPS[endpoint.method];
    members.push({ endpoint, step, role: 'item' });
  }
  const near = [...(below.get(key) ?? []), ...(item === undefined ? [] : (below.get(item.path.keys.join('/')) ?? []))];
  for (const place of near) {
    if (place.path.parameter !== undefined) continue;
    const { path: at, endpoints } = place;
    const role = isAction(at, endpoints, places, items)
      ? 'task'
      : isReadOnlySubpath(at, endpoints, places, items)
        ? 'view'
        : undefined;
    if (role !== undefined) for (const endpoint of endpoints) members.push({ endpoint, step: undefined, role });
  }
  return { path, kind, item: item?.path, parent: parentOf(path, heads), members, why };
}

/** The nearest resource whose path this one goes on from. */
function parentOf({ keys }: Path, heads: ReadonlyMap<string, Path>): string | undefined {
  for (let n = keys.length - 1; n > 0; n--) {
    const head = heads.get(keys.slice(0, n).join('/'));
    if (head !== undefined) return head.text;
  }
  return undefined;
}

function kindOf(path: Path, own: readonly Endpoint[], item: Place | undefined): readonly [Kind, string] {
  if (item !== undefined) return ['collection', `a parameter stands right behind it (${item.path.text})`];
  if (own.some((e) => e.method === 'POST')) return ['collection', 'it takes POST'];
  if (own.some((e) => e.method === 'GET' && answersList(e))) return ['collection', 'GET answers with a list'];
  return ['singleton', path.text === '/' ? 'it is the root' : 'no parameter stands behind it, and it takes no POST'];
}

/** Is the successful answer of an operation a list? */
export function answersList({ operation }: Endpoint): boolean {
  if (operation === undefined || successTypes(operation).length === 0) return false;
  const schemas = operation.responses
    .filter((r) => r.status.startsWith('2'))
    .flatMap((r) => r.content.flatMap((m) => m.schema ?? []));
  return schemas.some((s) => toDisjuncts(s, 4).some((k) => k.types?.includes('array') === true));
}

/** Is everything that is served or documented of it only read? */
export function isReadOnly({ members }: Resource): boolean {
  return members.every((m) => m.endpoint.method === 'GET' || m.role === 'task');
}
