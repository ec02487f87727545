/** Keywords that one side says to the letter as the other does, the schemas in them text-equal. */
import { isMapping } from '../../base/json.ts';
import { isTextEqual } from '../equality/equal-pairs.ts';
import type { Keywords, Schema } from '../model/schema.ts';

/** One part of the sender says the same of all of these, to the letter. */
export function hasEqualKeywords(
  { sent }: { readonly sent: readonly Keywords[] },
  b: Keywords,
  keys: readonly PartKey[],
): boolean {
  return sent.some((k) => keys.every((key) => sameValue(k[key], b[key])));
}

type PartKey =
  | 'anyOf'
  | 'oneOf'
  | 'not'
  | 'if'
  | 'then'
  | 'else'
  | 'contains'
  | 'minContains'
  | 'maxContains'
  | 'propertyNames'
  | 'patternProperties'
  | 'dependentRequired'
  | 'dependentSchemas'
  | 'unevaluatedProperties'
  | 'unevaluatedItems'
  | 'items'
  | 'prefixItems';

/** The sender says the same here, to the letter. */
export function hasEqualKeyword({ sent }: { readonly sent: readonly Keywords[] }, b: Keywords, key: PartKey): boolean {
  if (says(b, key)) return sent.some((k) => sameValue(k[key], b[key]));
  return true;
}

export function says(k: Keywords, key: PartKey): boolean {
  const value = k[key];
  if (value instanceof Map) return value.size > 0;
  return Array.isArray(value) ? value.length > 0 : value !== undefined;
}

function sameValue(x: Keywords[PartKey], y: Keywords[PartKey]): boolean {
  if (x instanceof Map && y instanceof Map)
    return x.size === y.size && [...x].every(([name, v]) => y.has(name) && sameValue(v as never, y.get(name) as never));
  if (Array.isArray(x) && Array.isArray(y)) return x.length === y.length && x.every((v, i) => sameValue(v, y[i]));
  if (isSchema(x) && isSchema(y)) return isTextEqual(x, y);
  return x === y && typeof x !== 'object';
}

function isSchema(value: unknown): value is Schema {
  return isMapping(value) && 'keywords' in value;
}
