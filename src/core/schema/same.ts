/** Schemas that are the same text, what they refer to included: about these nothing has to be decided. */
import { isMapping, sameJson } from '../json.ts';
import { idOf, type Schema } from './node.ts';
import { PairMap, pairKey } from './pairs.ts';
import { inside as children } from './walk.ts';

/** By the one that was made first. */
const known = new PairMap<boolean>();
const inners = new PairMap<InnerPairs | 'none'>();

export type InnerPairs = readonly { readonly pointer: string; readonly a: Schema; readonly b: Schema }[];

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
export function sameText(one: Schema, other: Schema): boolean {
  if (one === other) return true;
  // Asked in both orders, and the same in both.
  const [a, b] = idOf(one) < idOf(other) ? [one, other] : [other, one];
  const answer = known.get(a, b);
  if (answer !== undefined) return answer;
  const pairs = new Map<number, Pair>();
  const queue: Pair[] = [];
  const pairOf = (p: Schema, q: Schema): Pair => {
    const [x, y] = idOf(p) < idOf(q) ? [p, q] : [q, p];
    const key = pairKey(x, y);
    const found = pairs.get(key);
    if (found !== undefined) return found;
    const settled = x === y ? true : known.get(x, y);
    const made: Pair = { a: x, b: y, from: [], differs: settled === false };
    pairs.set(key, made);
    if (settled === undefined) queue.push(made);
    return made;
  };
  const first = pairOf(a, b);
  for (const pair of queue) {
    const next = sameTextAlone(pair.a, pair.b) ? references(pair.a, pair.b) : undefined;
    if (next === undefined) pair.differs = true;
    else for (const [x, y] of next) pairOf(x, y).from.push(pair);
  }
  const wrong = [...pairs.values()].filter((p) => p.differs);
  for (const pair of wrong) {
    for (const source of pair.from) {
      if (source.differs) continue;
      source.differs = true;
      wrong.push(source);
    }
  }
  for (const p of pairs.values()) known.set(p.a, p.b, !p.differs);
  return !first.differs;
}

/** Equal as they are written, references not followed. */
function sameTextAlone(a: Schema, b: Schema): boolean {
  return a.dialect === b.dialect && sameJson(a.raw, b.raw);
}

/** What two equal texts refer to, or are made of, pair by pair; undefined where that differs in number. */
function references(a: Schema, b: Schema): readonly (readonly [Schema, Schema])[] | undefined {
  if (isMapping(a.raw) && Object.keys(a.raw).length === 1 && '$ref' in a.raw) {
    const [k, l] = [a.keywords(), b.keywords()];
    if (typeof k === 'object' && typeof l === 'object' && k.ref !== undefined && l.ref !== undefined) return [[k.ref, l.ref]];
  }
  const inner = zipped(a, b);
  inners.set(a, b, inner ?? 'none');
  if (inner !== undefined) return inner.map((i) => [i.a, i.b] as const);
  const [p, q] = [children(a), children(b)];
  return p.length !== q.length ? undefined : p.map((s, i) => [s, q[i] as Schema] as const);
}

/** The pairs behind two texts that are equal by themselves; undefined where they aren't, or where the text is not all. */
export function innerPairs(a: Schema, b: Schema): InnerPairs | undefined {
  const found = inners.get(a, b) ?? turned(inners.get(b, a)) ?? (sameTextAlone(a, b) ? zipped(a, b) : undefined) ?? 'none';
  inners.set(a, b, found);
  return found === 'none' ? undefined : found;
}

/** The same the other way round. */
function turned(pairs: InnerPairs | 'none' | undefined): InnerPairs | 'none' | undefined {
  return typeof pairs !== 'object' ? pairs : pairs.map((p) => ({ pointer: p.pointer, a: p.b, b: p.a }));
}

function zipped(a: Schema, b: Schema): InnerPairs | undefined {
  const x = a.inner?.();
  const y = b.innerLike === undefined ? b.inner?.() : b.innerLike(x);
  if (x === undefined || y === undefined || x.length !== y.length) return undefined;
  return x.map(({ pointer, schema }, i) => ({ pointer, a: schema, b: (y[i] as (typeof x)[number]).schema }));
}
