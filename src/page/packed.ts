/**
 * Values as the page carries them: equal parts are written once, and maps, sets and infinity, for which JSON has no word, have
 * one. What was equal is one object after it was read, so nothing may change it.
 */

/** How a value with parts is written: a number names the keys of an object, in `keys`; the rest are the parts, by their number. */
const [ARRAY, MAP, SET, INFINITY] = [-1, -2, -3, -4];

export interface Packed {
  readonly keys: readonly (readonly string[])[];
  /** Every value behind its parts; the last is the whole. */
  readonly values: readonly (string | number | boolean | null | readonly number[])[];
}

/** Functions and undefined members are left out. O(size). */
export function pack(whole: unknown): Packed {
  const keys: (readonly string[])[] = [];
  const values: (string | number | boolean | null | readonly number[])[] = [];
  const [keyNumbers, numbers] = [new Map<string, number>(), new Map<string, number>()];
  const byObject = new Map<object, number>();
  const numberOf = <T>(key: string, value: T, list: T[], known: Map<string, number>): number => {
    const number = known.get(key) ?? list.length;
    if (number === list.length) {
      list.push(value);
      known.set(key, number);
    }
    return number;
  };
  const add = (value: (typeof values)[number]): number => numberOf(JSON.stringify(value), value, values, numbers);
  const partsOf = (value: object): readonly number[] => {
    if (Array.isArray(value)) return [ARRAY, ...value.map(visit)];
    if (value instanceof Map) return [MAP, ...[...value].flatMap(([k, v]) => [visit(k), visit(v)])];
    if (value instanceof Set) return [SET, ...[...value].map(visit)];
    const members = Object.entries(value).filter(([, v]) => v !== undefined && typeof v !== 'function');
    const names = members.map(([name]) => name);
    return [numberOf(JSON.stringify(names), names, keys, keyNumbers), ...members.map(([, v]) => visit(v))];
  };
  const visit = (value: unknown): number => {
    if (value === Number.POSITIVE_INFINITY) return add([INFINITY]);
    if (typeof value !== 'object' || value === null) return add((value ?? null) as string | number | boolean | null);
    const known = byObject.get(value) ?? add(partsOf(value));
    byObject.set(value, known);
    return known;
  };
  const last = visit(whole);
  // Equal to a part of itself it can't be, so it stands last.
  return { keys, values: last === values.length - 1 ? values : [...values, values[last] as (typeof values)[number]] };
}

/** The reverse. O(size). */
export function unpack({ keys, values }: Packed): unknown {
  const made: unknown[] = [];
  for (const value of values) {
    if (!Array.isArray(value)) {
      made.push(value);
      continue;
    }
    const [kind = ARRAY, ...numbers] = value as readonly number[];
    const parts = numbers.map((n) => made[n]);
    if (kind === ARRAY) made.push(parts);
    else if (kind === SET) made.push(new Set(parts));
    else if (kind === MAP) made.push(new Map(parts.flatMap((p, i) => (i % 2 === 0 ? [[p, parts[i + 1]] as const] : []))));
    else if (kind === INFINITY) made.push(Number.POSITIVE_INFINITY);
    else made.push(Object.fromEntries((keys[kind] ?? []).map((name, i) => [name, parts[i]])));
  }
  return made.at(-1);
}
