/**
 * Pairs of schemas and the pairs that they rest on, cycles included: each pair is looked at once, however many ways lead
 * to it, and without recursion. A pair is sound when neither it nor anything that it rests on is flawed (greatest fixed
 * point).
 */
import { type Schema, target } from './node.ts';
import { pairKey } from './pairs.ts';

/** Where in a value a step leads, when that is unknown. */
export const UNPLACED = '?';

export interface Step {
  /** Into a value (RFC 6901); empty where both speak of the same value. */
  readonly pointer: string;
  readonly a: Schema;
  readonly b: Schema;
  /** What else is known at the pair, as text; part of its identity. */
  readonly extra?: string;
}

export interface PairStep<T> {
  readonly pointer: string;
  readonly to: Pair<T>;
}

export interface Pair<T> {
  readonly a: Schema;
  readonly b: Schema;
  readonly extra: string;
  /** What is wrong with the pair itself. */
  flaw: T | undefined;
  /** It, or something that it rests on, is flawed. */
  fails: boolean;
  steps: readonly PairStep<T>[];
  readonly from: Pair<T>[];
}

/** What one pair says for itself, and which pairs it rests on. */
export type Look<T> = (a: Schema, b: Schema, extra: string) => { readonly flaw: T | undefined; readonly steps: readonly Step[] };

export class Web<T> {
  /** By both schemas, and by what else is known. */
  private readonly rows = new Map<string, Map<number, Pair<T>>>();
  private readonly all: Pair<T>[] = [];
  private found = new Map<Pair<T>, readonly Pair<T>[]>();
  /** The ways from the pair that was asked about last: many ask for all ways from one. */
  private ways: { readonly root: Pair<T>; readonly came: Map<Pair<T>, Came<T>> } | undefined;

  constructor(private readonly look: Look<T>) {}

  /** The pair, with all that it rests on. O(what was not seen before). */
  pair(a: Schema, b: Schema, extra = ''): Pair<T> {
    const fresh: Pair<T>[] = [];
    const first = this.node(a, b, extra, fresh);
    this.explore(fresh);
    return first;
  }

  /** The pair if it was met. */
  known(a: Schema, b: Schema): Pair<T> | undefined {
    return this.rows.get('')?.get(pairKey(target(a), target(b)));
  }

  /** Another look at a flawed pair: what it rests on besides, and what is wrong now. `settle` has to be called then. */
  amend(pair: Pair<T>, flaw: T | undefined, steps: readonly Step[]): void {
    const fresh: Pair<T>[] = [];
    this.link(pair, steps, fresh);
    pair.flaw = flaw;
    this.explore(fresh);
  }

  /**
   * All flawed pairs that one rests on. Pairs that rest on each other have the same; each is looked at once (Tarjan's
   * strongly connected components, without recursion).
   */
  flaws(root: Pair<T>): readonly Pair<T>[] {
    if (!root.fails) return [];
    if (!this.found.has(root)) components(root, this.found);
    return this.found.get(root) ?? [];
  }

  /** The shortest way from one failing pair to another that it rests on. O(failing pairs), once for all ways from one. */
  wayBetween(root: Pair<T>, pair: Pair<T>): Reached<T> | undefined {
    if (!root.fails) return undefined;
    if (this.ways?.root !== root) this.ways = { root, came: reach(root) };
    const { came } = this.ways;
    return came.has(pair) ? wayTo(pair, came) : undefined;
  }

  /** What a pair does not rest on after all; all of it where `step` is left out. `settle` has to be called then. */
  cut(pair: Pair<T>, step?: PairStep<T>): void {
    this.ways = undefined;
    if (step === undefined) pair.flaw = undefined;
    for (const gone of step === undefined ? pair.steps : [step]) {
      const at = gone.to.from.indexOf(pair);
      if (at >= 0) gone.to.from.splice(at, 1);
    }
    pair.steps = step === undefined ? [] : pair.steps.filter((s) => s !== step);
  }

  /** Takes away all failing pairs of which somebody says so. */
  cutWhere(idle: (pair: Pair<T>) => boolean): void {
    for (const pair of this.all) if (pair.fails && idle(pair)) this.cut(pair);
  }

  /** Tells anew which pairs fail. O(all pairs). */
  settle(): void {
    this.ways = undefined;
    this.found = new Map();
    for (const pair of this.all) pair.fails = false;
    spread(this.all.filter((p) => p.flaw !== undefined));
  }

  private node(a: Schema, b: Schema, extra: string, fresh: Pair<T>[]): Pair<T> {
    const [x, y] = [target(a), target(b)];
    let row = this.rows.get(extra);
    if (row === undefined) {
      row = new Map();
      this.rows.set(extra, row);
    }
    const key = pairKey(x, y);
    const known = row.get(key);
    if (known !== undefined) return known;
    const made: Pair<T> = { a: x, b: y, extra, flaw: undefined, fails: false, steps: [], from: [] };
    row.set(key, made);
    this.all.push(made);
    fresh.push(made);
    return made;
  }

