/**
 * What two tables don't have in common. A request that none of it matches fares the same in both: the same routes match
 * it, and in the same order.
 */
import type { Shape } from '../../paths/pattern.ts';
import { neverBacktracks, type Router } from '../index/router.ts';
import type { RouteShape } from '../index/segment-tree.ts';
import { ofAnyMethod } from '../reach/partition.ts';
import { ANY_TAIL } from '../reach/prefixes.ts';
import { isTree } from '../table/router-facts.ts';

/** The leaves of the first router whose requests may fare otherwise in the second. O(n log n) in the routes of both. */
export function changedLeaves(router: Router, other: Router): readonly RouteShape[] {
  const all = leavesOf(router);
  if (JSON.stringify([router.facts, router.versioning]) !== JSON.stringify([other.facts, other.versioning])) return all;
  const kept = longestCommonSubsequence(all.map(declarationKey), leavesOf(other).map(declarationKey));
  const changed = all.filter((_, i) => !kept.has(i));
  const reaching = router.facts.wrongMethod === 'refuse' ? changed.map(ofAnyMethod) : changed;
  // In a tree the first route of a branch puts it in order, for all routes behind it.
  return neverBacktracks(router) || (isTree(router.facts) && router.facts.ties !== 'ambiguous')
    ? [...reaching, ...beginningsOf(router, changed, new Set(all.filter((_, i) => kept.has(i))))]
    : reaching;
}

function leavesOf(router: Router): readonly RouteShape[] {
  return router.table.routes.flatMap((route) => router.leavesOf(route));
}

/** All that is declared of it, but for where it stands. */
function declarationKey({ route, shape }: RouteShape): string {
  const { methods, handler, conditions, handlerTypes, isBarrier } = route;
  return JSON.stringify([methods, handler, conditions, [...handlerTypes], isBarrier, shape]);
}

/** Which of the first list stand in the second too, in the same order, and as many of them as can be. */
function longestCommonSubsequence(a: readonly string[], b: readonly string[]): ReadonlySet<number> {
  const places = new Map<string, number[]>();
  for (const [i, name] of b.entries()) places.set(name, [...(places.get(name) ?? []), i]);
  // Those that say the same are paired in their order, so that each stands once.
  const at = a.map((name) => places.get(name)?.shift());
  return longestIncreasingSubsequence(at);
}

/** The indexes of a longest run of rising numbers, others left out. O(n log n). */
function longestIncreasingSubsequence(numbers: readonly (number | undefined)[]): ReadonlySet<number> {
  /** For each length the index at which the run ends that ends lowest, and for each index the one before it. */
  const ends: number[] = [];
  const before: (number | undefined)[] = [];
  for (const [i, n] of numbers.entries()) {
    if (n === undefined) continue;
    let [low, high] = [0, ends.length];
    while (low < high) {
      const middle = (low + high) >> 1;
      if ((numbers[ends[middle] as number] as number) < n) low = middle + 1;
      else high = middle;
    }
    before[i] = ends[low - 1];
    ends[low] = i;
  }
  const run = new Set<number>();
  for (let i = ends.at(-1); i !== undefined; i = before[i]) run.add(i);
  return run;
}

/** Where a router never comes back: the beginnings that it knows, or asks in another order, because of a changed leaf. */
function beginningsOf(router: Router, changed: readonly RouteShape[], kept: ReadonlySet<RouteShape>): readonly RouteShape[] {
  const first = new Map<string, RouteShape>();
  for (const leaf of leavesOf(router))
    for (const [key] of beginnings(leaf.shape)) if (!first.has(key) && kept.has(leaf)) first.set(key, leaf);
  const seen = new Set<string>();
  return changed.flatMap((leaf) =>
    beginnings(leaf.shape).flatMap(([key, shape]): readonly RouteShape[] => {
      const known = first.get(key);
      if (seen.has(key) || (known !== undefined && known.route.index < leaf.route.index)) return [];
      seen.add(key);
      return [ofAnyMethod({ route: { ...leaf.route, conditions: {} }, shape })];
    }),
  );
}

function beginnings(shape: Shape): readonly (readonly [key: string, shape: Shape])[] {
  const span = shape.findIndex((p) => p.kind === 'span');
  const segments = span < 0 ? shape : shape.slice(0, span);
  let key = '';
  return segments.map((piece, at) => {
    key += `/${JSON.stringify(piece.parts)}`;
    return [key, [...segments.slice(0, at + 1), ANY_TAIL]] as const;
  });
}
