/** A small value that a schema holds, such as a person would write: examples first, then what is required and no more. */

import { sameJson } from '../../base/json.ts';
import { example } from '../../language/example.ts';
import { EMPTY_KEYWORDS, type JsonType, type Keywords, type Schema } from '../model/schema.ts';
import type { Side } from '../model/side.ts';
import { toDisjuncts } from '../normalise/flatten.ts';
import { isValid } from '../validate/validate.ts';
import { multipleAbove } from '../vocabulary/decimals.ts';
import { FORMAT_EXAMPLES } from '../vocabulary/formats.ts';
import { languageOfSchema } from '../wire/text-language.ts';

/** How deep required properties are followed. */
const MAX_DEPTH = 12;
/** How many ways of choosing among alternatives are tried. */
const MAX_TRIES = 24;

/** A value that fits, wrapped so that `undefined` means none was found. Not exact: a schema may hold values and get none. */
export function sampleOf(schema: Schema, side: Side, depth = 0): { readonly value: unknown } | undefined {
  if (depth > MAX_DEPTH) return undefined;
  for (const k of toDisjuncts(schema, MAX_TRIES)) {
    for (const value of candidates(k, side, depth)) if (isValid(schema, value, side)) return { value };
  }
  return undefined;
}

function* candidates(k: Keywords, side: Side, depth: number): Generator<unknown> {
  if (k.enum !== undefined) yield* k.enum;
  // An example may be longer than what is needed, but it is what people know.
  yield* k.examples;
  if (k.default !== undefined) yield k.default.value;
  for (const type of k.types ?? guessTypes(k)) yield* ofType(type, k, side, depth);
}

/** What a schema without a type speaks of. */
function guessTypes(k: Keywords): readonly (JsonType | 'integer')[] {
  if (k.properties.size > 0 || k.required.length > 0 || k.additional !== undefined) return ['object'];
  if (k.items !== undefined || k.prefixItems.length > 0) return ['array'];
  if (k.minimum !== undefined || k.maximum !== undefined) return ['number'];
  return ['string', 'integer', 'boolean', 'object', 'array', 'null'];
}

function* ofType(type: JsonType | 'integer', k: Keywords, side: Side, depth: number): Generator<unknown> {
  switch (type) {
    case 'null':
      yield null;
      return;
    case 'boolean':
      yield true;
      yield false;
      return;
    case 'integer':
    case 'number':
      yield* numbers(k);
      return;
    case 'string':
      yield* texts(k);
      return;
    case 'array':
      yield* lists(k, side, depth);
      return;
    case 'object':
      yield* objects(k, side, depth);
      return;
    default: {
      return;
    }
  }
}

function* numbers(k: Keywords): Generator<number> {
  const least = k.minimum ?? (k.exclusiveMinimum === undefined ? undefined : k.exclusiveMinimum + 1);
  const most = k.maximum ?? (k.exclusiveMaximum === undefined ? undefined : k.exclusiveMaximum - 1);
  const unit = k.multipleOf;
  for (const n of [7, 1, 0, least, most, k.exclusiveMinimum])
    if (n !== undefined) yield unit === undefined ? n : multipleAbove(n, unit);
  if (least !== undefined) yield Math.ceil(least);
  if (k.exclusiveMinimum !== undefined && k.exclusiveMaximum !== undefined) yield (k.exclusiveMinimum + k.exclusiveMaximum) / 2;
}

function* texts(k: Keywords): Generator<string> {
  const format = k.format === undefined ? undefined : FORMAT_EXAMPLES[k.format];
  if (format !== undefined) yield format;
  if (k.pattern === undefined && k.format === undefined)
    yield 'abc-def-ghi-jkl-mno-pqr'.slice(0, Math.max(3, Math.min(k.minLength ?? 3, 23)));
  const keywords: Keywords = { ...EMPTY_KEYWORDS, types: ['string'], ...pick(k) };
  const found = languageOfSchema({ place: { file: '', pointer: '' }, raw: undefined, keywords: () => keywords }, ',');
  const text = found.decided ? example(found.value) : undefined;
  if (text !== undefined) yield text;
}

function pick({ pattern, format, minLength, maxLength }: Keywords): Partial<Keywords> {
  return {
    ...(pattern === undefined ? {} : { pattern }),
    ...(format === undefined ? {} : { format }),
    ...(minLength === undefined ? {} : { minLength }),
    ...(maxLength === undefined ? {} : { maxLength }),
  };
}

function* lists(k: Keywords, side: Side, depth: number): Generator<unknown[]> {
  const count = Math.min(k.minItems ?? 0, 50);
  const out: unknown[] = [];
  for (let i = 0; i < count; i++) {
    const schema = k.prefixItems[i] ?? k.items;
    const made = schema === undefined ? { value: i } : sampleOf(schema, side, depth + 1);
    if (made === undefined) return;
    const again = k.uniqueItems && out.some((o) => sameJson(o, made.value));
    out.push(again ? nthVariant(made.value, i) : made.value);
  }
  yield out;
  const wanted = k.contains === undefined ? undefined : sampleOf(k.contains, side, depth + 1);
  if (wanted !== undefined) yield [...out, ...Array.from({ length: k.minContains ?? 1 }, () => wanted.value)];
}

/** A value that is nearly the same, where each may stand once. */
function nthVariant(value: unknown, nth: number): unknown {
  if (typeof value === 'number') return value + nth;
  return typeof value === 'string' ? `${value}${nth}` : value;
}

function* objects(k: Keywords, side: Side, depth: number): Generator<Record<string, unknown>> {
  const out: Record<string, unknown> = {};
  const put = (name: string): void => {
    const schema = k.properties.get(name) ?? k.additional;
    const p = schema?.keywords();
    if (p !== undefined && typeof p !== 'boolean' && ((side === 'request' && p.readOnly) || (side === 'response' && p.writeOnly)))
      return;
    const made = schema === undefined ? { value: 'abc' } : sampleOf(schema, side, depth + 1);
    if (made !== undefined) out[name] = made.value;
  };
  for (const name of k.required) put(name);
  for (const [name, more] of k.dependentRequired) if (name in out) for (const other of more) put(other);
  for (const name of k.properties.keys()) if (Object.keys(out).length < (k.minProperties ?? 0) && !(name in out)) put(name);
  yield out;
}
