/** Builds a value for a simple schema without search, or one around a given subvalue. */

import { isMapping, type Mapping } from '../../base/json.ts';
import { isPlainText, isSimpleScalar } from '../equality/quick-nonempty.ts';
import type { Schema } from '../model/schema.ts';
import type { Side } from '../model/side.ts';
import { isExcludedFrom } from '../model/side-view.ts';
import { memoise } from '../validate/shared-values.ts';
import type { SearchCache, SimpleValue, Value } from './cache.ts';
import type { SearchResult } from './problem.ts';
import { cachedInhabitant, findInhabitant } from './witness.ts';

/**
 * A value of a plain schema in which this part stands at the place, which may be whatever the schema says of it; undefined
 * where that is not seen at once. What stands beside the place is made once for each schema.
 */
export function embedSubvalue(
  schema: Schema,
  [key, ...rest]: readonly string[],
  part: unknown,
  side: Side,
  answers: SearchCache,
): Embedding | undefined {
  if (key === undefined) return { value: part, own: schema };
  const own = ownPart(schema, key, side);
  const inner = own === undefined ? undefined : embedSubvalue(own, rest, part, side, answers);
  if (inner === undefined) return undefined;
  if (isListed(schema.raw)) return { ...inner, value: [inner.value] };
  const beside = valueFor(schema, side, answers);
  if (beside.kind !== 'witness' || !isMapping(beside.value)) return undefined;
  return { ...inner, value: { ...beside.value, [key]: inner.value } };
}

export interface Embedding {
  readonly value: unknown;
  /** What the schema says of the part, and nothing else does: a value that has it there fits as far as it does. */
  readonly own: Schema;
}

/** What a plain schema says of what stands at these keys, where nothing else is said of it; undefined where that is not seen. */
export function soleSubschemaAt(schema: Schema, keys: readonly string[], side: Side): Schema | undefined {
  let at: Schema | undefined = schema;
  for (const key of keys) at &&= ownPart(at, key, side);
  return at;
}

function ownPart(schema: Schema, key: string, side: Side): Schema | undefined {
  const { raw } = schema;
  if (!isMapping(raw) || 'enum' in raw || !isPlainText(schema)) return undefined;
  const own = isListed(raw) && key === '0' ? schema.part?.() : raw.type === 'object' ? schema.part?.(key) : undefined;
  return own === undefined || isExcludedFrom(own, side) ? undefined : own;
}

function isListed(raw: unknown): boolean {
  return isMapping(raw) && raw.type === 'array' && raw.maxItems === undefined;
}

/** A value of a plain schema that has this property; undefined where that is not seen at once. */
export function simpleValueWith(schema: Schema, name: string, side: Side, answers: SearchCache): Value {
  const own = isMapping(schema.raw) && schema.raw.type === 'object' ? schema.part?.(name) : undefined;
  const made = own === undefined ? undefined : plainValue({ side, answers, open: new Set() }, own)?.made;
  return made === undefined ? undefined : embedSubvalue(schema, [name], made.value, side, answers);
}

/** What a sender may send, asked once. */
function valueFor(schema: Schema, side: Side, answers: SearchCache): SearchResult {
  const made = plainValue({ side, answers, open: new Set() }, schema)?.made;
  if (made !== undefined) return { kind: 'witness', value: made.value };
  return cachedInhabitant(schema, side, answers);
}

interface BuildContext {
  readonly side: Side;
  readonly answers: SearchCache;
  /** What needs itself holds nothing. */
  readonly open: Set<Schema>;
}

/** So many schemas may need one another. */
const MOST_OPEN = 100;

/** Of what is required, and no more; undefined where a schema says more than that plainly. */
function plainValue(making: BuildContext, schema: Schema): SimpleValue | undefined {
  const { side, answers, open } = making;
  const known = answers.plain.sideless.get(schema) ?? answers.plain[side].get(schema);
  if (known !== undefined) return known;
  const next = schema.alone?.();
  const made = next === undefined ? forType(making, schema) : throughReference(making, schema, next);
  // What fails within a circle need not fail when it is asked from elsewhere.
  if (made.made === undefined && open.size > 0) return made;
  answers.plain[made.sideless ? 'sideless' : side].set(schema, made);
  return made;
}

const UNKNOWN: SimpleValue = { made: undefined, sideless: false };

function throughReference(making: BuildContext, schema: Schema, next: Schema): SimpleValue {
  if (making.open.has(schema) || making.open.size > MOST_OPEN) return UNKNOWN;
  making.open.add(schema);
  const made = plainValue(making, next);
  making.open.delete(schema);
  return made ?? UNKNOWN;
}

function forType(making: BuildContext, schema: Schema): SimpleValue {
  const { raw } = schema;
  if (!isMapping(raw) || !isPlainText(schema)) return UNKNOWN;
  if (raw.type === 'array' && !('enum' in raw)) return { made: { value: memoise([], schema, 'either') }, sideless: true };
  if (isSimpleScalar(schema)) return scalar(making, schema, raw);
  if (raw.type !== 'object' || 'enum' in raw) return UNKNOWN;
  if (making.open.has(schema) || making.open.size > MOST_OPEN) return UNKNOWN;
  making.open.add(schema);
  const made = forObject(making, schema, raw.required);
  making.open.delete(schema);
  return made;
}

function forObject(making: BuildContext, schema: Schema, required: unknown): SimpleValue {
  const value: Record<string, unknown> = {};
  let sideless = true;
  for (const name of Array.isArray(required) ? required : []) {
    const part = typeof name === 'string' && name !== '__proto__' ? schema.part?.(name) : undefined;
    if (part === undefined) return UNKNOWN;
    const unsent = { request: isExcludedFrom(part, 'request'), response: isExcludedFrom(part, 'response'), either: false };
    if (unsent.request || unsent.response) sideless = false;
    if (unsent[making.side]) continue;
    const own = plainValue(making, part);
    if (own?.made === undefined) return UNKNOWN;
    value[name] = own.made.value;
    sideless &&= own.sideless;
  }
  return { made: { value: memoise(value, schema, sideless ? 'either' : making.side) }, sideless };
}

/** Many say the same, and are asked once. */
function scalar({ side, answers }: BuildContext, schema: Schema, raw: Mapping): SimpleValue {
  const name = JSON.stringify(SCALAR_KEYWORDS.map((key) => raw[key]));
  const known = answers.scalars.get(name);
  if (known !== undefined) return known;
  const found = findInhabitant(schema, side, answers);
  const made = { made: found.kind === 'witness' ? { value: found.value } : undefined, sideless: true };
  answers.scalars.set(name, made);
  return made;
}

/** All that a plain scalar may say of its values, and the words that are taken for one. */
const SCALAR_KEYWORDS = [
  'type',
  'nullable',
  'enum',
  'format',
  'minLength',
  'maxLength',
  'minimum',
  'maximum',
  'example',
  'examples',
] as const;
