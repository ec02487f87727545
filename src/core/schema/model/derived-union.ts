/** Unions that nobody wrote. */
import { InternTable } from '../../base/memo.ts';
import { EMPTY_KEYWORDS, idOf, type Keywords, type Schema } from './schema.ts';

const unions = new InternTable<Schema>();

const branchesOf = new WeakMap<Schema, readonly Schema[]>();

/** What such a union is of; undefined of all other schemas. */
export function derivedBranches(schema: Schema): readonly Schema[] | undefined {
  return branchesOf.get(schema);
}

/** Holds what any of these holds; the only one where there is one. The same for the same schemas, in whatever order. */
export function joinSchemas(first: Schema, others: readonly Schema[]): Schema {
  const list = [...new Set([first, ...others])].sort((x, y) => idOf(x) - idOf(y));
  if (list.length === 1) return first;
  const key = list.map(idOf).join(' ');
  const known = unions.get(key);
  if (known !== undefined) return known;
  const keywords: Keywords = { ...EMPTY_KEYWORDS, anyOf: list };
  const union: Schema = { place: first.place, raw: { anyOf: list.map((s) => s.raw) }, keywords: () => keywords };
  unions.set(key, union);
  branchesOf.set(union, list);
  return union;
}
