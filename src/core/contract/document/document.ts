/** What every part of the reader shares: where it is, how references are followed, and where flaws are noted. */
import { isMapping, kindOf, type Mapping, member } from '../../base/json.ts';
import { suggest } from '../../base/nearest-word.ts';
import { appendPointer, escapePointerToken, type Place, pointerKeys } from '../../base/place.ts';
import type { Schema, SchemaPair } from '../../schema/model/schema.ts';
import type { DocumentFlaw } from '../model/contract.ts';

/** The value of another file, named as a reference names it relative to `from`; a sentence when it can't be had. */
export type LoadFile = (reference: string, from: string) => { readonly file: string; readonly value: unknown } | string;

export type Dialect = '2.0' | '3.0' | '3.1';

export interface Reader {
  /** How this document is written: 3.2 is read as 3.1 is. */
  readonly dialect: Dialect;
  readonly root: { readonly file: string; readonly value: Mapping };
  readonly load: LoadFile;
  readonly flaws: DocumentFlaw[];
  readonly noted: Set<string>;
  /** The schema nodes made so far, by what is written there, or by place, so that a cycle of references is a cycle of nodes. */
  readonly nodes: Map<object | string, Schema>;
  /** The values of files, by name. */
  readonly files: Map<string, unknown>;
  /** What references lead to, by the file that they stand in. */
  readonly followed: Map<string, Map<string, At>>;
  /** What the same references lead to in this document and in another, by the files that they stand in. */
  readonly paired: WeakMap<Reader, Map<string, Map<string, Map<string, SchemaPair>>>>;
  /** What `$id` and `$anchor` name, by file. */
  readonly anchors: Map<string, ReadonlyMap<string, { readonly pointer: string; readonly value: unknown }>>;
}

/** A value and where it stands. */
export interface At<T = unknown> {
  readonly value: T;
  readonly file: string;
  readonly pointer: string;
}

export function newReader(value: Mapping, file: string, dialect: Dialect, load: LoadFile): Reader {
  const files = new Map<string, unknown>([[file, value]]);
  const maps = { nodes: new Map(), followed: new Map(), anchors: new Map(), paired: new WeakMap() };
  return { dialect, root: { file, value }, load, flaws: [], noted: new Set(), files, ...maps };
}

export function child<T>(at: At<T>, key: string | number): At {
  const { value } = at as At<unknown>;
  const item = typeof value === 'object' && value !== null && Object.hasOwn(value, key) ? (value as Mapping)[key] : undefined;
  return { value: item, file: at.file, pointer: `${at.pointer}/${typeof key === 'string' ? escapePointerToken(key) : key}` };
}

export function placeOf({ file, pointer }: Pick<At, 'file' | 'pointer'>): Place {
  return { file, pointer };
}

export function addFlaw(
  reader: Reader,
  at: Pick<At, 'file' | 'pointer'>,
  message: string,
  kind: DocumentFlaw['kind'] = 'malformed',
): undefined {
  const key = `${at.file}#${at.pointer} ${message}`;
  // Shared parts are read from every place that refers to them, and are wrong once.
  if (!reader.noted.has(key)) reader.flaws.push({ kind, message, place: placeOf(at) });
  reader.noted.add(key);
  return undefined;
}

/** The mapping at a place; a flaw where something else stands there, nothing where nothing does. */
export function mappingAt(reader: Reader, at: At, what: string): At<Mapping> | undefined {
  if (at.value === undefined || at.value === null) return undefined;
  if (isMapping(at.value)) return at as At<Mapping>;
  return addFlaw(reader, at, `expected ${what}, found ${kindOf(at.value)}`);
}

/** The items of a list, each with its place; a flaw where something else stands there. */
export function listAt(reader: Reader, at: At, what: string): readonly At[] {
  if (at.value === undefined || at.value === null) return [];
  if (Array.isArray(at.value)) return at.value.map((_, i) => child(at, i));
  addFlaw(reader, at, `expected ${what}, found ${kindOf(at.value)}`);
  return [];
}

