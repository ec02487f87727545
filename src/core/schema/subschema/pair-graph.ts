/**
 * Pairs of schemas and the pairs that they rest on, cycles included: each pair is looked at once, however many ways lead
 * to it, and without recursion. A pair is sound when neither it nor anything that it rests on is flawed (greatest fixed
 * point).
 */
import { stronglyConnectedComponents } from '../../base/strong-components.ts';
import { cachedComparison, childPairs, compareText, groupOf } from '../equality/equal-pairs.ts';
import { dereference, type PairComponent, type Schema, type TextPair } from '../model/schema.ts';
import type { Dependency, DependencyEdge, FailurePath, LocalCheck, PairNode, PathNode } from './pair.ts';
import { ShortestPaths } from './shortest-path.ts';

/**
 * Pairs that are alike by their text are not looked at one by one: all that lead to each other fail together, and which
 * way leads through them is found when somebody asks.
 */
export class PairGraph<T> {
  /** By both schemas. */
  private readonly pairs = new Map<TextPair, PairNode<T>>();
  private all: PairNode<T>[] = [];
  private readonly groups = new Map<PairComponent, PairNode<T>>();
  /** Groups stand for what they hold. */
  folds = true;
  private found = new Map<PairNode<T>, readonly PairNode<T>[]>();
  /** The ways from the pair that was asked about last: many ask for all ways from one. */
  private ways: { readonly root: PairNode<T>; readonly reach: ShortestPaths<T> } | undefined;

  constructor(private readonly look: LocalCheck<T>) {}

  /** The pair, with all that it rests on. O(what was not seen before). */
  nodeFor(a: Schema, b: Schema): PairNode<T> {
    const fresh: PairNode<T>[] = [];
    const first = this.node(a, b, fresh);
    this.expandAll(fresh);
    return first;
  }

  /** The pair if it was met, or if one was that rests on it. */
  find(a: Schema, b: Schema): PairNode<T> | undefined {
    const [x, y] = [dereference(a), dereference(b)];
    const twin = cachedComparison(x, y);
    const met = twin === undefined ? undefined : this.pairs.get(twin);
    if (met !== undefined) return met;
    const group = twin?.group;
    return group !== undefined && this.groups.has(group) ? this.nodeFor(x, y) : undefined;
  }

  /** Another look at a flawed pair: what it rests on besides, and what is wrong now. `settle` has to be called then. */
  refine(pair: PairNode<T>, flaw: T | undefined, steps: readonly Dependency[]): void {
    const fresh: PairNode<T>[] = [];
    this.addSteps(pair, steps, fresh);
    pair.localFailure = flaw;
    this.expandAll(fresh);
  }

  /** All flawed pairs that one rests on. Pairs that rest on each other have the same; each is looked at once. */
  failuresBelow(root: PairNode<T>): readonly PairNode<T>[] {
    if (!root.isRefuted) return NONE;
    for (const members of stronglyConnectedComponents<PairNode<T>>(root, failing, (p) => this.found.has(p))) {
      const own = members.filter((p) => p.localFailure !== undefined);
      const lists = new Set<readonly PairNode<T>[]>();
      for (const { dependencies } of members)
        for (const { to } of dependencies) if (to.isRefuted) lists.add(this.found.get(to) ?? NONE);
      lists.delete(NONE);
      const list = concatUnique(own, lists);
      for (const member of members) this.found.set(member, list);
    }
    return this.found.get(root) ?? NONE;
  }

  /** The flawed pairs nearest to one, and how they are reached. O(failing pairs on the way). */
  nearestFailures(root: PairNode<T>, most: number): readonly FailurePath<T>[] {
    if (!root.isRefuted) return [];
    const reach = this.reachFrom(root);
    const met: PairNode<T>[] = [];
    reach.advanceUntil((spot) => {
      if ('localFailure' in spot && spot.localFailure !== undefined) met.push(spot);
      return met.length >= most;
    });
    return met.flatMap((pair) => reach.pathTo(pair) ?? []);
  }

  /** The shortest way from one failing pair to another that it rests on. O(failing pairs nearer), once for all ways from one. */
  shortestPath(root: PairNode<T>, pair: PairNode<T>): FailurePath<T> | undefined {
    if (!root.isRefuted) return undefined;
    if (this.ways?.root !== root) this.ways = { root, reach: this.reachFrom(root) };
    return this.ways.reach.pathTo(pair);
  }

  /** What a pair does not rest on after all; all of it where `step` is left out. `settle` has to be called then. */
  removeDependency(spot: PathNode<T>, step?: { readonly pointer: string; readonly to: PathNode<T> }): void {
    this.expandComponents();
    this.ways = undefined;
    const pair = this.pairOf(spot);
    if (step === undefined) pair.localFailure = undefined;
    const gone = step === undefined ? undefined : { pointer: step.pointer, to: this.pairOf(step.to) };
    const isCut = (s: DependencyEdge<T>): boolean => gone === undefined || (s.to === gone.to && s.pointer === gone.pointer);
    for (const { to } of pair.dependencies.filter(isCut)) {
      const at = to.dependents.indexOf(pair);
      if (at >= 0) to.dependents.splice(at, 1);
    }
    pair.dependencies = pair.dependencies.filter((s) => !isCut(s));
  }

  /** Removes the refuted pairs that satisfy the predicate. */
  removeWhere(idle: (pair: PairNode<T>) => boolean): void {
    this.expandComponents();
    this.recomputeFixedPoint();
    for (const pair of this.all) if (pair.isRefuted && idle(pair)) this.removeDependency(pair);
  }

