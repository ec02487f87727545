/** Holds a parsed file against its format: every error at once, each with its place and the nearest known name. */
import type * as z from 'zod';
import { suggest } from '../core/base/nearest-word.ts';
import { appendPointer } from '../core/base/place.ts';
import { ENTRY_KEYS } from './formats/route-table.ts';
import { InputFailure } from './problem.ts';
import { locate, type Source } from './source.ts';

type Issue = z.core.$ZodIssue;

interface Flat {
  readonly pointer: string;
  readonly message: string;
}

/** The value of a file as its format has it. Fails with all problems of the file. */
export function validate<T>(source: Source, schema: z.ZodType<T>): T {
  const result = schema.safeParse(source.value, { jitless: true });
  if (result.success) return result.data;
  const flat = result.error.issues.flatMap((issue) => flatten(issue, '', source.value, schema));
  const unique = [...new Map(flat.map((f) => [`${f.pointer} ${f.message}`, f])).values()];
  const places = locate(
    source,
    unique.map((f) => f.pointer),
  );
  throw new InputFailure(
    unique
      .map(({ pointer, message }) => ({ file: source.file, ...places.get(pointer), message }))
      .sort((a, b) => (a.line ?? 0) - (b.line ?? 0) || (a.column ?? 0) - (b.column ?? 0)),
  );
}

/** An issue with those of the union member that was meant, as plain sentences. */
function flatten(issue: Issue, base: string, root: unknown, schema: z.ZodType): readonly Flat[] {
  const pointer = appendPointer(base, ...(issue.path as (string | number)[]));
  const value = valueAt(root, pointer);
  if (issue.code === 'invalid_union') {
    const meant = memberMeant(issue.errors as Issue[][], value);
    if (meant !== undefined) return meant.flatMap((inner) => flatten(inner, pointer, root, schema));
    return [{ pointer, message: `${found(value)}, expected ${expectedOf(issue.errors as Issue[][])}` }];
  }
  if (issue.code === 'invalid_key') {
    const key = String(issue.path.at(-1));
    return [
      { pointer, message: `found the key "${key}", ${issue.issues[0]?.message ?? 'which is none of those that may stand here'}` },
    ];
  }
  if (issue.code === 'unrecognized_keys') {
    return issue.keys.map((key) => ({
      pointer: appendPointer(pointer, key),
      message: unknownKey(key, knownKeys(schemasAt(schema, pointer, root), value)),
    }));
  }
  return [{ pointer, message: sentence(issue, value) }];
}

/** Which member of a union somebody meant: the entry that the keys tell, or the one whose type fits at the top. */
function memberMeant(members: readonly (readonly Issue[])[], value: unknown): readonly Issue[] | undefined {
  const fitting = members.filter((issues) => !issues.some((i) => i.path.length === 0 && i.code === 'invalid_type'));
  if (fitting.length <= 1) return fitting[0];
  if (typeof value !== 'object' || value === null || members.length !== ENTRY_KEYS.length + 1) return undefined;
  // The short form stands first among the members, then one for each key, in the order of the keys.
  const key = ENTRY_KEYS.findIndex((k) => k in value);
  return key < 0 ? undefined : members[key + 1];
}

function expectedOf(members: readonly (readonly Issue[])[]): string {
  const tops = members
    .flatMap((m) => m.filter((i) => i.path.length === 0))
    .flatMap((i) => {
      if (i.code === 'invalid_type') return i.expected === 'object' ? ['a mapping'] : [`a ${i.expected}`];
      return i.code === 'invalid_value' ? i.values.map((v) => JSON.stringify(v)) : [];
    });
  const names = [...new Set(tops)];
  if (names.includes('a mapping')) return `METHOD /path -> handler, or a mapping with one of the keys ${ENTRY_KEYS.join(', ')}`;
  return names.join(' or ') || 'something else';
}

