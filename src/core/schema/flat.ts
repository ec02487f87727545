/** A schema with its references and parts written into one set of keywords, one for each way through its alternatives. */
import { type Keywords, NO_KEYWORDS, type Schema, standsAlone } from './node.ts';

/**
 * At most `most` ways. Not every keyword can be joined (two patterns can't), so what is made of the result has to be held
 * against the schema itself.
 */
export function flat(schema: Schema, most: number): readonly Keywords[] {
  const row = known.get(schema) ?? new Map<number, readonly Keywords[]>();
  known.set(schema, row);
  const found = row.get(most) ?? expand(schema, most, new Set());
  row.set(most, found);
  return found;
}

/** Asked again and again of shared schemas. */
const known = new WeakMap<Schema, Map<number, readonly Keywords[]>>();

function expand(schema: Schema, most: number, trail: ReadonlySet<Schema>): readonly Keywords[] {
  const k = schema.keywords();
  if (typeof k === 'boolean') return k ? [NO_KEYWORDS] : [];
  if (trail.has(schema)) return [NO_KEYWORDS];
  if (standsAlone(k)) return [k];
  const next = new Set([...trail, schema]);
  const { ref: _, allOf, anyOf, oneOf, ...own } = k;
  let ways: readonly Keywords[] = [{ ...own, allOf: [] }];
  const each = (options: readonly Keywords[]): void => {
    ways = ways.flatMap((a) => options.map((b) => joined(a, b))).slice(0, most);
  };
  if (k.ref !== undefined) each(expand(k.ref, most, next));
  for (const part of allOf) each(expand(part, most, next));
  for (const some of [anyOf, oneOf]) if (some !== undefined && some.length > 0) each(some.flatMap((s) => expand(s, most, next)));
  if (k.then !== undefined && k.if !== undefined)
    each([
      ...expand(k.if, most, next).flatMap((i) => expand(k.then as Schema, most, next).map((t) => joined(i, t))),
      NO_KEYWORDS,
    ]);
  return ways;
}

/** Both together, as far as one set of keywords can say it. */
function joined(a: Keywords, b: Keywords): Keywords {
  return {
    ...a,
    ...b,
    ...(a.types !== undefined && b.types !== undefined ? { types: bothTypes(a.types, b.types) } : {}),
    ...(a.enum !== undefined && b.enum !== undefined ? { enum: a.enum.filter((e) => b.enum?.includes(e)) } : {}),
    ...greatest(a, b, ['minimum', 'exclusiveMinimum', 'minLength', 'minItems', 'minProperties']),
    ...least(a, b, ['maximum', 'exclusiveMaximum', 'maxLength', 'maxItems', 'maxProperties']),
    properties: both(a.properties, b.properties),
    patternProperties: both(a.patternProperties, b.patternProperties),
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

function bothTypes(a: NonNullable<Keywords['types']>, b: NonNullable<Keywords['types']>): NonNullable<Keywords['types']> {
  const has = (list: typeof a, type: (typeof a)[number]): boolean =>
    list.includes(type) || (type === 'integer' && list.includes('number'));
  return [...new Set([...a.filter((t) => has(b, t)), ...b.filter((t) => has(a, t))])];
}

function both(a: ReadonlyMap<string, Schema>, b: ReadonlyMap<string, Schema>): ReadonlyMap<string, Schema> {
  if (a.size === 0 || b.size === 0) return a.size === 0 ? b : a;
  const out = new Map(a);
  for (const [name, schema] of b) {
    const known = out.get(name);
    out.set(name, known === undefined ? schema : together(known, schema));
  }
  return out;
}

function together(a: Schema, b: Schema): Schema {
  const keywords: Keywords = { ...NO_KEYWORDS, allOf: [a, b] };
  return { place: a.place, raw: { allOf: [a.raw, b.raw] }, keywords: () => keywords };
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

function greatest(a: Keywords, b: Keywords, keys: readonly Bound[]): Partial<Keywords> {
  return Object.fromEntries(
    keys.flatMap((key) => (a[key] === undefined || b[key] === undefined ? [] : [[key, Math.max(a[key], b[key])]])),
  );
}

function least(a: Keywords, b: Keywords, keys: readonly Bound[]): Partial<Keywords> {
  return Object.fromEntries(
    keys.flatMap((key) => (a[key] === undefined || b[key] === undefined ? [] : [[key, Math.min(a[key], b[key])]])),
  );
}
