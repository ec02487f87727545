/** What is no part of a request, or of a response. */

import { isMapping } from '../../base/json.ts';
import { KeyedMemo, memoise } from '../../base/memo.ts';
import { EMPTY_KEYWORDS, FALSE_SCHEMA, hasNoInPlaceApplicators, type Keywords, type Schema } from './schema.ts';
import type { MessageEnd, Side } from './side.ts';

/** `readOnly` counts through references and parts. */
export function isExcludedFrom(schema: Schema, side: Side, trail: readonly Schema[] = []): boolean {
  if (side === 'either' || cannotBeExcluded(schema)) return false;
  const next = schema.alone?.();
  if (next !== undefined) return !trail.includes(schema) && isExcludedFrom(next, side, [...trail, schema]);
  const k = schema.keywords();
  if (typeof k === 'boolean' || trail.includes(schema)) return false;
  if (side === 'request' ? k.readOnly : k.writeOnly) return true;
  return [...(k.ref === undefined ? [] : [k.ref]), ...k.allOf].some((s) => isExcludedFrom(s, side, [...trail, schema]));
}

/** Told by the text, which of most schemas need not be read for it. */
function cannotBeExcluded({ raw, dialect }: Schema): boolean {
  if (dialect === undefined || !isMapping(raw)) return false;
  return !('$ref' in raw || 'allOf' in raw || 'readOnly' in raw || 'writeOnly' in raw || '$dynamicRef' in raw);
}

/** Is a schema plainly the same in requests and responses? Where this says no nothing is known. */
export const isSideIndependent = memoise((schema: Schema): boolean => {
  const k = schema.keywords();
  const unsent = (s: Schema): boolean => isExcludedFrom(s, 'request') || isExcludedFrom(s, 'response');
  const parts = typeof k === 'boolean' ? [] : [...k.properties.values(), ...(k.additional === undefined ? [] : [k.additional])];
  const answer = typeof k === 'boolean' || (hasNoInPlaceApplicators(k) && !parts.some(unsent));
  return answer;
});

const keywordsCache = new KeyedMemo<Schema, string, Keywords | boolean>();

/** The keywords as this side and end read them. */
export function keywordsFor(schema: Schema, side: Side, end: MessageEnd): Keywords | boolean {
  const k = schema.keywords();
  if (typeof k === 'boolean' || side === 'either' || (k.properties.size === 0 && k.additional === undefined)) return k;
  const key = `${side} ${end}`;
  const known = keywordsCache.get(schema, key);
  if (known !== undefined) return known;
  const made = sideKeywords(k, side, end);
  keywordsCache.set(schema, key, made);
  return made;
}

function sideKeywords(k: Keywords, side: Side, end: MessageEnd): Keywords {
  const gone = new Set([...k.properties].filter(([, s]) => isExcludedFrom(s, side)).map(([name]) => name));
  if (k.additional !== undefined && isExcludedFrom(k.additional, side)) {
    const { additional: _, ...rest } = k;
    return sideKeywords({ ...EMPTY_KEYWORDS, ...rest, ...(end === 'producer' ? { additional: FALSE_SCHEMA } : {}) }, side, end);
  }
  if (gone.size === 0) return k;
  const properties = [...k.properties].flatMap(([name, s]) => {
    if (!gone.has(name)) return [[name, s] as const];
    return end === 'producer' ? [[name, FALSE_SCHEMA] as const] : [];
  });
  return { ...k, properties: new Map(properties), required: k.required.filter((n) => !gone.has(n)) };
}
