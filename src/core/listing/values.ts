/** Routes in JSON values, wherever the list stands, and in rows of CSV. */
import { isMapping, type Mapping } from '../base/json.ts';
import { appendPointer } from '../base/place.ts';
import { kindOfHeading } from './header.ts';
import { methodsIn, whyNoRoute } from './methods.ts';
import type { ColumnKind, SkippedRow, SourceReading, SourceRow } from './row.ts';

/** Finds routes in a value: objects with a path, mappings from paths to methods, lists of either, nested anywhere. O(size). */
export function valueReading(value: unknown, line = 1): SourceReading {
  const placeOf = (at: readonly (string | number)[]): Pick<SourceRow, 'line' | 'pointer'> => ({
    line,
    pointer: appendPointer('', ...at),
  });
  const rows: SourceRow[] = [];
  const skipped: SkippedRow[] = [];
  const walk = (v: unknown, at: readonly (string | number)[], above: Above): void => {
    if (at.length > MOST_DEPTH) return;
    if (Array.isArray(v)) {
      const pair = textsOf(v);
      if (pair !== undefined) rows.push({ ...pair, ...placeOf(at) });
      else
        v.forEach((item, i) => {
          walk(item, [...at, i], above);
        });
      return;
    }
    if (!isMapping(v)) return;
    const patterns = pathsOf(v);
    const reads =
      patterns === undefined ? [rowOf(v, above, placeOf(at))] : patterns.map((path) => rowOf({ ...v, path }, above, placeOf(at)));
    const [read] = reads;
    for (const one of reads) {
      if (one !== undefined && 'why' in one) skipped.push(one);
      else if (one !== undefined) rows.push(one);
    }
    if (patterns !== undefined && read !== undefined) return;
    const handler = handlerOf(v);
    const here: Above = read === undefined || 'why' in read ? (handler === undefined ? above : { ...above, handler }) : {};
    for (const [key, inner] of Object.entries(v)) {
      const row = keyedRow(key, inner, here);
      if (row !== undefined) rows.push({ ...placeOf([...at, key]), ...row });
      else walk(inner, [...at, key], belowKey(key, here));
    }
  };
  walk(value, [], {});
  return { rows, skipped, look: 'JSON' };
}

/** The route that a key stands for: `GET /path`, a method of a path above it, or a path with its handler. */
function keyedRow(key: string, inner: unknown, here: Above): Pick<SourceRow, 'methods' | 'path' | 'handler'> | undefined {
  const keyed = /^([A-Za-z]+)\s+(\/\S*)$/u.exec(key);
  const methods = methodsIn(keyed?.[1] ?? key);
  if (keyed !== null && methods !== undefined) return { methods, path: keyed[2] as string, handler: handlerOf(inner) };
  if (methods !== undefined && here.path !== undefined && !Array.isArray(inner))
    return { methods, path: here.path, handler: handlerOf(inner) };
  if (key.startsWith('/') && typeof inner === 'string') return { methods: undefined, path: key, handler: inner };
  return undefined;
}

function belowKey(key: string, here: Above): Above {
  if (key.startsWith('/')) return { ...here, path: key };
  const methods = methodsIn(/^([A-Za-z]+)\s+(\/\S*)$/u.exec(key)?.[1] ?? key);
  return methods === undefined ? here : { ...here, methods };
}

const MOST_DEPTH = 40;

/** What keys above an object say of it. */
interface Above {
  readonly path?: string;
  readonly methods?: readonly string[];
  readonly handler?: string;
}

/** Several paths in one object: `{ "methods": ["GET"], "patterns": ["/locks", "/lock"] }`. */
function pathsOf(v: Mapping): readonly string[] | undefined {
  for (const [key, value] of Object.entries(v)) {
    const isList = Array.isArray(value) && value.length > 0 && value.every((t) => typeof t === 'string' && t.startsWith('/'));
    if (isList && kindOfHeading(key.replace(/s$/u, '')) === 'path') return value as readonly string[];
  }
  return undefined;
}

