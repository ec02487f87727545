/** A schema with its references and parts written into one set of keywords, one for each way through its alternatives. */
import { KeyedMemo } from '../../base/memo.ts';
import { spend } from '../../language/limits.ts';
import { isPlainText } from '../equality/quick-nonempty.ts';
import { dereference, EMPTY_KEYWORDS, hasNoInPlaceApplicators, idOf, type Keywords, type Schema } from '../model/schema.ts';

/**
 * At most `most` ways. Not every keyword can be joined (two patterns can't), so what is made of the result has to be held
 * against the schema itself.
 */
export function toDisjuncts(schema: Schema, most: number): readonly Keywords[] {
  if (isPlainText(schema)) {
    const k = schema.keywords();
    if (typeof k === 'object') return [k];
  }
  return disjunctCache.remember(schema, most, () => expandDisjuncts(schema, most, new Set()));
}

/** Asked again and again of shared schemas. */
const disjunctCache = new KeyedMemo<Schema, number, readonly Keywords[]>();

function expandDisjuncts(schema: Schema, most: number, trail: ReadonlySet<Schema>): readonly Keywords[] {
  spend(4);
  const k = schema.keywords();
  if (typeof k === 'boolean') return k ? [EMPTY_KEYWORDS] : [];
  if (trail.has(schema)) return [EMPTY_KEYWORDS];
  if (hasNoInPlaceApplicators(k)) return [k];
  const next = new Set([...trail, schema]);
  const { ref: _, allOf, anyOf, oneOf, ...own } = k;
  let ways: readonly Keywords[] = [{ ...own, allOf: [] }];
  const each = (options: readonly Keywords[]): void => {
    const more: Keywords[] = [];
    for (const a of ways) for (const b of options) if (more.length < most) more.push(meetKeywords(a, b));
    ways = more;
  };
  if (k.ref !== undefined) each(expandDisjuncts(k.ref, most, next));
  for (const part of allOf) each(expandDisjuncts(part, most, next));
  for (const some of [anyOf, oneOf]) if (some !== undefined && some.length > 0) each(firstDisjuncts(some, most, next));
  if (k.then !== undefined && k.if !== undefined)
    each([
      ...expandDisjuncts(k.if, most, next).flatMap((i) =>
        expandDisjuncts(k.then as Schema, most, next).map((t) => meetKeywords(i, t)),
      ),
      EMPTY_KEYWORDS,
    ]);
  return ways;
}

/** The first ways through several forms. */
function firstDisjuncts(forms: readonly Schema[], most: number, trail: ReadonlySet<Schema>): readonly Keywords[] {
  const out: Keywords[] = [];
  for (const form of forms) if (out.length < most) out.push(...expandDisjuncts(form, most, trail));
  return out.slice(0, most);
}

/** Both together, as far as one set of keywords can say it. */
function meetKeywords(a: Keywords, b: Keywords): Keywords {
  spend(40);
  return {
    ...a,
    ...presentKeywords(b),
    ...(a.items === undefined || b.items === undefined ? {} : { items: meetSchemas(a.items, b.items) }),
    ...(a.additional === undefined || b.additional === undefined ? {} : { additional: meetSchemas(a.additional, b.additional) }),
    ...(a.types !== undefined && b.types !== undefined ? { types: bothTypes(a.types, b.types) } : {}),
    ...(a.enum !== undefined && b.enum !== undefined ? { enum: a.enum.filter((e) => b.enum?.includes(e)) } : {}),
    ...maxOf(a, b, ['minimum', 'exclusiveMinimum', 'minLength', 'minItems', 'minProperties']),
    ...minOf(a, b, ['maximum', 'exclusiveMaximum', 'maxLength', 'maxItems', 'maxProperties']),
    properties: meetMaps(a.properties, b.properties),
    patternProperties: meetMaps(a.patternProperties, b.patternProperties),
    dependentRequired: new Map([...a.dependentRequired, ...b.dependentRequired]),
    dependentSchemas: new Map([...a.dependentSchemas, ...b.dependentSchemas]),
    required: [...new Set([...a.required, ...b.required])],
    prefixItems: a.prefixItems.length > b.prefixItems.length ? a.prefixItems : b.prefixItems,
    examples: [...b.examples, ...a.examples],
    uniqueItems: a.uniqueItems || b.uniqueItems,
    readOnly: a.readOnly || b.readOnly,
    writeOnly: a.writeOnly || b.writeOnly,
    allOf: [],
  };
}

/** What is left unsaid takes nothing away. */
function presentKeywords(k: Keywords): Partial<Keywords> {
  const out: Record<string, unknown> = {};
  for (const key in k) if (k[key as keyof Keywords] !== undefined) out[key] = k[key as keyof Keywords];
  return out;
}

function bothTypes(a: NonNullable<Keywords['types']>, b: NonNullable<Keywords['types']>): NonNullable<Keywords['types']> {
  const has = (list: typeof a, type: (typeof a)[number]): boolean =>
    list.includes(type) || (type === 'integer' && list.includes('number'));
  return [...new Set([...a.filter((t) => has(b, t)), ...b.filter((t) => has(a, t))])];
}

function meetMaps(a: ReadonlyMap<string, Schema>, b: ReadonlyMap<string, Schema>): ReadonlyMap<string, Schema> {
  if (a.size === 0 || b.size === 0) return a.size === 0 ? b : a;
  const out = new Map(a);
  for (const [name, schema] of b) {
    const known = out.get(name);
    out.set(name, known === undefined ? schema : meetSchemas(known, schema));
  }
  return out;
}

/** So many are said of one property together; what more say of it is left aside. */
const MOST_TOGETHER = 6;

const meetParts = new WeakMap<Schema, readonly Schema[]>();
const meetCache = new KeyedMemo<Schema, string, Schema>();

/** The same schema for the same parts, however they come together, so that circles of them end. */
function meetSchemas(a: Schema, b: Schema): Schema {
  const all = [a, b].flatMap((s) => meetParts.get(s) ?? [dereference(s)]);
  const list = [...new Set(all)].sort((x, y) => idOf(x) - idOf(y)).slice(0, MOST_TOGETHER);
  const [first] = list as [Schema];
  if (list.length === 1) return first;
  const key = list.map(idOf).join(' ');
  const before = meetCache.get(first, key);
  if (before !== undefined) return before;
  const keywords: Keywords = { ...EMPTY_KEYWORDS, allOf: list };
  const schema: Schema = { place: a.place, raw: { allOf: list.map((s) => s.raw) }, keywords: () => keywords };
  meetParts.set(schema, list);
  meetCache.set(first, key, schema);
  return schema;
}

type Bound =
  | 'minimum'
  | 'maximum'
  | 'exclusiveMinimum'
  | 'exclusiveMaximum'
  | 'minLength'
  | 'maxLength'
  | 'minItems'
  | 'maxItems'
  | 'minProperties'
  | 'maxProperties';

function maxOf(a: Keywords, b: Keywords, keys: readonly Bound[]): Partial<Keywords> {
  return Object.fromEntries(
    keys.flatMap((key) => (a[key] === undefined || b[key] === undefined ? [] : [[key, Math.max(a[key], b[key])]])),
  );
}

function minOf(a: Keywords, b: Keywords, keys: readonly Bound[]): Partial<Keywords> {
  return Object.fromEntries(
    keys.flatMap((key) => (a[key] === undefined || b[key] === undefined ? [] : [[key, Math.min(a[key], b[key])]])),
  );
}