/** The members of a mapping that may carry extensions beside them, which are left out. */
export function extensibleAt(reader: Reader, at: At, what: string): readonly (readonly [string, At])[] {
  return membersAt(reader, at, what, (key) => !key.startsWith('x-'));
}

/** The members of a mapping, all of whose keys are names. */
export function membersAt(
  reader: Reader,
  at: At,
  what: string,
  counts?: (key: string) => boolean,
): readonly (readonly [string, At])[] {
  const mapping = mappingAt(reader, at, what);
  const out: (readonly [string, At])[] = [];
  if (mapping === undefined) return out;
  for (const key of Object.keys(mapping.value)) if (counts?.(key) !== false) out.push([key, child(mapping, key)]);
  return out;
}

/** Follows references, to one another too, until a mapping is found. Anything that leads nowhere is a flaw. */
export function resolveReference(reader: Reader, at: At, what: string): At<Mapping> | undefined {
  // Most are no references.
  if (isMapping(at.value) && typeof at.value.$ref !== 'string') return at as At<Mapping>;
  let current = at;
  const seen = new Set<string>();
  while (isMapping(current.value) && typeof current.value.$ref === 'string') {
    const key = `${current.file}#${current.pointer}`;
    if (seen.has(key)) return addFlaw(reader, at, `the reference ${current.value.$ref} leads back to itself`, 'reference');
    seen.add(key);
    const next = lookup(reader, current.value.$ref, current);
    if (next === undefined) return undefined;
    current = next;
  }
  if (isMapping(current.value)) return current as At<Mapping>;
  // What a whole file holds that is none of ours is nobody's business.
  const found = current.pointer === '' && typeof current.value === 'string' ? 'text' : kindOf(current.value);
  return addFlaw(reader, current, `expected ${what}, found ${found}`);
}

/** What one reference leads to. */
export function lookup(reader: Reader, reference: string, from: At): At | undefined {
  const known = reader.followed.get(from.file)?.get(reference);
  if (known !== undefined) return known;
  const hash = reference.indexOf('#');
  const document = hash < 0 ? reference : reference.slice(0, hash);
  const fragment = hash < 0 ? '' : decoded(reference.slice(hash + 1));
  const file = document === '' ? from.file : fileOf(reader, document, from);
  if (file === undefined) return undefined;
  const value = reader.files.get(file);
  const found = fragment === '' || fragment.startsWith('/') ? atPointer(value, fragment) : atAnchor(reader, file, fragment);
  if (found !== undefined) {
    const at = { value: found.value, file, pointer: found.pointer };
    const row = reader.followed.get(from.file) ?? new Map<string, At>();
    reader.followed.set(from.file, row.set(reference, at));
    return at;
  }
  const near = fragment.startsWith('/') ? nearest(value, fragment) : undefined;
  const hint = near === undefined ? 'check its spelling' : `did you mean ${document}#${near}?`;
  return addFlaw(reader, from, `the reference ${reference} leads nowhere; ${hint}`, 'reference');
}

function decoded(text: string): string {
  if (!text.includes('%')) return text;
  try {
    return decodeURIComponent(text);
  } catch {
    return text;
  }
}