function rowOf(v: Mapping, above: Above, place: Pick<SourceRow, 'line' | 'pointer'>): SourceRow | SkippedRow | undefined {
  const by = fieldsOf(v);
  const path = by.get('path') ?? above.path;
  if (typeof path !== 'string' || (by.get('path') === undefined && !by.has('method'))) return undefined;
  if (!/^[/^]|^$|[{:<]|\//u.test(path) || /^[a-z]+:\/\//iu.test(path)) return undefined;
  const said = by.get('method');
  const methods = said === undefined ? above.methods : methodsOf(said);
  if (said !== undefined && said !== null && methods === undefined)
    return {
      line: place.line,
      text: JSON.stringify(v).slice(0, 200),
      why: `its methods are ${JSON.stringify(said).slice(0, 60)}`,
    };
  const text = (kind: ColumnKind): string | undefined => {
    const value = by.get(kind);
    return typeof value === 'string' && value !== '' ? value : undefined;
  };
  // Nothing but a path is an address that somebody wrote down, not a route.
  if (methods === undefined && (text('handler') ?? above.handler ?? text('name')) === undefined) return undefined;
  return { ...place, methods, path, handler: text('handler') ?? above.handler, name: text('name'), host: text('host') };
}

/** The values of an object by what their keys say they are; the first of each kind counts. */
function fieldsOf(v: Mapping): ReadonlyMap<ColumnKind, unknown> {
  const out = new Map<ColumnKind, unknown>();
  for (const [key, value] of Object.entries(v)) {
    const kind = kindOfHeading(key);
    const isTaken = kind === undefined || kind === 'ignore' || (out.has(kind) && typeof out.get(kind) === 'string');
    if (isTaken || (kind !== 'method' && typeof value !== 'string')) continue;
    out.set(kind, value);
  }
  return out;
}

function methodsOf(said: unknown): readonly string[] | undefined {
  if (typeof said === 'string') return methodsIn(said);
  if (Array.isArray(said) && said.every((m) => typeof m === 'string'))
    return said.length === 0 ? undefined : methodsIn(said.join('|'));
  // `{ "get": true, "post": false }`
  if (isMapping(said)) {
    const on = Object.entries(said)
      .filter(([, v]) => v !== false && v !== null)
      .map(([k]) => k);
    return on.length === 0 ? undefined : methodsIn(on.join('|'));
  }
  return undefined;
}

/** `["GET", "/locks", "locks.list"]` */
function textsOf(list: readonly unknown[]): Omit<SourceRow, 'line'> | undefined {
  if (list.length < 2 || list.length > 6 || !list.every((t) => typeof t === 'string')) return undefined;
  const texts = list as readonly string[];
  const method = texts.findIndex((t) => methodsIn(t) !== undefined);
  const path = texts.findIndex((t, i) => i !== method && t.startsWith('/'));
  if (method < 0 || path < 0) return undefined;
  return {
    methods: methodsIn(texts[method] as string),
    path: texts[path] as string,
    handler: texts.find((_, i) => i !== method && i !== path),
  };
}

function handlerOf(value: unknown): string | undefined {
  if (typeof value === 'string') return value;
  if (!isMapping(value)) return undefined;
  const handler = fieldsOf(value).get('handler') ?? fieldsOf(value).get('name');
  return typeof handler === 'string' ? handler : undefined;
}

/** Rows of cells, of CSV or TSV, a header line first; `columns` say what the cells are where there is none. O(size). */
export function cellsReading(
  rows: readonly (readonly string[])[],
  kinds: readonly (ColumnKind | undefined)[],
  firstLine: number,
): SourceReading {
  const found: SourceRow[] = [];
  const skipped: SkippedRow[] = [];
  rows.forEach((cells, i) => {
    const line = firstLine + i;
    const of = (kind: ColumnKind): string | undefined => {
      const text = cells[kinds.indexOf(kind)]?.trim();
      return text === undefined || text === '' ? undefined : text;
    };
    const [path, said] = [of('path'), of('method')];
    if (cells.every((c) => c.trim() === '')) return;
    const methods = said === undefined ? undefined : methodsIn(said);
    const why = whyNoRoute(path, said);
    if (why !== undefined) skipped.push({ line, text: cells.join(', '), why });
    else found.push({ line, methods, path: path as string, handler: of('handler'), name: of('name'), host: of('host') });
  });
  return { rows: found, skipped, look: 'CSV', columns: kinds.map((k) => k ?? 'ignore') };
}
