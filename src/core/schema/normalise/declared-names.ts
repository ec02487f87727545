/** The names that schemas declare for one value, through references and all parts that speak of the same value. */
import { isMapping } from '../../base/json.ts';
import { eitherOf } from '../model/derived-union.ts';
import { ANYTHING, idOf, type Keywords, NO_KEYWORDS, type Schema, saysOnly, standsAlone } from '../model/schema.ts';
import { matchesPattern } from '../vocabulary/patterns.ts';

export interface Declared {
  readonly names: ReadonlySet<string>;
  readonly patterns: readonly string[];
  /** Something is said of all other names. */
  readonly open: boolean;
}

/** Forms of a `oneOf` are left aside: which of them is meant decides what they declare. */
export function declaredNames(
  schemas: readonly Schema[],
  keywords: (schema: Schema) => Keywords | boolean = (s) => s.keywords(),
  reader: Reader = 'sender',
): Declared {
  const out = { names: new Set<string>(), patterns: [] as string[], open: false };
  const seen = new Set<Schema>(schemas);
  for (const schema of seen) {
    const k = keywords(schema);
    if (typeof k === 'boolean') continue;
    const { names, patterns, open } = declaredHere(k);
    for (const name of names) out.names.add(name);
    out.patterns.push(...patterns);
    out.open ||= open;
    for (const part of partsBeside(k, reader)) seen.add(part);
  }
  return out;
}

/** What keywords declare by themselves. */
export function declaredHere({ properties, required, patternProperties, additional, unevaluatedProperties }: Keywords): Declared {
  // What is forbidden in so many words is no leave to send it.
  const open = [additional, unevaluatedProperties].some((rest) => rest !== undefined && !saysOnly(rest, false));
  return { names: new Set([...properties.keys(), ...required]), patterns: [...patternProperties.keys()], open };
}

export const declared = new WeakMap<Schema, Declared>();

/** The names that one schema declares. Found once. */
export function declaredBy(schema: Schema): Declared {
  const found = declared.get(schema) ?? declaredNames([schema]);
  declared.set(schema, found);
  return found;
}

/**
 * Who reads a schema. A sender of a form of an `anyOf` may send what its other forms declare, and so these stand beside it;
 * to a receiver each of them speaks for itself.
 */
export type Reader = 'sender' | 'receiver';

/** All that speaks of the same value, but for the forms of a `oneOf`. */
function partsBeside(k: Keywords, reader: Reader): readonly Schema[] {
  if (standsAlone(k)) return [];
  const parts = [
    k.ref,
    ...k.allOf,
    ...(reader === 'sender' ? (k.anyOf ?? []) : []),
    k.then,
    k.else,
    k.if,
    ...k.dependentSchemas.values(),
  ];
  return parts.filter((part) => part !== undefined);
}

const declaring = new WeakMap<Schema, Map<string, Schema | 'nothing'>>();

/**
 * What a form and others that a value may be too declare together: who sends the one may send what the others declare, as
 * one of them declares it. Undefined where there is nothing. Found once.
 */
export function declaredWith(form: Schema, others: readonly Schema[]): Schema | undefined {
  if (others.length === 0) return undefined;
  const row = declaring.get(form) ?? new Map<string, Schema | 'nothing'>();
  declaring.set(form, row);
  const key = others.map(idOf).join(' ');
  const known = row.get(key) ?? readAll([form, ...others]) ?? 'nothing';
  row.set(key, known);
  return known === 'nothing' ? undefined : known;
}

function readAll(forms: readonly Schema[]): Schema | undefined {
  const values = new Map<string, Schema[]>();
  const { names, patterns, open } = declaredNames(forms, (schema) => {
    const k = schema.keywords();
    if (typeof k === 'object') for (const [name, value] of k.properties) values.set(name, [...(values.get(name) ?? []), value]);
    return k;
  });
  const [first] = forms;
  if (first === undefined) return undefined;
  const said = namesSaid(first);
  const others = [...names].filter((name) => !said.has(name));
  if (others.length === 0 && patterns.length === 0 && !open) return undefined;
  const some = ([one, ...more]: readonly Schema[]): Schema => (one === undefined ? ANYTHING : eitherOf(one, more));
  const keywords: Keywords = {
    ...NO_KEYWORDS,
    properties: new Map(others.map((name) => [name, some(values.get(name) ?? [])])),
    patternProperties: new Map(patterns.map((pattern) => [pattern, ANYTHING])),
    ...(open ? { additional: ANYTHING } : {}),
  };
  shared.add(keywords);
  return { place: first.place, raw: undefined, keywords: () => keywords };
}

const shared = new WeakSet<Keywords>();

/** Is this what forms declare together, and none of them by itself? */
export function isShared(keywords: Keywords): boolean {
  return shared.has(keywords);
}

/** The same of a schema: what it says of a name holds only where nothing else declares that. */
export function isSharedSchema(schema: Schema): boolean {
  if (schema.raw !== undefined) return false;
  const k = schema.keywords();
  return typeof k === 'object' && isShared(k);
}

/** The properties of which a schema says something, whichever of its forms is meant. */
function namesSaid(schema: Schema): ReadonlySet<string> {
  const seen = new Set([schema]);
  const names = new Set<string>();
  for (const s of seen) {
    const k = s.keywords();
    if (typeof k === 'boolean') continue;
    for (const part of [...(k.ref === undefined ? [] : [k.ref]), ...k.allOf]) seen.add(part);
    for (const name of k.properties.keys()) names.add(name);
  }
  return names;
}

/** Is every name of a value declared by the schema or beside it? */
export function declaresAll(schema: Schema, value: unknown, beside: () => Declared): boolean {
  if (!isMapping(value)) return true;
  const own = declaredBy(schema);
  if (own.open || (own.names.size === 0 && own.patterns.length === 0)) return true;
  return Object.keys(value).every((n) => isDeclared(own, n) || isDeclared(beside(), n));
}

function isDeclared({ names, patterns, open }: Declared, name: string): boolean {
  return open || names.has(name) || patterns.some((p) => matchesPattern(p, name) === true);
}

/** What the keywords beside a `oneOf` declare. */
export function declaredBeside(keywords: readonly Keywords[], reader: Reader): Declared {
  return together(keywords.flatMap((k) => [declaredHere(k), declaredNames(partsBeside(k, reader), undefined, reader)]));
}

/** All of them. */
export function together(list: readonly Declared[]): Declared {
  return {
    names: new Set(list.flatMap((d) => [...d.names])),
    patterns: [...new Set(list.flatMap((d) => d.patterns))],
    open: list.some((d) => d.open),
  };
}
