/** Which operations a change touches. Thousands of changes may share lists of thousands: each is looked through once. */
import type { Affected, Change } from '../core/compare/changes/change.ts';

/** The operations of a change by name, each once. */
export interface Operations {
  readonly size: number;
  /** The first so many of them, in the order in which they were met. */
  readonly first: (most: number) => readonly string[];
}

export type Touched = (change: Change) => Operations;

/** `name` is asked once for each operation, by its path and then by its method: of the same text that is fast. */
export function touchedBy(name: (affected: Affected) => string): Touched {
  const named = new Map<string, Map<string, number>>();
  const names: string[] = [];
  const numbers = new Map<string, number>();
  const numberOf = (text: string): number => {
    const known = numbers.get(text);
    if (known !== undefined) return known;
    numbers.set(text, names.length);
    return names.push(text) - 1;
  };
  const number = (affected: Affected): number => {
    const row = named.get(affected.path) ?? new Map<string, number>();
    if (row.size === 0) named.set(affected.path, row);
    const known = row.get(affected.method) ?? numberOf(name(affected));
    row.set(affected.method, known);
    return known;
  };
  const known = new Map<readonly Affected[], readonly number[]>();
  const numbersOf = (list: readonly Affected[]): readonly number[] => {
    const done = known.get(list) ?? [...new Set(list.map(number))];
    known.set(list, done);
    return done;
  };
  /** By number, for which count it was met last: that takes no set for each change. */
  const met: number[] = [];
  let counts = 0;
  return ({ touches }) => {
    const lists = touches.map(numbersOf);
    counts += 1;
    return { size: distinct(lists, met, counts), first: (most) => firstOf(lists, most).map((n) => names[n] as string) };
  };
}

function distinct(lists: readonly (readonly number[])[], met: number[], now: number): number {
  let size = 0;
  for (const list of lists) {
    for (const n of list) {
      if (met[n] === now) continue;
      met[n] = now;
      size += 1;
    }
  }
  return size;
}

function firstOf(lists: readonly (readonly number[])[], most: number): readonly number[] {
  const out = new Set<number>();
  for (const list of lists) {
    for (const n of list) {
      if (out.size >= most) return [...out];
      out.add(n);
    }
  }
  return [...out];
}