  /** Tells anew which pairs fail. O(all pairs). */
  recomputeFixedPoint(): void {
    this.ways = undefined;
    this.found = new Map();
    for (const pair of this.all) pair.isRefuted = false;
    propagateFailure(this.all.filter((p) => p.localFailure !== undefined));
  }

  private pairOf(spot: PathNode<T>): PairNode<T> {
    return 'localFailure' in spot ? spot : this.nodeFor(spot.a, spot.b);
  }

  private reachFrom(root: PairNode<T>): ShortestPaths<T> {
    return new ShortestPaths(root, (a, b) => this.nodeFor(a, b));
  }

  private node(a: Schema, b: Schema, fresh: PairNode<T>[]): PairNode<T> {
    const [x, y] = [dereference(a), dereference(b)];
    const twin = compareText(x, y);
    const known = this.pairs.get(twin);
    if (known !== undefined) return known;
    const newNode = this.made(x, y, undefined);
    this.pairs.set(twin, newNode);
    fresh.push(newNode);
    return newNode;
  }

  private made(a: Schema, b: Schema, group: PairComponent | undefined): PairNode<T> {
    const made: PairNode<T> = {
      a,
      b,
      localFailure: undefined,
      isRefuted: false,
      dependencies: [],
      dependents: [],
      twin: undefined,
      group,
    };
    this.all.push(made);
    return made;
  }

  private expandAll(fresh: PairNode<T>[]): void {
    const failing: PairNode<T>[] = [];
    for (const pair of fresh) {
      this.expand(pair, fresh);
      if (pair.twin === undefined) this.ways = undefined;
      if (pair.localFailure !== undefined || pair.dependencies.some((s) => s.to.isRefuted)) failing.push(pair);
    }
    propagateFailure(failing);
  }

  private expand(pair: PairNode<T>, fresh: PairNode<T>[]): void {
    const { a, b, group } = pair;
    if (group !== undefined) {
      this.addEdges(
        pair,
        group.next.map((n) => ({
          pointer: '',
          to: 'next' in n ? this.componentNode(n, pair, fresh) : this.node(n.a, n.b, fresh),
        })),
      );
      return;
    }
    const twin = compareText(a, b);
    if (twin.differs === false) return;
    if (twin.differingChildren !== undefined) this.condense(pair, twin, fresh);
    else {
      const { flaw, steps } = this.look(a, b);
      pair.localFailure = flaw;
      this.addSteps(pair, steps, fresh);
    }
  }

  private condense(pair: PairNode<T>, twin: TextPair, fresh: PairNode<T>[]): void {
    if (this.folds) {
      pair.twin = twin;
      this.addEdges(pair, [{ pointer: '', to: this.componentNode(groupOf(twin), pair, fresh) }]);
    } else this.addSteps(pair, childPairs(twin), fresh);
  }

  /** What stands for a whole group. */
  private componentNode(group: PairComponent, { a, b }: PairNode<T>, fresh: PairNode<T>[]): PairNode<T> {
    const known = this.groups.get(group);
    if (known !== undefined) return known;
    const made = this.made(a, b, group);
    this.groups.set(group, made);
    fresh.push(made);
    return made;
  }

  /** Expands components into single pairs; needed once an edge was removed, since members then differ. */
  private expandComponents(): void {
    if (!this.folds) return;
    this.folds = false;
    this.groups.clear();
    this.all = this.all.filter((p) => p.group === undefined);
    const fresh: PairNode<T>[] = [];
    const folded = this.all.filter((p) => p.twin !== undefined);
    for (const pair of this.all)
      pair.dependents.splice(0, pair.dependents.length, ...pair.dependents.filter((p) => p.group === undefined));
    for (const pair of folded) {
      const { twin } = pair;
      pair.twin = undefined;
      pair.dependencies = [];
      if (twin !== undefined) this.condense(pair, twin, fresh);
    }
    this.expandAll(fresh);
  }

  private addSteps(pair: PairNode<T>, steps: readonly Dependency[], fresh: PairNode<T>[]): void {
    this.addEdges(
      pair,
      steps.map((s) => ({ pointer: s.pointer, to: this.node(s.a, s.b, fresh) })),
    );
  }

  private addEdges(pair: PairNode<T>, steps: readonly DependencyEdge<T>[]): void {
    if (steps.length === 0) return;
    for (const { to } of steps) to.dependents.push(pair);
    pair.dependencies = pair.dependencies.length === 0 ? steps : [...pair.dependencies, ...steps];
  }
}

function failing<T>({ dependencies }: PairNode<T>): readonly PairNode<T>[] {
  const out: PairNode<T>[] = [];
  for (const { to } of dependencies) if (to.isRefuted) out.push(to);
  return out;
}

/** One list for all with which nothing is wrong. */
const NONE: readonly never[] = [];

/** All that rest on these fail with them. */
function propagateFailure<T>(flawed: PairNode<T>[]): void {
  for (const pair of flawed) pair.isRefuted = true;
  for (const pair of flawed) {
    for (const source of pair.dependents) {
      if (source.isRefuted) continue;
      source.isRefuted = true;
      flawed.push(source);
    }
  }
}

/** One list is shared by all that rest on it alone. */
function concatUnique<T>(own: readonly PairNode<T>[], lists: ReadonlySet<readonly PairNode<T>[]>): readonly PairNode<T>[] {
  const [first] = lists;
  return own.length === 0 && lists.size === 1 && first !== undefined ? first : [...new Set([...own, ...[...lists].flat()])];
}
