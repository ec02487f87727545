/** Schemas that are the same text, what they refer to included: about these nothing has to be decided. */
import { sameJson } from '../json.ts';
import type { Schema } from './node.ts';
import { inside as children } from './walk.ts';

const known = new WeakMap<Schema, WeakMap<Schema, boolean>>();

/** Linear in both, once for each pair. A cycle of references is the same cycle while nothing differs on the way round. */
export function sameText(a: Schema, b: Schema): boolean {
  if (a === b) return true;
  const answer = known.get(a)?.get(b);
  if (answer !== undefined) return answer;
  const assumed = new Map<Schema, Set<Schema>>();
  const same = compare(a, b, assumed);
  if (!same) remember(a, b, false);
  else for (const [x, others] of assumed) for (const y of others) remember(x, y, true);
  return same;
}

function remember(a: Schema, b: Schema, same: boolean): void {
  const row = known.get(a) ?? new WeakMap<Schema, boolean>();
  row.set(b, same);
  known.set(a, row);
}

function compare(a: Schema, b: Schema, assumed: Map<Schema, Set<Schema>>): boolean {
  if (a === b) return true;
  const answer = known.get(a)?.get(b);
  if (answer !== undefined) return answer;
  const row = assumed.get(a) ?? new Set();
  if (row.has(b)) return true;
  assumed.set(a, row.add(b));
  return sameJson(a.raw, b.raw) && references(a, b, assumed);
}

/** Equal text has its references at equal places. */
function references(a: Schema, b: Schema, assumed: Map<Schema, Set<Schema>>): boolean {
  const [x, y] = [a.keywords(), b.keywords()];
  if (typeof x === 'boolean' || typeof y === 'boolean') return x === y;
  if (x.ref !== undefined || y.ref !== undefined) {
    if (x.ref === undefined || y.ref === undefined || !compare(x.ref, y.ref, assumed)) return false;
  }
  const [p, q] = [children(a).filter((s) => s !== x.ref), children(b).filter((s) => s !== y.ref)];
  return p.length === q.length && p.every((s, i) => references(s, q[i] as Schema, assumed));
}
