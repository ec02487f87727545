/**
 * From an expression to an automaton: Thompson's construction, then subsets.
 *
 * Counted repetitions are where subsets explode: in `.{1,64}-.{1,64}` every dash may be the separator. But of two counts
 * in one place the lower one accepts all that the higher one does, so a subset keeps the lowest alone (`undominated`).
 */
import { type Automaton, explore, minimise } from './automaton.ts';
import { type CharSet, setHas } from './charset.ts';
import type { Expression } from './expression.ts';
import { LimitReached, MAX_STATES, spend } from './limits.ts';

interface Net {
  /** Moves without a symbol, by state. */
  readonly free: number[][];
  /** Moves without a symbol that are open only at the start or the end of the text, by state. */
  readonly edges: { readonly of: 'start' | 'end'; readonly to: number }[][];
  /** One move on a set of symbols at most, by state. */
  readonly moves: ({ readonly set: CharSet; readonly to: number } | undefined)[];
  /** For states inside a counted repetition, where no more rounds are required. */
  readonly rounds: (Round | undefined)[];
  lastRepetition: number;
}

/** The same place of the same repetition, some rounds into it: a state of an earlier round accepts all that one of a later round does. */
interface Round {
  readonly place: string;
  readonly count: number;
}

interface Subset {
  readonly states: readonly number[];
  /** Nothing has been read yet. */
  readonly first: boolean;
}

/**
 * The minimal automaton of an expression. The net has at most `MAX_STATES` states, counted repetitions unrolled, and the
 * automaton as many; throws `LimitReached` beyond.
 */
export function automatonOf(expression: Expression): Automaton {
  const { net, start, end } = netOf(expression);
  const result = explore<Subset>(
    { states: undominated(net, closure(net, [start], ['start']), end), first: true },
    ({ states, first }) => `${first ? '^' : ''}${states.join(',')}`,
    ({ states }) => subsetEdges(net, states, end),
    ({ states, first }) => closure(net, states, first ? ['start', 'end'] : ['end']).includes(end),
  );
  return minimise(result);
}

/** What is known of a language whose automaton would be too large. */
export interface Membership {
  /** Is this text in it? Cost: text times net. */
  readonly holds: (text: string) => boolean;
  /** The character sets of a shortest text; undefined where there is none. Edges of the text (`^`, `$`) are not looked at. */
  readonly shortest: readonly CharSet[] | undefined;
}

/** Membership without an automaton: the net is walked for each text. Throws `LimitReached` where the net alone is too large. */
export function membershipOf(expression: Expression): Membership {
  const { net, start, end } = netOf(expression);
  const first = undominated(net, closure(net, [start], ['start']), end);
  const holds = (text: string): boolean => {
    let states: readonly number[] = first;
    for (const char of text) {
      const symbol = char.codePointAt(0) as number;
      const targets = states.flatMap((s) => {
        const move = net.moves[s];
        return move !== undefined && setHas(move.set, symbol) ? [move.to] : [];
      });
      if (targets.length === 0) return false;
      states = undominated(net, closure(net, [...new Set(targets)]), end);
    }
    return closure(net, states, text === '' ? ['start', 'end'] : ['end']).includes(end);
  };
  return { holds, shortest: shortestPath(net, first, end) };
}

function shortestPath(net: Net, first: readonly number[], end: number): readonly CharSet[] | undefined {
  const cameBy = new Map<number, readonly [from: number, set: CharSet] | undefined>(first.map((s) => [s, undefined]));
  const queue = [...first];
  for (let i = 0; i < queue.length; i++) {
    const at = queue[i] as number;
    if (at === end) {
      const sets: CharSet[] = [];
      for (let step = cameBy.get(at); step !== undefined; step = cameBy.get(step[0])) sets.push(step[1]);
      return sets.reverse();
    }
    const move = net.moves[at];
    for (const next of move === undefined ? [] : closure(net, [move.to]))
      if (!cameBy.has(next)) {
        cameBy.set(next, [at, (move as { set: CharSet }).set]);
        queue.push(next);
      }
  }
  return undefined;
}

function netOf(expression: Expression): { net: Net; start: number; end: number } {
  const net: Net = { free: [], edges: [], moves: [], rounds: [], lastRepetition: 0 };
  const start = newState(net);
  const end = newState(net);
  connect(net, expression, start, end);
  return { net, start, end };
}

/** The states of a closure that matter: those that read, look at an edge of the text or end, and of one place the earliest round. */
function undominated(net: Net, states: readonly number[], end: number): number[] {
  const matter = states.filter((s) => s === end || net.moves[s] !== undefined || (net.edges[s] as readonly unknown[]).length > 0);
  const lowest = new Map<string, number>();
  for (const s of matter) {
    const round = net.rounds[s];
    if (round !== undefined) lowest.set(round.place, Math.min(lowest.get(round.place) ?? round.count, round.count));
  }
  if (lowest.size === 0) return matter;
  return matter.filter((s) => {
    const round = net.rounds[s];
    return round === undefined || lowest.get(round.place) === round.count;
  });
}

function newState(net: Net): number {
  if (net.free.length >= MAX_STATES) {
    throw new LimitReached(`the pattern needs more than ${MAX_STATES} states once its repetitions are written out`);
  }
  net.moves.push(undefined);
  net.edges.push([]);
  net.rounds.push(undefined);
  return net.free.push([]) - 1;
}

