/** Values that JSON has no word for, as the page carries them: maps, sets and infinity. */

/** For `JSON.stringify`. */
export function packed(_: string, value: unknown): unknown {
  if (value instanceof Map) return { $map: [...value] };
  if (value instanceof Set) return { $set: [...value] };
  return value === Number.POSITIVE_INFINITY ? { $number: 'Infinity' } : value;
}

/** For `JSON.parse`: the reverse. */
export function revived(_: string, value: unknown): unknown {
  if (typeof value !== 'object' || value === null) return value;
  if ('$map' in value) return new Map(value.$map as [unknown, unknown][]);
  if ('$set' in value) return new Set(value.$set as unknown[]);
  return '$number' in value ? Number.POSITIVE_INFINITY : value;
}
