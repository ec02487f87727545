/**
 * Deterministic finite automata, read-only once built.
 *
 * Invariants: state 0 is the start; `edges[s]` is flat, `[lo, hi, target, ...]`, sorted by `lo`, intervals disjoint and
 * merged where they touch and lead to the same state; a missing edge means refusal; every state can be reached and can
 * still accept (trimmed), and the automaton is minimal with states numbered in breadth-first order. So two automata
 * accept the same language exactly when their `key` is equal. The empty language has no states.
 */
import { LimitReached, MAX_STATES, spend } from './limits.ts';

export interface Automaton {
  readonly accepts: readonly boolean[];
  readonly edges: readonly (readonly number[])[];
}

/** A deterministic automaton that may still have useless or equal states. */
export type RawAutomaton = Automaton;

/** Follows one symbol; -1 when refused. O(log edges). */
export function step(automaton: Automaton, state: number, symbol: number): number {
  const edges = automaton.edges[state] as readonly number[];
  for (let i = 0; i < edges.length; i += 3) {
    if (symbol < (edges[i] as number)) return -1;
    if (symbol <= (edges[i + 1] as number)) return edges[i + 2] as number;
  }
  return -1;
}

/** Does it accept this text? Linear in its length. */
export function acceptsText(automaton: Automaton, text: string): boolean {
  if (automaton.accepts.length === 0) return false;
  let state = 0;
  for (let i = 0; i < text.length; i++) {
    const symbol = text.codePointAt(i) as number;
    if (symbol > 0xffff) i += 1;
    state = step(automaton, state, symbol);
    if (state < 0) return false;
  }
  return automaton.accepts[state] as boolean;
}

/**
 * Builds a deterministic automaton from a start and a function that gives a state's outgoing edges; equal keys are one
 * state. The edges of one state must not overlap. Throws `LimitReached` beyond `MAX_STATES`.
 */
export function explore<S>(
  start: S,
  keyOf: (state: S) => string,
  edgesOf: (state: S) => readonly { readonly lo: number; readonly hi: number; readonly to: S }[],
  accepting: (state: S) => boolean,
): RawAutomaton {
  const ids = new Map<string, number>([[keyOf(start), 0]]);
  const queue: S[] = [start];
  const acceptList: boolean[] = [];
  const edges: number[][] = [];
  for (let i = 0; i < queue.length; i++) {
    const state = queue[i] as S;
    spend(4);
    acceptList.push(accepting(state));
    const flat: number[] = [];
    for (const { lo, hi, to } of edgesOf(state)) {
      const key = keyOf(to);
      let id = ids.get(key);
      if (id === undefined) {
        id = queue.length;
        if (id >= MAX_STATES) throw new LimitReached(`the automaton would need more than ${MAX_STATES} states`);
        ids.set(key, id);
        queue.push(to);
      }
      flat.push(lo, hi, id);
    }
    edges.push(flat);
  }
  return { accepts: acceptList, edges };
}

/** Trims, minimises and renumbers. O(edges · log n), as in Hopcroft's algorithm. */
export function minimise(raw: RawAutomaton): Automaton {
  const sources = sourcesOf(raw);
  const alive = liveStates(raw, sources);
  if (!alive[0]) return { accepts: [], edges: [] };
  const group = refine(raw, alive, sources);
  return renumber(raw, alive, group);
}

/** A text that is equal for equal languages. */
export function automatonKey(automaton: Automaton): string {
  return automaton.edges.map((e, s) => `${automaton.accepts[s] ? '!' : ''}${e.join(',')}`).join(';');
}

/** The states that lead to each. */
function sourcesOf({ edges }: RawAutomaton): readonly (readonly number[])[] {
  const sources: number[][] = edges.map(() => []);
  edges.forEach((out, s) => {
    for (let i = 2; i < out.length; i += 3) (sources[out[i] as number] as number[]).push(s);
  });
  return sources;
}

