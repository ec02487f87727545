/**
 * Pairs of schemas and the pairs that they rest on, cycles included: each pair is looked at once, however many ways lead
 * to it, and without recursion. A pair is sound when neither it nor anything that it rests on is flawed (greatest fixed
 * point).
 */
import { components } from '../../base/strong-components.ts';
import { groupOf, metTwin, stepsOf, twinOf } from '../equality/equal-pairs.ts';
import { type Group, type Schema, type Twin, target } from '../model/schema.ts';
import type { Look, Pair, PairStep, Reached, Spot, Step } from './pair.ts';
import { Reach } from './shortest-path.ts';

/**
 * Pairs that are alike by their text are not looked at one by one: all that lead to each other fail together, and which
 * way leads through them is found when somebody asks.
 */
export class Web<T> {
  /** By both schemas. */
  private readonly pairs = new Map<Twin, Pair<T>>();
  private all: Pair<T>[] = [];
  private readonly groups = new Map<Group, Pair<T>>();
  /** Groups stand for what they hold. */
  folds = true;
  private found = new Map<Pair<T>, readonly Pair<T>[]>();
  /** The ways from the pair that was asked about last: many ask for all ways from one. */
  private ways: { readonly root: Pair<T>; readonly reach: Reach<T> } | undefined;

  constructor(private readonly look: Look<T>) {}

  /** The pair, with all that it rests on. O(what was not seen before). */
  pair(a: Schema, b: Schema): Pair<T> {
    const fresh: Pair<T>[] = [];
    const first = this.node(a, b, fresh);
    this.explore(fresh);
    return first;
  }

  /** The pair if it was met, or if one was that rests on it. */
  known(a: Schema, b: Schema): Pair<T> | undefined {
    const [x, y] = [target(a), target(b)];
    const twin = metTwin(x, y);
    const met = twin === undefined ? undefined : this.pairs.get(twin);
    if (met !== undefined) return met;
    const group = twin?.group;
    return group !== undefined && this.groups.has(group) ? this.pair(x, y) : undefined;
  }

  /** Another look at a flawed pair: what it rests on besides, and what is wrong now. `settle` has to be called then. */
  amend(pair: Pair<T>, flaw: T | undefined, steps: readonly Step[]): void {
    const fresh: Pair<T>[] = [];
    this.link(pair, steps, fresh);
    pair.flaw = flaw;
    this.explore(fresh);
  }

  /** All flawed pairs that one rests on. Pairs that rest on each other have the same; each is looked at once. */
  flaws(root: Pair<T>): readonly Pair<T>[] {
    if (!root.fails) return NONE;
    for (const members of components<Pair<T>>(root, failing, (p) => this.found.has(p))) {
      const own = members.filter((p) => p.flaw !== undefined);
      const lists = new Set<readonly Pair<T>[]>();
      for (const { steps } of members) for (const { to } of steps) if (to.fails) lists.add(this.found.get(to) ?? NONE);
      lists.delete(NONE);
      const list = joined(own, lists);
      for (const member of members) this.found.set(member, list);
    }
    return this.found.get(root) ?? NONE;
  }

  /** The flawed pairs nearest to one, and how they are reached. O(failing pairs on the way). */
  nearestFlaws(root: Pair<T>, most: number): readonly Reached<T>[] {
    if (!root.fails) return [];
    const reach = this.reachFrom(root);
    const met: Pair<T>[] = [];
    reach.goOn((spot) => {
      if ('flaw' in spot && spot.flaw !== undefined) met.push(spot);
      return met.length >= most;
    });
    return met.flatMap((pair) => reach.wayTo(pair) ?? []);
  }

  /** The shortest way from one failing pair to another that it rests on. O(failing pairs nearer), once for all ways from one. */
  wayBetween(root: Pair<T>, pair: Pair<T>): Reached<T> | undefined {
    if (!root.fails) return undefined;
    if (this.ways?.root !== root) this.ways = { root, reach: this.reachFrom(root) };
    return this.ways.reach.wayTo(pair);
  }

  /** What a pair does not rest on after all; all of it where `step` is left out. `settle` has to be called then. */
  cut(spot: Spot<T>, step?: { readonly pointer: string; readonly to: Spot<T> }): void {
    this.unfold();
    this.ways = undefined;
    const pair = this.pairOf(spot);
    if (step === undefined) pair.flaw = undefined;
    const gone = step === undefined ? undefined : { pointer: step.pointer, to: this.pairOf(step.to) };
    const isCut = (s: PairStep<T>): boolean => gone === undefined || (s.to === gone.to && s.pointer === gone.pointer);
    for (const { to } of pair.steps.filter(isCut)) {
      const at = to.from.indexOf(pair);
      if (at >= 0) to.from.splice(at, 1);
    }
    pair.steps = pair.steps.filter((s) => !isCut(s));
  }

