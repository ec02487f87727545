/**
 * JSON Schema 2020-12 read word by word: every keyword as its section says it, no reference, no format, nothing remembered.
 * It judges the validator where the library that judges it too is wrong (unevaluatedItems beside contains).
 */
import { isDeepStrictEqual } from 'node:util';

type Raw = Readonly<Record<string, unknown>>;

interface Seen {
  readonly valid: boolean;
  /** Names and positions that some keyword evaluated. */
  readonly names: ReadonlySet<string>;
  readonly items: ReadonlySet<number>;
}

const REFUSED: Seen = { valid: false, names: new Set(), items: new Set() };

/** Is the value valid? */
export function evaluates(raw: unknown, value: unknown): boolean {
  return seen(raw, value).valid;
}

function seen(raw: unknown, value: unknown): Seen {
  if (raw === true) return { ...REFUSED, valid: true };
  if (raw === false) return REFUSED;
  const s = raw as Raw;
  const names = new Set<string>();
  const items = new Set<number>();
  const take = (other: Seen): boolean => {
    if (!other.valid) return false;
    for (const name of other.names) names.add(name);
    for (const item of other.items) items.add(item);
    return true;
  };
  const of = (key: string): unknown[] => (s[key] as unknown[] | undefined) ?? [];
  const ok = [
    s.type === undefined || [s.type].flat().some((t) => isOf(t as string, value)),
    s.enum === undefined || of('enum').some((v) => same(v, value)),
    !('const' in s) || same(s.const, value),
    typeof value !== 'number' || numberFits(s, value),
    typeof value !== 'string' || textFits(s, value),
    !Array.isArray(value) || listFits(s, value, items),
    !isObject(value) || objectFits(s, value, names, take),
    ...of('allOf').map((part) => take(seen(part, value))),
    s.anyOf === undefined || of('anyOf').filter((part) => take(seen(part, value))).length > 0,
    s.oneOf === undefined || of('oneOf').filter((part) => take(seen(part, value))).length === 1,
    s.not === undefined || !seen(s.not, value).valid,
    s.if === undefined || branchFits(s, value, take),
  ].every(Boolean);
  if (!ok) return REFUSED;
  // After all others: what nobody evaluated.
  if (isObject(value) && s.unevaluatedProperties !== undefined)
    for (const [name, v] of Object.entries(value)) {
      if (!names.has(name) && !seen(s.unevaluatedProperties, v).valid) return REFUSED;
      names.add(name);
    }
  if (Array.isArray(value) && s.unevaluatedItems !== undefined)
    for (const [i, v] of value.entries()) {
      if (!items.has(i) && !seen(s.unevaluatedItems, v).valid) return REFUSED;
      items.add(i);
    }
  return { valid: true, names, items };
}

function branchFits(s: Raw, value: unknown, take: (other: Seen) => boolean): boolean {
  const next = take(seen(s.if, value)) ? s.then : s.else;
  return next === undefined || take(seen(next, value));
}

function numberFits(s: Raw, value: number): boolean {
  const n = s as Readonly<Record<string, number | undefined>>;
  const ratio = value / (n.multipleOf ?? 1);
  return [
    value >= (n.minimum ?? Number.NEGATIVE_INFINITY),
    value <= (n.maximum ?? Number.POSITIVE_INFINITY),
    value > (n.exclusiveMinimum ?? Number.NEGATIVE_INFINITY),
    value < (n.exclusiveMaximum ?? Number.POSITIVE_INFINITY),
    n.multipleOf === undefined || Math.abs(ratio - Math.round(ratio)) < 1e-9,
  ].every(Boolean);
}

function textFits(s: Raw, value: string): boolean {
  const length = [...value].length;
  return (
    within(s, 'minLength', 'maxLength', length) && (s.pattern === undefined || new RegExp(s.pattern as string, 'u').test(value))
  );
}

function within(s: Raw, low: string, high: string, n: number): boolean {
  return n >= ((s[low] as number | undefined) ?? 0) && n <= ((s[high] as number | undefined) ?? Number.POSITIVE_INFINITY);
}

function listFits(s: Raw, value: readonly unknown[], items: Set<number>): boolean {
  const first = (s.prefixItems as unknown[] | undefined) ?? [];
  const places = [...value.keys()];
  let ok = within(s, 'minItems', 'maxItems', value.length);
  for (const i of places) {
    const schema = i < first.length ? first[i] : s.items;
    if (schema === undefined) continue;
    ok = seen(schema, value[i]).valid && ok;
    items.add(i);
  }
  if (s.contains !== undefined) {
    const held = places.filter((i) => seen(s.contains, value[i]).valid);
    ok = held.length >= ((s.minContains as number | undefined) ?? 1) && ok;
    ok = held.length <= ((s.maxContains as number | undefined) ?? Number.POSITIVE_INFINITY) && ok;
    for (const i of held) items.add(i);
  }
  return ok && !(s.uniqueItems === true && places.some((i) => places.some((j) => j < i && same(value[i], value[j]))));
}

function objectFits(s: Raw, value: Raw, names: Set<string>, take: (other: Seen) => boolean): boolean {
  const own = (s.properties as Raw | undefined) ?? {};
  const patterns = Object.entries((s.patternProperties as Raw | undefined) ?? {});
  const all = Object.keys(value);
  let ok = within(s, 'minProperties', 'maxProperties', all.length);
  for (const name of all) {
    const said = patterns.filter(([p]) => new RegExp(p, 'u').test(name)).map(([, schema]) => schema);
    if (Object.hasOwn(own, name)) said.push(own[name]);
    if (said.length === 0 && s.additionalProperties !== undefined) said.push(s.additionalProperties);
    if (said.length > 0) names.add(name);
    ok = said.every((schema) => seen(schema, value[name]).valid) && ok;
    if (s.propertyNames !== undefined) ok = seen(s.propertyNames, name).valid && ok;
  }
  const has = (name: string): boolean => Object.hasOwn(value, name);
  ok = ((s.required as string[] | undefined) ?? []).every(has) && ok;
  for (const [name, needed] of Object.entries((s.dependentRequired as Record<string, string[]> | undefined) ?? {}))
    if (has(name)) ok = needed.every(has) && ok;
  for (const [name, schema] of Object.entries((s.dependentSchemas as Raw | undefined) ?? {}))
    if (has(name)) ok = take(seen(schema, value)) && ok;
  return ok;
}

function isObject(value: unknown): value is Raw {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

function isOf(type: string, value: unknown): boolean {
  if (type === 'integer') return typeof value === 'number' && Number.isInteger(value);
  if (type === 'array') return Array.isArray(value);
  if (type === 'object') return isObject(value);
  return type === 'null' ? value === null : typeof value === type;
}

function same(a: unknown, b: unknown): boolean {
  return isDeepStrictEqual(a, b);
}