function sentence(issue: Issue, value: unknown): string {
  switch (issue.code) {
    case 'invalid_type':
      if (value === undefined)
        return `the key "${String(issue.path[issue.path.length - 1] ?? '')}" is missing; expected ${article(issue.expected)} there`;
      // What a whole file holds that is none of ours is nobody's business.
      return `${issue.path.length === 0 && typeof value !== 'object' ? 'found text' : found(value)}, expected ${article(issue.expected)}`;
    case 'invalid_value': {
      if (value === undefined) {
        const key = String(issue.path[issue.path.length - 1] ?? '');
        return `the key "${key}" is missing; write ${issue.values.map((v) => `${key}: ${String(v)}`).join(' or ')}`;
      }
      const near = typeof value === 'string' ? suggest(value, issue.values.map(String)) : undefined;
      const wanted = issue.values.map((v) => (typeof v === 'string' ? v : JSON.stringify(v))).join(', ');
      return `${found(value)}, expected ${issue.values.length > 1 ? 'one of ' : ''}${wanted}${near === undefined ? '' : `; did you mean "${near}"?`}`;
    }
    case 'invalid_format':
      if (issue.format === 'starts_with')
        return `${found(value)}, expected text that starts with ${JSON.stringify((issue as { prefix?: string }).prefix ?? '')}`;
      return `${found(value)}, ${issue.message.startsWith('expected') ? issue.message : `expected a valid ${issue.format}`}`;
    case 'too_small':
      return `${found(value)}, expected at least ${issue.minimum}${issue.origin === 'array' ? ' entries' : issue.origin === 'string' ? ' character' : ''}`;
    default:
      return `${found(value)}: ${issue.message.toLowerCase()}`;
  }
}

function article(expected: string): string {
  const names: Readonly<Record<string, string>> = {
    object: 'a mapping',
    record: 'a mapping',
    array: 'a list',
    string: 'text',
    boolean: 'true or false',
    int: 'a whole number',
  };
  return names[expected] ?? `a ${expected}`;
}

function found(value: unknown): string {
  if (value === undefined || value === null) return 'found nothing';
  if (Array.isArray(value)) return 'found a list';
  if (typeof value === 'object') return 'found a mapping';
  const shown = JSON.stringify(value);
  return `found ${shown.length > 60 ? `${shown.slice(0, 57)}...` : shown}`;
}

function unknownKey(key: string, known: readonly string[]): string {
  const near = suggest(key, known);
  return `unknown key "${key}"${near === undefined ? `; known here are ${known.join(', ')}` : `; did you mean "${near}"?`}`;
}

/** Of the mappings that may stand at a place, the keys of the one that owns most of the keys found. */
function knownKeys(schemas: readonly Definition[], value: unknown): readonly string[] {
  const present = Object.keys((value ?? {}) as object);
  let best: readonly string[] = [];
  let score = -1;
  for (const { type, shape } of schemas) {
    if (type !== 'object') continue;
    const keys = Object.keys(shape ?? {});
    const hits =
      present.filter((k) => keys.includes(k)).length + (ENTRY_KEYS.some((k) => present.includes(k) && keys[0] === k) ? 10 : 0);
    if (hits > score) {
      score = hits;
      best = keys;
    }
  }
  return best;
}

/** What of a Zod schema's definition is read here. */
interface Definition {
  readonly type: string;
  readonly shape?: Readonly<Record<string, z.ZodType>>;
  readonly element?: z.ZodType;
  readonly valueType?: z.ZodType;
  readonly innerType?: z.ZodType;
  readonly in?: z.ZodType;
  readonly options?: readonly z.ZodType[];
  readonly getter?: () => z.ZodType;
}

/** The schemas that may hold at a place of a value. */
function schemasAt(schema: z.ZodType, pointer: string, root: unknown): readonly Definition[] {
  let at = unwrapped(schema);
  for (const key of pointer.split('/').slice(1)) {
    const name = key.replaceAll('~1', '/').replaceAll('~0', '~');
    at = at.flatMap(({ type, shape, element, valueType }) => {
      const next = type === 'object' ? shape?.[name] : type === 'array' ? element : type === 'record' ? valueType : undefined;
      return next === undefined ? [] : unwrapped(next);
    });
  }
  return at.length === 0 ? unwrapped(schema).filter(() => root !== undefined) : at;
}

function unwrapped(schema: z.ZodType): readonly Definition[] {
  const definition = (schema as unknown as { def: Definition }).def;
  if (definition.type === 'lazy') return unwrapped((definition.getter as () => z.ZodType)());
  if (definition.options !== undefined) return definition.options.flatMap(unwrapped);
  const inner = definition.innerType ?? definition.in;
  return inner === undefined ? [definition] : unwrapped(inner);
}

function valueAt(root: unknown, pointer: string): unknown {
  let at = root;
  for (const key of pointer.split('/').slice(1)) {
    if (typeof at !== 'object' || at === null) return undefined;
    at = (at as Record<string, unknown>)[key.replaceAll('~1', '/').replaceAll('~0', '~')];
  }
  return at;
}
