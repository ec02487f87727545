/** Types as other routers write them into a pattern, in the words of ours. */
import type { Style } from '../paths/pattern.ts';

/** A pattern in our words, and what was assumed on the way. */
export interface Mapped {
  readonly path: string;
  /** One sentence for each assumption. */
  readonly notes: readonly string[];
}

/** Names of types that routers share, and what they mean here. */
const KNOWN: ReadonlyMap<string, string> = new Map(
  Object.entries({
    int: 'int',
    integer: 'int',
    long: 'int',
    number: 'int',
    num: 'int',
    uint: 'uint',
    float: 'decimal',
    double: 'decimal',
    decimal: 'decimal',
    uuid: 'uuid',
    guid: 'uuid',
    alpha: 'alpha',
    date: 'date',
    str: 'text',
    string: 'text',
    default: 'text',
    text: 'text',
    path: 'path',
    any: 'path',
  }),
);

/**
 * A path of a style as our parsers read it: `{id<\d+>}` and `{page<\d+>?1}` are types, `{port:slug}` is the name of a key where no
 * type is called so, a path without a slash gets one. `types: ignore` takes every type off. O(length).
 */
export function mappedPath(path: string, style: Style, known: ReadonlySet<string>, ignoreTypes = false): Mapped {
  const notes: string[] = [];
  const rooted = path.startsWith('/') || style === 'regex' ? path : `/${path}`;
  if (style !== 'brace') return { path: rooted, notes };
  const text = rooted.replace(/\{([^{}]*(?:\{[^{}]*\}[^{}]*)*)\}/gu, (whole, inner: string) => {
    const [, name = '', expression, mark = ''] = /^([!*]?\w+)<(.*)>(\?.*)?$/u.exec(inner) ?? [];
    if (expression !== undefined)
      return ignoreTypes ? `{${name}${mark === '' ? '' : '?'}}` : `{${name}:${expression}${mark === '' ? '' : '?'}}`;
    const [, key = '', type = '', tail = ''] = /^(\w+):([A-Za-z_]\w*)(\?|\([^)]*\)\??)?$/u.exec(inner) ?? [];
    if (type === '') return whole;
    if (ignoreTypes) return `{${key}${tail.endsWith('?') ? '?' : ''}}`;
    if (known.has(type)) return whole;
    const ours = KNOWN.get(type.toLowerCase());
    if (ours === 'path') return `{${key}*}`;
    if (ours === 'text') return `{${key}${tail.endsWith('?') ? '?' : ''}}`;
    if (ours !== undefined && known.has(ours)) return `{${key}:${ours}${tail}}`;
    notes.push(
      `{${inner}} is taken for the parameter ${key} without a type: "${type}" is no type here (name it under types:, if it is one)`,
    );
    return `{${key}${tail.endsWith('?') ? '?' : ''}}`;
  });
  return { path: text, notes };
}