function connect(net: Net, expression: Expression, from: number, to: number): void {
  switch (expression.kind) {
    case 'nothing':
      return;
    case 'empty':
      free(net, from, to);
      return;
    case 'set': {
      const mid = newState(net);
      free(net, from, mid);
      net.moves[mid] = { set: expression.set, to };
      return;
    }
    case 'edge':
      (net.edges[from] as { of: 'start' | 'end'; to: number }[]).push({ of: expression.of, to });
      return;
    case 'choice':
      for (const item of expression.items) connect(net, item, from, to);
      return;
    case 'sequence': {
      let at = from;
      expression.items.forEach((item, i) => {
        const next = i === expression.items.length - 1 ? to : newState(net);
        connect(net, item, at, next);
        at = next;
      });
      if (expression.items.length === 0) free(net, from, to);
      return;
    }
    case 'repeat':
      connectRepeat(net, expression, from, to);
      return;
    case 'automaton':
      embed(net, expression.automaton, from, to);
      return;
    default:
      expression satisfies never;
  }
}

function embed(net: Net, { accepts, edges }: Automaton, from: number, to: number): void {
  const states = accepts.map(() => newState(net));
  if (states.length > 0) free(net, from, states[0] as number);
  accepts.forEach((ends, i) => {
    const state = states[i] as number;
    if (ends) free(net, state, to);
    const out = edges[i] as readonly number[];
    for (let e = 0; e < out.length; e += 3) {
      const mid = newState(net);
      free(net, state, mid);
      net.moves[mid] = { set: [out[e] as number, out[e + 1] as number], to: states[out[e + 2] as number] as number };
    }
  });
}

function connectRepeat(net: Net, { item, min, max }: Extract<Expression, { kind: 'repeat' }>, from: number, to: number): void {
  let at = from;
  for (let i = 0; i < min; i++) {
    const next = newState(net);
    connect(net, item, at, next);
    at = next;
  }
  if (max === Number.POSITIVE_INFINITY) {
    const hub = newState(net);
    const back = newState(net);
    free(net, at, hub);
    connect(net, item, hub, back);
    free(net, back, hub);
    free(net, hub, to);
    return;
  }
  net.lastRepetition += 1;
  const repetition = net.lastRepetition;
  for (let i = min; i < max; i++) {
    free(net, at, to);
    const from = net.free.length;
    const next = newState(net);
    connect(net, item, at, next);
    // Every round makes the same states in the same order. Those of a repetition within are counted there.
    for (let s = from; s < net.free.length; s++) net.rounds[s] ??= { place: `${repetition}:${s - from}`, count: i };
    at = next;
  }
  free(net, at, to);
}

function free(net: Net, from: number, to: number): void {
  (net.free[from] as number[]).push(to);
}

function closure(net: Net, states: readonly number[], open: readonly ('start' | 'end')[] = []): number[] {
  const seen = new Set(states);
  const queue = [...states];
  spend(states.length);
  for (let i = 0; i < queue.length; i++) {
    const at = queue[i] as number;
    const edges = (net.edges[at] as Net['edges'][number]).filter((e) => open.includes(e.of)).map((e) => e.to);
    for (const next of [...(net.free[at] as number[]), ...edges]) {
      if (!seen.has(next)) {
        seen.add(next);
        queue.push(next);
      }
    }
  }
  return queue.sort((a, b) => a - b);
}

function subsetEdges(net: Net, states: readonly number[], end: number): { lo: number; hi: number; to: Subset }[] {
  const moves = states.flatMap((s) => {
    const move = net.moves[s];
    return move === undefined ? [] : [move];
  });
  const closures = new Map<string, number[]>();
  return slices(moves.map((m) => m.set)).map(({ lo, hi, members }) => {
    const targets = [...new Set(members.map((m) => (moves[m] as { to: number }).to))].sort((a, b) => a - b);
    const key = targets.join(',');
    const to = closures.get(key) ?? undominated(net, closure(net, targets), end);
    closures.set(key, to);
    return { lo, hi, to: { states: to, first: false } };
  });
}

/**
 * Cuts overlapping sets into disjoint intervals, each with the indexes of the sets that hold it.
 * O(n log n) in the number of intervals, plus the size of the result.
 */
export function slices(sets: readonly CharSet[]): { lo: number; hi: number; members: number[] }[] {
  const cuts: { at: number; set: number; opens: boolean }[] = [];
  sets.forEach((set, index) => {
    for (let i = 0; i < set.length; i += 2) {
      cuts.push({ at: set[i] as number, set: index, opens: true });
      cuts.push({ at: (set[i + 1] as number) + 1, set: index, opens: false });
    }
  });
  cuts.sort((a, b) => a.at - b.at);
  const out: { lo: number; hi: number; members: number[] }[] = [];
  const open = new Set<number>();
  for (let i = 0; i < cuts.length; ) {
    const at = (cuts[i] as { at: number }).at;
    for (; i < cuts.length && (cuts[i] as { at: number }).at === at; i++) {
      const cut = cuts[i] as { set: number; opens: boolean };
      if (cut.opens) open.add(cut.set);
      else open.delete(cut.set);
    }
    if (open.size > 0 && i < cuts.length) {
      out.push({ lo: at, hi: (cuts[i] as { at: number }).at - 1, members: [...open].sort((a, b) => a - b) });
    }
  }
  return out;
}