  private explore(fresh: Pair<T>[]): void {
    if (fresh.length > 0) this.ways = undefined;
    const failing: Pair<T>[] = [];
    for (const pair of fresh) {
      const { flaw, steps } = this.look(pair.a, pair.b, pair.extra);
      pair.flaw = flaw;
      this.link(pair, steps, fresh);
      if (flaw !== undefined || pair.steps.some((s) => s.to.fails)) failing.push(pair);
    }
    spread(failing);
  }

  private link(pair: Pair<T>, steps: readonly Step[], fresh: Pair<T>[]): void {
    if (steps.length === 0) return;
    const made = steps.map((s) => ({ pointer: s.pointer, to: this.node(s.a, s.b, s.extra ?? '', fresh) }));
    for (const { to } of made) to.from.push(pair);
    pair.steps = pair.steps.length === 0 ? made : [...pair.steps, ...made];
  }
}

/** All that rest on these fail with them. */
function spread<T>(flawed: Pair<T>[]): void {
  for (const pair of flawed) pair.fails = true;
  for (const pair of flawed) {
    for (const source of pair.from) {
      if (source.fails) continue;
      source.fails = true;
      flawed.push(source);
    }
  }
}

interface Visit<T> {
  readonly pair: Pair<T>;
  readonly index: number;
  low: number;
  next: number;
  /** What the pairs below it rest on. */
  readonly lists: Set<readonly Pair<T>[]>;
}

function components<T>(root: Pair<T>, found: Map<Pair<T>, readonly Pair<T>[]>): void {
  const visits = new Map<Pair<T>, Visit<T>>();
  const waiting: Visit<T>[] = [];
  const stack: Visit<T>[] = [];
  const enter = (pair: Pair<T>): void => {
    const visit = { pair, index: visits.size, low: visits.size, next: 0, lists: new Set<readonly Pair<T>[]>() };
    visits.set(pair, visit);
    waiting.push(visit);
    stack.push(visit);
  };
  enter(root);
  for (let at = stack.at(-1); at !== undefined; at = stack.at(-1)) {
    const step = at.pair.steps[at.next];
    at.next += 1;
    if (step !== undefined) {
      const { to } = step;
      const other = visits.get(to);
      if (!to.fails) continue;
      const done = found.get(to);
      if (done !== undefined) at.lists.add(done);
      else if (other === undefined) enter(to);
      else at.low = Math.min(at.low, other.index);
      continue;
    }
    stack.pop();
    const above = stack.at(-1);
    if (above !== undefined) above.low = Math.min(above.low, at.low);
    if (at.low === at.index) {
      const group = waiting.splice(waiting.lastIndexOf(at));
      const list = joined(
        group.flatMap((v) => (v.pair.flaw === undefined ? [] : [v.pair])),
        new Set(group.flatMap((v) => [...v.lists])),
      );
      for (const v of group) found.set(v.pair, list);
    }
    const done = found.get(at.pair);
    if (above !== undefined && done !== undefined) above.lists.add(done);
  }
}

/** One list is shared by all that rest on it alone. */
function joined<T>(own: readonly Pair<T>[], lists: ReadonlySet<readonly Pair<T>[]>): readonly Pair<T>[] {
  const [first] = lists;
  return own.length === 0 && lists.size === 1 && first !== undefined ? first : [...new Set([...own, ...[...lists].flat()])];
}

/** The shortest way to a flawed pair. */
export interface Reached<T> {
  readonly pair: Pair<T>;
  /** From the first pair to this one. */
  readonly path: readonly Pair<T>[];
  /** How each pair of the path leads to the next. */
  readonly steps: readonly PairStep<T>[];
  /** All steps together. */
  readonly pointer: string;
}

/** The flawed pairs nearest to one, and how they are reached. O(failing pairs on the way). */
export function nearestFlaws<T>(root: Pair<T>, most: number): readonly Reached<T>[] {
  if (!root.fails) return [];
  const came = new Map<Pair<T>, Came<T>>([[root, undefined]]);
  const out: Reached<T>[] = [];
  for (const [pair] of came) {
    if (pair.flaw !== undefined) out.push(wayTo(pair, came));
    if (out.length >= most) break;
    for (const step of pair.steps) if (step.to.fails && !came.has(step.to)) came.set(step.to, { from: pair, step });
  }
  return out;
}

/** How each failing pair that one rests on is reached, the nearest first. */
function reach<T>(root: Pair<T>): Map<Pair<T>, Came<T>> {
  const came = new Map<Pair<T>, Came<T>>([[root, undefined]]);
  for (const [pair] of came)
    for (const step of pair.steps) if (step.to.fails && !came.has(step.to)) came.set(step.to, { from: pair, step });
  return came;
}

type Came<T> = { readonly from: Pair<T>; readonly step: PairStep<T> } | undefined;

function wayTo<T>(pair: Pair<T>, came: ReadonlyMap<Pair<T>, Came<T>>): Reached<T> {
  const path: Pair<T>[] = [pair];
  const steps: PairStep<T>[] = [];
  for (let at = came.get(pair); at !== undefined; at = came.get(at.from)) {
    path.unshift(at.from);
    steps.unshift(at.step);
  }
  // Behind a step whose place nobody knows the place is the one before it.
  const known = steps.findIndex((s) => s.pointer === UNPLACED);
  const placed = known < 0 ? steps : steps.slice(0, known);
  return { pair, path, steps, pointer: placed.map((s) => s.pointer).join('') };
}
