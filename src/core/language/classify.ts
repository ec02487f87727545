/** Cuts a language into the classes that other languages make of it, each class shown by an example. */
import { memoise } from '../base/memo.ts';
import type { Automaton } from './automaton.ts';
import { example, friendlySymbol, textOf } from './example.ts';
import { accepts, isEmpty, type Language, relation } from './language.ts';
import { LimitReached, MAX_STATES, spend } from './limits.ts';
import { type Places, placesEdges } from './product.ts';

export interface Class {
  /** The indexes of the languages that hold the texts of this class, ascending. */
  readonly members: readonly number[];
  /** One of them. */
  readonly text: string;
}

/**
 * The classes of `target` under membership in `others`: every text of the target is in exactly one. Words cost a lookup;
 * the rest one walk over the joint automaton, breadth first, so that each example is a shortest one unless a hint serves.
 * Throws `LimitReached` beyond `MAX_STATES` joint states.
 */
export function partition(target: Language, others: readonly Language[], hints: readonly string[] = []): readonly Class[] {
  if (isEmpty(target)) return [];
  const always = others.flatMap((o, i) => (covers(o, target) ? [i] : []));
  const dividing = others.flatMap((o, i) => (covers(o, target) || relation(o, target) === 'disjoint' ? [] : [i]));
  if (dividing.length === 0) return [{ members: always, text: example(target, hints) ?? '' }];
  const found = new Map<string, Class>();
  const add = (members: readonly number[], text: string): void => {
    const all = [...always, ...members].sort((a, b) => a - b);
    const key = all.join(',');
    if (!found.has(key)) found.set(key, { members: all, text });
  };
  for (const hint of [...hints, ...dividing.flatMap((i) => others[i]?.word ?? []), example(target, hints) ?? '']) {
    if (accepts(target, hint))
      add(
        dividing.filter((i) => accepts(others[i] as Language, hint)),
        hint,
      );
  }
  walk(
    [target, ...dividing.map((i) => others[i] as Language)].map((l) => l.automaton),
    dividing,
    add,
  );
  return [...found.values()];
}

let lastId = 0;

const idOf = memoise((_: Language): number => {
  lastId += 1;
  return lastId;
});

/** What was found for one target, by the others and the hints; many questions of one table are the same. */
const classesCache = new WeakMap<Language, Map<string, readonly Class[]>>();
/** So many are kept for one target. */
const MOST_KEPT = 2_000;

/** The same as `classify`, each language once, and remembered. */
export function classesOf(target: Language, others: readonly Language[], hints: readonly string[] = []): readonly Class[] {
  const unique = [...new Set(others)].sort((a, b) => idOf(a) - idOf(b));
  const row = classesCache.get(target) ?? new Map<string, readonly Class[]>();
  classesCache.set(target, row);
  const key = `${unique.map(idOf).join()}\n${hints.join('\n')}`;
  const found = row.get(key) ?? partition(target, unique, hints);
  if (row.size < MOST_KEPT) row.set(key, found);
  return found.map(({ members, text }) => {
    const held = new Set(members.map((m) => unique[m]));
    return { members: others.flatMap((o, i) => (held.has(o) ? [i] : [])), text };
  });
}

function covers(other: Language, target: Language): boolean {
  const r = relation(other, target);
  return r === 'equal' || r === 'superset';
}

/** Visits the joint automaton; automaton 0 is the target, the others are numbered by `indexes`. */
function walk(automata: readonly Automaton[], indexes: readonly number[], add: (members: number[], text: string) => void): void {
  interface Stop {
    readonly places: Places;
    readonly from: number;
    readonly symbol: number;
  }
  const stops: Stop[] = [{ places: automata.map((_, i) => [i, 0] as const), from: -1, symbol: -1 }];
  const seen = new Set<string>();
  const spelled = (stop: number): string => {
    const out: number[] = [];
    for (let at = stop; (stops[at] as Stop).from >= 0; at = (stops[at] as Stop).from) out.push((stops[at] as Stop).symbol);
    return textOf(out.reverse());
  };
  for (let i = 0; i < stops.length; i++) {
    const { places } = stops[i] as Stop;
    spend(100 * places.length);
    const live = places.filter(([a, s]) => (automata[a] as Automaton).accepts[s]);
    if (live[0]?.[0] === 0)
      add(
        live.slice(1).map(([a]) => indexes[a - 1] as number),
        spelled(i),
      );
    const moves = placesEdges(automata, places).filter(({ to }) => to[0]?.[0] === 0);
    for (const { lo, hi, to } of byFriendliness(moves)) {
      const key = to.map(([a, s]) => `${a}:${s}`).join(',');
      if (seen.has(key)) continue;
      seen.add(key);
      if (seen.size > MAX_STATES)
        throw new LimitReached(`telling ${automata.length - 1} overlapping types apart needs more than ${MAX_STATES} states`);
      stops.push({ places: to, from: i, symbol: friendlySymbol(lo, hi, [])[0] });
    }
  }
}

function byFriendliness<T extends { readonly lo: number; readonly hi: number }>(moves: readonly T[]): T[] {
  return moves
    .map((move) => ({ move, rank: friendlySymbol(move.lo, move.hi, [])[1] }))
    .sort((a, b) => a.rank - b.rank)
    .map(({ move }) => move);
}
