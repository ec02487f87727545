/** Schemas that are the same text, what they refer to included: about these nothing has to be decided. */
import { sameJson } from '../json.ts';
import type { Schema } from './node.ts';
import { inside as children } from './walk.ts';

const known = new WeakMap<Schema, WeakMap<Schema, boolean>>();

interface Pair {
  readonly a: Schema;
  readonly b: Schema;
  /** The pairs that refer to this one. */
  readonly from: Pair[];
  differs: boolean;
}

/**
 * Linear in both, once for each pair, and without recursion: all pairs that references lead to are found first, then those
 * are marked that differ or lead to one that does.
 */
export function sameText(a: Schema, b: Schema): boolean {
  if (a === b) return true;
  const answer = known.get(a)?.get(b);
  if (answer !== undefined) return answer;
  const pairs = new Map<Schema, Map<Schema, Pair>>();
  const queue: Pair[] = [];
  const pairOf = (x: Schema, y: Schema): Pair => {
    const row = pairs.get(x) ?? new Map<Schema, Pair>();
    pairs.set(x, row);
    const found = row.get(y);
    if (found !== undefined) return found;
    const settled = x === y ? true : known.get(x)?.get(y);
    const made: Pair = { a: x, b: y, from: [], differs: settled === false };
    row.set(y, made);
    if (settled === undefined) queue.push(made);
    return made;
  };
  const first = pairOf(a, b);
  for (const pair of queue) {
    const next = sameJson(pair.a.raw, pair.b.raw) ? references(pair.a, pair.b) : undefined;
    if (next === undefined) pair.differs = true;
    else for (const [x, y] of next) pairOf(x, y).from.push(pair);
  }
  const wrong = [...pairs.values()].flatMap((row) => [...row.values()].filter((p) => p.differs));
  for (const pair of wrong) {
    for (const source of pair.from) {
      if (source.differs) continue;
      source.differs = true;
      wrong.push(source);
    }
  }
  for (const row of pairs.values()) for (const p of row.values()) remember(p.a, p.b, !p.differs);
  return !first.differs;
}

function remember(a: Schema, b: Schema, same: boolean): void {
  const row = known.get(a) ?? new WeakMap<Schema, boolean>();
  row.set(b, same);
  known.set(a, row);
}

/** What the references in two equal texts lead to, pair by pair; undefined where one leads nowhere and the other does not. */
function references(a: Schema, b: Schema): readonly (readonly [Schema, Schema])[] | undefined {
  const out: (readonly [Schema, Schema])[] = [];
  const queue: (readonly [Schema, Schema])[] = [[a, b]];
  for (const [x, y] of queue) {
    const [k, l] = [x.keywords(), y.keywords()];
    if (typeof k === 'boolean' || typeof l === 'boolean') {
      if (k !== l) return undefined;
      continue;
    }
    if ((k.ref === undefined) !== (l.ref === undefined)) return undefined;
    if (k.ref !== undefined && l.ref !== undefined) out.push([k.ref, l.ref]);
    const [p, q] = [children(x).filter((s) => s !== k.ref), children(y).filter((s) => s !== l.ref)];
    if (p.length !== q.length) return undefined;
    p.forEach((s, i) => {
      queue.push([s, q[i] as Schema]);
    });
  }
  return out;
}
