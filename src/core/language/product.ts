/** Two automata walked at once. Each function visits at most the product of their states. */
import { type Automaton, explore, type RawAutomaton } from './automaton.ts';
import { slices } from './determinise.ts';
import { LimitReached, MAX_STATES, spend } from './limits.ts';

/** How set `a` lies to set `b`: `subset` and `superset` are strict. */
export type Relation = 'equal' | 'subset' | 'superset' | 'overlapping' | 'disjoint';

/** The automaton of a Boolean combination; `keep(false, false)` must be false. */
export function product(a: Automaton, b: Automaton, keep: (x: boolean, y: boolean) => boolean): RawAutomaton {
  return explore(
    startOf(a, b),
    ([s, t]) => `${s},${t}`,
    ([s, t]) => pairEdges(a, b, s, t).filter(({ to }) => (to[0] >= 0 || keep(false, true)) && (to[1] >= 0 || keep(true, false))),
    ([s, t]) => keep(acceptsAt(a, s), acceptsAt(b, t)),
  );
}

/** Decides the relation of two languages. */
export function relate(a: Automaton, b: Automaton): Relation {
  let both = false;
  let onlyA = false;
  let onlyB = false;
  const start = startOf(a, b);
  const width = b.accepts.length + 1;
  const seen = new Set<number>([(start[0] + 1) * width + start[1] + 1]);
  const queue: (readonly [number, number])[] = [start];
  for (let i = 0; i < queue.length && !(both && onlyA && onlyB); i++) {
    const [s, t] = queue[i] as readonly [number, number];
    spend(8);
    // A trimmed automaton can always still accept, so one side's refusal decides the rest of this branch.
    if (t < 0) onlyA = true;
    else if (s < 0) onlyB = true;
    else {
      const x = a.accepts[s] as boolean;
      const y = b.accepts[t] as boolean;
      both ||= x && y;
      onlyA ||= x && !y;
      onlyB ||= !x && y;
      for (const { to } of pairEdges(a, b, s, t)) {
        const key = (to[0] + 1) * width + to[1] + 1;
        if (!seen.has(key)) {
          seen.add(key);
          queue.push(to);
        }
      }
      if (seen.size > MAX_STATES * 20) throw new LimitReached(`comparing two types needs more than ${MAX_STATES * 20} steps`);
    }
  }
  if (!both) return onlyA || onlyB ? 'disjoint' : 'equal';
  if (onlyA) return onlyB ? 'overlapping' : 'superset';
  return onlyB ? 'subset' : 'equal';
}

/** The automaton of a union of many, built in one walk. */
export function unionOf(automata: readonly Automaton[]): RawAutomaton {
  const start = automata.flatMap((a, i) => (a.accepts.length > 0 ? [[i, 0] as const] : []));
  return explore<Places>(
    start,
    (places) => places.map((p) => p.join(':')).join(','),
    (places) => placesEdges(automata, places),
    (places) => places.some(([i, s]) => (automata[i] as Automaton).accepts[s]),
  );
}

/** Where many automata stand at once: automaton index and state, the refused ones left out. */
export type Places = readonly (readonly [number, number])[];

/** The joint moves of many automata, cut into intervals on which none of them branches. */
export function placesEdges(automata: readonly Automaton[], places: Places): { lo: number; hi: number; to: Places }[] {
  const sets: number[][] = [];
  const targets: (readonly [number, number])[] = [];
  for (const [i, s] of places) {
    const edges = (automata[i] as Automaton).edges[s] as readonly number[];
    for (let e = 0; e < edges.length; e += 3) {
      sets.push([edges[e] as number, edges[e + 1] as number]);
      targets.push([i, edges[e + 2] as number]);
    }
  }
  return slices(sets).map(({ lo, hi, members }) => ({ lo, hi, to: members.map((m) => targets[m] as readonly [number, number]) }));
}

function startOf(a: Automaton, b: Automaton): readonly [number, number] {
  return [a.accepts.length > 0 ? 0 : -1, b.accepts.length > 0 ? 0 : -1];
}

function acceptsAt(automaton: Automaton, state: number): boolean {
  return state >= 0 && (automaton.accepts[state] as boolean);
}

/** Joint moves of two automata, -1 for the one that refuses; symbols that both refuse are left out. */
function pairEdges(
  a: Automaton,
  b: Automaton,
  s: number,
  t: number,
): { lo: number; hi: number; to: readonly [number, number] }[] {
  const x = s >= 0 ? (a.edges[s] as readonly number[]) : [];
  const y = t >= 0 ? (b.edges[t] as readonly number[]) : [];
  const out: { lo: number; hi: number; to: readonly [number, number] }[] = [];
  let i = 0;
  let j = 0;
  let at = 0;
  while (i < x.length || j < y.length) {
    const xlo = i < x.length ? Math.max(x[i] as number, at) : Number.POSITIVE_INFINITY;
    const ylo = j < y.length ? Math.max(y[j] as number, at) : Number.POSITIVE_INFINITY;
    const lo = Math.min(xlo, ylo);
    const xhi = i < x.length ? (xlo === lo ? (x[i + 1] as number) : xlo - 1) : Number.POSITIVE_INFINITY;
    const yhi = j < y.length ? (ylo === lo ? (y[j + 1] as number) : ylo - 1) : Number.POSITIVE_INFINITY;
    const hi = Math.min(xhi, yhi);
    out.push({ lo, hi, to: [xlo === lo ? (x[i + 2] as number) : -1, ylo === lo ? (y[j + 2] as number) : -1] });
    at = hi + 1;
    if (i < x.length && (x[i + 1] as number) < at) i += 3;
    if (j < y.length && (y[j + 1] as number) < at) j += 3;
  }
  return out;
}