function fileOf(reader: Reader, document: string, from: At): string | undefined {
  const named = namedById(reader, document, from.file);
  if (named !== undefined) return named;
  if (/^[a-z][a-z0-9+.-]*:|^\/\//iu.test(document) && !document.startsWith('file:'))
    return addFlaw(
      reader,
      from,
      `the reference ${document} leads to another machine, which is not asked; the rest of the document is read`,
      'remote',
    );
  const loaded = reader.load(decoded(document), from.file);
  if (typeof loaded === 'string')
    return addFlaw(reader, from, `the reference ${document} can't be followed: ${loaded}`, 'reference');
  if (!reader.files.has(loaded.file)) reader.files.set(loaded.file, loaded.value);
  return loaded.file;
}

/** A document that calls itself by this name with `$id` or `$self`. */
function namedById(reader: Reader, document: string, current: string): string | undefined {
  for (const [file, value] of reader.files) {
    if (!isMapping(value)) continue;
    const name = value.$self ?? value.$id ?? value.id;
    if (typeof name === 'string' && name.replace(/#$/u, '') === document) return file;
  }
  for (const file of reader.files.keys()) {
    const found = anchorsOf(reader, file).get(`id:${document}`);
    if (found === undefined) continue;
    const name = `${file}#${found.pointer}`;
    reader.files.set(name, found.value);
    return name;
  }
  return current === document ? current : undefined;
}

const SCHEMAS = '/components/schemas/';

function atPointer(root: unknown, pointer: string): { value: unknown; pointer: string } | undefined {
  // Most lead to the same place, of which only the last step is another.
  if (pointer.startsWith(SCHEMAS) && isMapping(root) && isMapping(root.components) && isMapping(root.components.schemas)) {
    const name = pointer.slice(SCHEMAS.length);
    const found = member(root.components.schemas, name);
    if (found !== undefined && !/[~/]/u.test(name)) return { value: found, pointer };
  }
  let value = root;
  for (const key of pointerKeys(pointer)) {
    if (typeof value !== 'object' || value === null || !Object.hasOwn(value, key)) return undefined;
    value = (value as Mapping)[key];
  }
  return value === undefined ? undefined : { value, pointer };
}

/** The pointer with its first wrong step mended, if a name near it exists. */
function nearest(root: unknown, pointer: string): string | undefined {
  let value = root;
  const keys = pointerKeys(pointer);
  for (const [i, key] of keys.entries()) {
    if (!isMapping(value)) return undefined;
    if (!Object.hasOwn(value, key)) {
      const near = suggest(key, Object.keys(value));
      return near === undefined ? undefined : appendPointer('', ...keys.slice(0, i), near, ...keys.slice(i + 1));
    }
    value = value[key];
  }
  return undefined;
}

function atAnchor(reader: Reader, file: string, name: string): { value: unknown; pointer: string } | undefined {
  return anchorsOf(reader, file).get(name);
}

/** The `$anchor` and `$id` of a file, found in one walk over it. */
function anchorsOf(reader: Reader, file: string): ReadonlyMap<string, { pointer: string; value: unknown }> {
  const known = reader.anchors.get(file);
  if (known !== undefined) return known;
  const found = new Map<string, { pointer: string; value: unknown }>();
  const seen = new Set<object>();
  const walk = (value: unknown, pointer: string): void => {
    if (typeof value !== 'object' || value === null || seen.has(value)) return;
    seen.add(value);
    const { $anchor, $dynamicAnchor, $id } = value as Mapping;
    for (const name of [$anchor, $dynamicAnchor])
      if (typeof name === 'string' && !found.has(name)) found.set(name, { pointer, value });
    if (typeof $id === 'string') found.set(`id:${$id}`, { pointer, value });
    for (const key of Object.keys(value)) walk((value as Mapping)[key], appendPointer(pointer, key));
  };
  walk(reader.files.get(file), '');
  reader.anchors.set(file, found);
  return found;
}

/** What references lead to in two files, by how they are written. */
export function referencePairs(a: Reader, file: string, b: Reader, other: string): Map<string, SchemaPair> {
  const files = rowOf(a.paired, b, () => new Map<string, Map<string, Map<string, SchemaPair>>>());
  const others = rowOf(files, file, () => new Map<string, Map<string, SchemaPair>>());
  return rowOf(others, other, () => new Map<string, SchemaPair>());
}

function rowOf<K, V>(map: { get(key: K): V | undefined; set(key: K, value: V): unknown }, key: K, make: () => V): V {
  const known = map.get(key);
  if (known !== undefined) return known;
  const made = make();
  map.set(key, made);
  return made;
}
