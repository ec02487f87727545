/** Which keywords say something about which kind of value. */

import { KeyedMemo } from '../../base/memo.ts';
import type { JsonType, Keywords, Schema } from '../model/schema.ts';
import type { Side } from '../model/side.ts';
import { keywordsFor } from '../model/side-view.ts';

export function isKind(k: Keywords, kind: JsonType): boolean {
  return k.types === undefined || k.types.some((t) => t === kind || (t === 'integer' && kind === 'number'));
}

/** The keywords that say something about a kind, in the order in which they are broken. */
export const KEYWORDS_BY_TYPE: Readonly<Record<JsonType, readonly (keyof Keywords)[]>> = {
  null: [],
  boolean: [],
  number: ['minimum', 'maximum', 'exclusiveMinimum', 'exclusiveMaximum', 'multipleOf', 'format'],
  string: ['maxLength', 'minLength', 'pattern', 'format'],
  array: ['items', 'prefixItems', 'minItems', 'maxItems', 'uniqueItems', 'contains', 'maxContains', 'unevaluatedItems'],
  object: [
    'required',
    'properties',
    'additional',
    'patternProperties',
    'minProperties',
    'maxProperties',
    'propertyNames',
    'dependentRequired',
    'unevaluatedProperties',
  ],
};

/** Is a keyword there, and not empty? */
export function says(k: Keywords, key: keyof Keywords): boolean {
  const value = k[key];
  if (value instanceof Map) return value.size > 0;
  return Array.isArray(value) ? value.length > 0 : value !== undefined && value !== false;
}

const alwaysHoldsCache = new KeyedMemo<Schema, string, boolean>();

/** Does a schema say nothing that a value of this kind could break? */
export function alwaysHolds(schema: Schema, kind: JsonType, side: Side): boolean {
  const key = `${kind} ${side}`;
  const known = alwaysHoldsCache.get(schema, key);
  if (known !== undefined) return known;
  const found = holdsAlways(schema, kind, side);
  alwaysHoldsCache.set(schema, key, found);
  return found;
}

function holdsAlways(schema: Schema, kind: JsonType, side: Side): boolean {
  const k = keywordsFor(schema, side, 'consumer');
  if (typeof k === 'boolean') return k;
  if (!isKind(k, kind) || k.enum !== undefined) return false;
  if (kind === 'number' && k.types !== undefined && !k.types.includes('number')) return false;
  const parts = [k.ref, k.anyOf, k.oneOf, k.not, k.if];
  if (parts.some((p) => p !== undefined) || (kind === 'object' && k.dependentSchemas.size > 0)) return false;
  return !KEYWORDS_BY_TYPE[kind].some((keyword) => says(k, keyword)) && k.allOf.every((part) => alwaysHolds(part, kind, side));
}
