/** Values as JSON has them. */

export type Mapping = Readonly<Record<string, unknown>>;

export function isMapping(value: unknown): value is Mapping {
  return typeof value === 'object' && value !== null && !Array.isArray(value);
}

/** What a value is, for a sentence that says what was found. */
export function kindOf(value: unknown): string {
  if (value === null || value === undefined) return 'nothing';
  if (Array.isArray(value)) return 'a list';
  return typeof value === 'object' ? 'a mapping' : JSON.stringify(value).slice(0, 60);
}

export function textOr<T>(value: unknown, otherwise: T): string | T {
  return typeof value === 'string' ? value : otherwise;
}

/** A member that is the mapping's own; names such as `constructor` are nothing special. */
export function member(value: Mapping, key: string): unknown {
  return Object.hasOwn(value, key) ? value[key] : undefined;
}

/** Are two values equal as JSON (JSON Schema 2020-12 Core, 4.2.2)? Linear in their size. */
export function sameJson(a: unknown, b: unknown): boolean {
  if (a === b) return true;
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return false;
  if (Array.isArray(a) || Array.isArray(b)) {
    return Array.isArray(a) && Array.isArray(b) && a.length === b.length && a.every((x, i) => sameJson(x, b[i]));
  }
  let more = 0;
  for (const key in a) {
    const other = (b as Mapping)[key];
    // What every object inherits is nobody's own.
    if (other === undefined || (key === '__proto__' && !Object.hasOwn(b, key))) return false;
    if (!sameJson((a as Mapping)[key], other)) return false;
    more += 1;
  }
  for (const _ in b) more -= 1;
  return more === 0;
}