function liveStates(raw: RawAutomaton, sources: readonly (readonly number[])[]): boolean[] {
  const alive = raw.accepts.map((a) => a);
  const queue = alive.flatMap((a, s) => (a ? [s] : []));
  for (let i = 0; i < queue.length; i++) {
    for (const source of sources[queue[i] as number] as number[]) {
      if (!alive[source]) {
        alive[source] = true;
        queue.push(source);
      }
    }
  }
  return alive;
}

/**
 * Splits the states into groups that no text can tell apart. Where a group falls into parts its largest keeps the group's
 * number; only what leads to the states of the others has to be looked at again, and no state is among these often.
 */
function refine(raw: RawAutomaton, alive: readonly boolean[], sources: readonly (readonly number[])[]): number[] {
  const group = raw.accepts.map((a, s) => (alive[s] ? Number(a) : -1));
  const members: Set<number>[] = [new Set(), new Set()];
  group.forEach((g, s) => {
    if (g >= 0) members[g]?.add(s);
  });
  let moved: number[] = [...group.keys()].filter((s) => alive[s]);
  while (moved.length > 0) {
    const touched = new Map<number, Set<number>>();
    for (const state of moved) {
      for (const source of sources[state] as readonly number[]) {
        if (!alive[source]) continue;
        const g = group[source] as number;
        const list = touched.get(g);
        if (list === undefined) touched.set(g, new Set([source]));
        else list.add(source);
      }
    }
    moved = [];
    for (const [g, states] of touched) {
      for (const part of smallerParts(members[g] as Set<number>, states, (s) =>
        signature(raw.edges[s] as number[], group, alive),
      )) {
        for (const state of part) {
          (members[g] as Set<number>).delete(state);
          group[state] = members.length;
          moved.push(state);
        }
        members.push(new Set(part));
      }
    }
  }
  return group;
}

/** All parts of a group but the largest. Those that are not touched are one part, because nothing told them apart yet. */
function smallerParts(
  all: ReadonlySet<number>,
  touched: ReadonlySet<number>,
  keyOf: (state: number) => string,
): readonly (readonly number[])[] {
  const parts = new Map<string, number[]>();
  for (const state of touched) {
    const key = keyOf(state);
    const part = parts.get(key);
    if (part === undefined) parts.set(key, [state]);
    else part.push(state);
  }
  const rest = all.size - touched.size;
  let [largest, most] = ['', rest];
  for (const [key, part] of parts) if (part.length > most) [largest, most] = [key, part.length];
  if (most === rest) return [...parts.values()];
  parts.delete(largest);
  return rest === 0 ? [...parts.values()] : [...parts.values(), [...all].filter((s) => !touched.has(s))];
}

function signature(edges: readonly number[], group: readonly number[], alive: readonly boolean[]): string {
  return mergeEdges(edges, (t) => (alive[t] ? (group[t] as number) : -1)).join(',');
}

/** The edges with their targets renamed, refusals (-1) left out and touching intervals of one target joined. */
function mergeEdges(edges: readonly number[], rename: (target: number) => number): number[] {
  const out: number[] = [];
  for (let i = 0; i < edges.length; i += 3) {
    const to = rename(edges[i + 2] as number);
    if (to < 0) continue;
    const last = out.length - 3;
    if (last >= 0 && out[last + 2] === to && (out[last + 1] as number) + 1 === edges[i]) {
      out[last + 1] = edges[i + 1] as number;
    } else {
      out.push(edges[i] as number, edges[i + 1] as number, to);
    }
  }
  return out;
}

function renumber(raw: RawAutomaton, alive: readonly boolean[], group: readonly number[]): Automaton {
  const ids = new Map<number, number>([[group[0] as number, 0]]);
  const order = [0];
  const acceptList: boolean[] = [];
  const edges: number[][] = [];
  for (let i = 0; i < order.length; i++) {
    const s = order[i] as number;
    acceptList.push(raw.accepts[s] as boolean);
    edges.push(
      mergeEdges(raw.edges[s] as readonly number[], (t) => {
        if (!alive[t]) return -1;
        const g = group[t] as number;
        const known = ids.get(g);
        if (known !== undefined) return known;
        ids.set(g, order.length);
        order.push(t);
        return order.length - 1;
      }),
    );
  }
  return { accepts: acceptList, edges };
}
