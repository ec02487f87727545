/** Every schema below some others. */
import type { Schema } from './schema.ts';

/** The schemas that stand directly in one, references among them, in an order that does not depend on the text's. */
export function subschemas(schema: Schema): readonly Schema[] {
  const k = schema.keywords();
  if (typeof k === 'boolean') return [];
  const single = [k.ref, k.additional, k.propertyNames, k.items, k.contains, k.unevaluatedProperties, k.unevaluatedItems];
  const more = [k.not, k.if, k.then, k.else];
  const maps = [k.properties, k.patternProperties, k.dependentSchemas];
  return [
    ...[...single, ...more].filter((s) => s !== undefined),
    ...maps.flatMap((m) => [...m].sort(([a], [b]) => (a < b ? -1 : 1)).map(([, s]) => s)),
    ...k.prefixItems,
    ...k.allOf,
    ...(k.anyOf ?? []),
    ...(k.oneOf ?? []),
  ];
}

/** All schemas that can be reached, each once, the roots first. O(size). */
export function reachable(roots: Iterable<Schema>): readonly Schema[] {
  const seen = new Set(roots);
  for (const schema of seen) for (const next of subschemas(schema)) seen.add(next);
  return [...seen];
}
