/** Types as other routers write them into a pattern, in the words of ours. */
import type { Style } from '../paths/pattern.ts';

/** A pattern in our words, and what was assumed on the way. */
export interface Mapped {
  readonly path: string;
  /** One sentence for each assumption. */
  readonly notes: readonly string[];
}

/** Names of types that routers share, and what they mean here; `text` says nothing. */
const KNOWN: ReadonlyMap<string, string> = new Map([
  ...['int', 'integer', 'long', 'num', 'i32', 'i64'].map((name) => [name, 'int'] as const),
  ...['uint', 'u32', 'u64', 'usize'].map((name) => [name, 'uint'] as const),
  ...['number', 'float', 'double', 'decimal', 'f64'].map((name) => [name, 'number'] as const),
  ...['bool', 'boolean'].map((name) => [name, 'bool'] as const),
  ...['uuid', 'guid'].map((name) => [name, 'uuid'] as const),
  ...['str', 'string', 'default', 'required', 'text'].map((name) => [name, 'text'] as const),
  ...['alpha', 'date', 'datetime', 'slug'].map((name) => [name, name] as const),
]);
/** Our styles read these themselves: they are tails. */
const TAILS = new Set(['path', 'any']);

/**
 * A path of a style as our parsers read it: `{id<\d+>}`, `{page<\d+>?1}` and `:id{[0-9]+}` are types, `{port:slug}` is the name of a
 * key where no type is called so, a path without a slash gets one. `ignoreTypes` takes every type off. O(length).
 */
export function mappedPath(path: string, style: Style, known: ReadonlySet<string>, ignoreTypes = false): Mapped {
  const notes: string[] = [];
  const rooted = path.startsWith('/') || style === 'regex' ? path : `/${path}`;
  const unknown = (parameter: string, name: string, type: string): void => {
    notes.push(
      `${parameter} is the parameter ${name} without a type: "${type}" is no type here (declare it under types:, if it is one)`,
    );
  };
  const map = { brace: braces, angle: angles, colon: colons }[style as string];
  return { path: map === undefined ? rooted : map(rooted, { known, ignoreTypes, unknown }), notes };
}

interface Mapping {
  readonly known: ReadonlySet<string>;
  readonly ignoreTypes: boolean;
  /** Notes a type that is none here. */
  readonly unknown: (parameter: string, name: string, type: string) => void;
}

/** `{id:int:min(1)?}`: the first type that is known counts. */
function braces(path: string, { known, ignoreTypes, unknown }: Mapping): string {
  return path.replace(/\{([^{}]*(?:\{[^{}]*\}[^{}]*)*)\}/gu, (whole, inner: string) => {
    const [, name = '', expression, mark = ''] = /^([!*]?\w+)<(.*)>(\?.*)?$/u.exec(inner) ?? [];
    const optional = mark === '' ? '' : '?';
    if (expression !== undefined) return `{${name}${ignoreTypes ? '' : `:${expression}`}${optional}}`;
    const [, key = '', said = '', end = ''] = /^(\w+):((?:[A-Za-z_]\w*(?:\([^()]*\))?:?)+)(\?|=.*)?$/u.exec(inner) ?? [];
    if (said === '') return whole;
    const bare = `{${key}${end === '' ? '' : '?'}}`;
    if (ignoreTypes) return bare;
    const types = said.split(':').map((type) => ({ type, word: /^\w+/u.exec(type)?.[0] ?? '' }));
    if (types.length === 1 && !end.startsWith('=') && (TAILS.has(said) || known.has(types[0]?.word ?? ''))) return whole;
    const found = types.flatMap(({ word }) => (known.has(word) ? word : (KNOWN.get(word.toLowerCase()) ?? [])))[0];
    if (found === undefined) unknown(whole, key, said);
    return found === undefined || found === 'text' ? bare : `{${key}:${found}${end === '' ? '' : '?'}}`;
  });
}

/** The types that the angle style has besides those of a table. */
const OF_ANGLES = new Set(['string', 'str', 'float', 'default', 'path', 'any']);

function angles(path: string, { known, ignoreTypes, unknown }: Mapping): string {
  return path.replace(
    /<([A-Za-z_]\w*)(\([^<>]*\))?:([A-Za-z_]\w*)>/gu,
    (whole, type: string, _: string | undefined, name: string) => {
      if (type === 'path') return whole;
      if (ignoreTypes) return `<${name}>`;
      if (known.has(type) || OF_ANGLES.has(type)) return whole;
      const ours = KNOWN.get(type.toLowerCase());
      if (ours === undefined) unknown(whole, name, type);
      return ours === undefined || ours === 'text' ? `<${name}>` : `<${ours}:${name}>`;
    },
  );
}

/** `:id{[0-9]+}` and `:id<int>`: some routers write the expression, or a type, behind the name. */
function colons(path: string, { ignoreTypes, unknown }: Mapping): string {
  return path.replace(
    /:(\w+)(?:\{([^{}/]*(?:\{[^{}]*\}[^{}/]*)*)\}|<([^<>]*)>)/gu,
    (whole, name: string, expression?: string, type?: string) => {
      if (expression !== undefined) return ignoreTypes ? `:${name}` : `:${name}(${expression})`;
      const ours = { int: '-?\\d+', uint: '\\d+', bool: 'true|false' }[KNOWN.get((type ?? '').toLowerCase()) ?? ''];
      if (ours === undefined && !ignoreTypes) unknown(whole, name, type ?? '');
      return ours === undefined || ignoreTypes ? `:${name}` : `:${name}(${ours})`;
    },
  );
}
