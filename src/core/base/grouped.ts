/** Lists cut into groups. */

/** Groups in the order of their first members. */
export function grouped<T>(items: readonly T[], keyOf: (item: T) => string): readonly (readonly [T, ...T[]])[] {
  const groups = new Map<string, [T, ...T[]]>();
  for (const item of items) {
    const known = groups.get(keyOf(item));
    if (known === undefined) groups.set(keyOf(item), [item]);
    else known.push(item);
  }
  return [...groups.values()];
}
