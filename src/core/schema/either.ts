/** Unions that nobody wrote. */
import { idOf, type Keywords, NO_KEYWORDS, type Schema } from './node.ts';

const made = new Map<string, WeakRef<Schema>>();

/** Holds what any of these holds; the only one where there is one. The same for the same schemas, in whatever order. */
export function eitherOf(first: Schema, others: readonly Schema[]): Schema {
  const forms = [...new Set([first, ...others])].sort((x, y) => idOf(x) - idOf(y));
  if (forms.length === 1) return first;
  const key = forms.map(idOf).join(' ');
  const known = made.get(key)?.deref();
  if (known !== undefined) return known;
  const keywords: Keywords = { ...NO_KEYWORDS, anyOf: forms };
  const union: Schema = { place: first.place, raw: { anyOf: forms.map((s) => s.raw) }, keywords: () => keywords };
  made.set(key, new WeakRef(union));
  return union;
}