  /** Takes away all failing pairs of which somebody says so. */
  cutWhere(idle: (pair: Pair<T>) => boolean): void {
    this.unfold();
    this.settle();
    for (const pair of this.all) if (pair.fails && idle(pair)) this.cut(pair);
  }

  /** Tells anew which pairs fail. O(all pairs). */
  settle(): void {
    this.ways = undefined;
    this.found = new Map();
    for (const pair of this.all) pair.fails = false;
    spread(this.all.filter((p) => p.flaw !== undefined));
  }

  private pairOf(spot: Spot<T>): Pair<T> {
    return 'flaw' in spot ? spot : this.pair(spot.a, spot.b);
  }

  private reachFrom(root: Pair<T>): Reach<T> {
    return new Reach(root, (a, b) => this.pair(a, b));
  }

  private node(a: Schema, b: Schema, fresh: Pair<T>[]): Pair<T> {
    const [x, y] = [target(a), target(b)];
    const twin = twinOf(x, y);
    const known = this.pairs.get(twin);
    if (known !== undefined) return known;
    const made = this.made(x, y, undefined);
    this.pairs.set(twin, made);
    fresh.push(made);
    return made;
  }

  private made(a: Schema, b: Schema, group: Group | undefined): Pair<T> {
    const made: Pair<T> = { a, b, flaw: undefined, fails: false, steps: [], from: [], twin: undefined, group };
    this.all.push(made);
    return made;
  }

  private explore(fresh: Pair<T>[]): void {
    const failing: Pair<T>[] = [];
    for (const pair of fresh) {
      this.grow(pair, fresh);
      if (pair.twin === undefined) this.ways = undefined;
      if (pair.flaw !== undefined || pair.steps.some((s) => s.to.fails)) failing.push(pair);
    }
    spread(failing);
  }

  private grow(pair: Pair<T>, fresh: Pair<T>[]): void {
    const { a, b, group } = pair;
    if (group !== undefined) {
      this.lead(
        pair,
        group.next.map((n) => ({
          pointer: '',
          to: 'next' in n ? this.whole(n, pair, fresh) : this.node(n.a, n.b, fresh),
        })),
      );
      return;
    }
    const twin = twinOf(a, b);
    if (twin.differs === false) return;
    if (twin.parts !== undefined) this.fold(pair, twin, fresh);
    else {
      const { flaw, steps } = this.look(a, b);
      pair.flaw = flaw;
      this.link(pair, steps, fresh);
    }
  }

  private fold(pair: Pair<T>, twin: Twin, fresh: Pair<T>[]): void {
    if (this.folds) {
      pair.twin = twin;
      this.lead(pair, [{ pointer: '', to: this.whole(groupOf(twin), pair, fresh) }]);
    } else this.link(pair, stepsOf(twin), fresh);
  }

  /** What stands for a whole group. */
  private whole(group: Group, { a, b }: Pair<T>, fresh: Pair<T>[]): Pair<T> {
    const known = this.groups.get(group);
    if (known !== undefined) return known;
    const made = this.made(a, b, group);
    this.groups.set(group, made);
    fresh.push(made);
    return made;
  }

  /** Every pair by itself from now on, because what groups have in common is no longer all. */
  private unfold(): void {
    if (!this.folds) return;
    this.folds = false;
    this.groups.clear();
    this.all = this.all.filter((p) => p.group === undefined);
    const fresh: Pair<T>[] = [];
    const folded = this.all.filter((p) => p.twin !== undefined);
    for (const pair of this.all) pair.from.splice(0, pair.from.length, ...pair.from.filter((p) => p.group === undefined));
    for (const pair of folded) {
      const { twin } = pair;
      pair.twin = undefined;
      pair.steps = [];
      if (twin !== undefined) this.fold(pair, twin, fresh);
    }
    this.explore(fresh);
  }

  private link(pair: Pair<T>, steps: readonly Step[], fresh: Pair<T>[]): void {
    this.lead(
      pair,
      steps.map((s) => ({ pointer: s.pointer, to: this.node(s.a, s.b, fresh) })),
    );
  }

  private lead(pair: Pair<T>, steps: readonly PairStep<T>[]): void {
    if (steps.length === 0) return;
    for (const { to } of steps) to.from.push(pair);
    pair.steps = pair.steps.length === 0 ? steps : [...pair.steps, ...steps];
  }
}

function failing<T>({ steps }: Pair<T>): readonly Pair<T>[] {
  const out: Pair<T>[] = [];
  for (const { to } of steps) if (to.fails) out.push(to);
  return out;
}

/** One list for all with which nothing is wrong. */
const NONE: readonly never[] = [];

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

/** One list is shared by all that rest on it alone. */
function joined<T>(own: readonly Pair<T>[], lists: ReadonlySet<readonly Pair<T>[]>): readonly Pair<T>[] {
  const [first] = lists;
  return own.length === 0 && lists.size === 1 && first !== undefined ? first : [...new Set([...own, ...[...lists].flat()])];
}
