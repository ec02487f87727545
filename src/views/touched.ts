/** Which operations a change touches. Thousands of changes may share lists of thousands: each is looked through once. */
import type { Affected, Change } from '../core/compare/change.ts';

/** The operations of a change by name, each once, in the order in which they were met. */
export type Touched = (change: Change) => ReadonlySet<string>;

/** `name` is asked once for each operation, by its path and then by its method: of the same text that is fast. */
export function touchedBy(name: (affected: Affected) => string): Touched {
  const names = new Map<string, Map<string, string>>();
  const named = (affected: Affected): string => {
    const row = names.get(affected.path) ?? new Map<string, string>();
    if (row.size === 0) names.set(affected.path, row);
    const text = row.get(affected.method) ?? name(affected);
    row.set(affected.method, text);
    return text;
  };
  const known = new Map<readonly Affected[], ReadonlySet<string>>();
  const namesOf = (list: readonly Affected[]): ReadonlySet<string> => {
    const done = known.get(list) ?? new Set(list.map(named));
    known.set(list, done);
    return done;
  };
  return ({ touches: [first, ...others] }) => {
    if (first === undefined) return new Set();
    if (others.length === 0) return namesOf(first);
    const all = new Set(namesOf(first));
    for (const list of others) for (const one of namesOf(list)) all.add(one);
    return all;
  };
}
