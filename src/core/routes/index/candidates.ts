/** Which leaves a router looks at for a path: all that match it, or those that one walk down its tree reaches. */

import { normalise } from '../request/normalise.ts';
import type { Request } from '../request/request.ts';
import type { Route } from '../table/route.ts';
import type { Facts } from '../table/router-facts.ts';
import { comparePieces } from '../table/specificity.ts';
import { matchesPath } from './route-languages.ts';
import { neverBacktracks, type Router, viewFor } from './router.ts';
import {
  type Branch,
  childOf,
  literalChild,
  lookup,
  matchingSpans,
  type Node,
  type RouteShape,
  type SegmentTrie,
} from './segment-tree.ts';

/** The leaves that the router looks at, given the decoded segments of a path. */
export function candidates(router: Router, segments: readonly string[]): readonly RouteShape[] {
  return neverBacktracks(router) ? reachedInOneWalk(router, segments) : lookup(router.tree, segments);
}

/**
 * The leaves that a router reaches which takes the best branch at each place and never comes back: a literal, then the
 * narrowest parameter that holds the segment, then a tail. A slash at the end that may be there or not is no branch: where
 * the path leads nowhere as it is, the other spelling is walked.
 */
export function reachedInOneWalk(router: Router, segments: readonly string[]): readonly RouteShape[] {
  const tree = router.written();
  const found = walk(tree, router.facts, segments);
  if (found.length > 0 || router.facts.trailingSlash === 'exact') return found;
  const isSlashed = segments.length > 1 && segments.at(-1) === '';
  const other = isSlashed ? segments.slice(0, -1) : [...segments, ''];
  return walk(tree, router.facts, other)
    .flatMap((leaf) => router.respelt(leaf) ?? [])
    .filter((leaf) => matchesPath(leaf.shape, segments, tree.compiler));
}

/** What one walk reaches without coming back, and what it reaches when it comes back to the last tail. */
export function oneWalks(router: Router, segments: readonly string[]): readonly (readonly RouteShape[])[] {
  const exact = router.facts.trailingSlash === 'exact';
  if (!exact)
    return (['give-up', 'last-tail'] as const).map((deadEnds) => reachedInOneWalk(withDeadEnds(router, deadEnds), segments));
  return walks(router.written(), router.facts, segments);
}

function withDeadEnds(router: Router, deadEnds: 'give-up' | 'last-tail'): Router {
  return { ...router, facts: { ...router.facts, deadEnds } };
}

function walk(tree: SegmentTrie, facts: Facts, segments: readonly string[]): readonly RouteShape[] {
  const [without, withTail] = walks(tree, facts, segments);
  return facts.deadEnds === 'last-tail' ? withTail : without;
}

function walks(
  tree: SegmentTrie,
  facts: Facts,
  segments: readonly string[],
): readonly [readonly RouteShape[], readonly RouteShape[]] {
  let node = tree.root;
  let lastTail: readonly RouteShape[] = NOTHING;
  const fitting = (leaves: readonly RouteShape[]): readonly RouteShape[] =>
    tree.sharedBranch ? leaves.filter((l) => matchesPath(l.shape, segments, tree.compiler)) : leaves;
  for (let at = 0; at < segments.length; at++) {
    const tails = matchingSpans(node, segments, at);
    if (tails.length > 0) lastTail = tails;
    const next = bestBranch(tree, facts, node, segments[at] as string);
    if (next === undefined) return tails.length > 0 ? [fitting(tails), fitting(tails)] : [NOTHING, fitting(lastTail)];
    node = next;
  }
  const spans = matchingSpans(node, segments, segments.length);
  const ends = fitting(spans.length === 0 ? node.ends : [...node.ends, ...spans]);
  return [ends, ends.length > 0 ? ends : fitting(lastTail)];
}

const NOTHING: readonly RouteShape[] = [];

function bestBranch(tree: SegmentTrie, facts: Facts, node: Node, segment: string): Node | undefined {
  const literal = literalChild(tree, node, segment);
  if (literal !== undefined || node.branches.length === 0) return literal;
  if (node.branches.length === 1) return node.branches[0]?.matches(segment) === true ? node.branches[0].node : undefined;
  return ranked(node, facts).find((b) => b.matches(segment))?.node;
}

/** By node, for the facts by which it was last asked. */
const branchOrderCache = new WeakMap<Node, { readonly key: string; readonly branches: readonly Branch[] }>();

/** The branches in the order in which a router without return looks at them: by kind, then as they were declared. */
export function ranked(node: Node, facts: Facts): readonly Branch[] {
  if (node.branches.length < 2) return node.branches;
  const key = `${facts.types} ${facts.typedBranch} ${facts.mixed} ${facts.ties}`;
  const known = branchOrderCache.get(node);
  if (known?.key === key) return known.branches;
  const place = (b: Branch): number => node.branches.indexOf(b);
  const latest = facts.ties === 'last-declared' ? -1 : 1;
  const branches = [...node.branches].sort((a, b) => {
    const order = comparePieces(a.piece, b.piece, facts);
    return order === 'tie' ? latest * (place(a) - place(b)) : order === 'first' ? -1 : 1;
  });
  branchOrderCache.set(node, { key, branches });
  return branches;
}

/** The route by which the branch is there that leads a request away from a leaf in a walk without return. */
export function turnedBy(router: Router, leaf: RouteShape, request: Request): readonly Route[] | undefined {
  const view = viewFor(router, request.method);
  const target = normalise(request.target, router.facts);
  if (!neverBacktracks(router) || !target.ok) return undefined;
  const tree = view.written();
  let node = tree.root;
  for (const [at, segment] of target.matched.entries()) {
    const piece = leaf.shape[at];
    const next = bestBranch(tree, router.facts, node, segment);
    if (next === undefined) return undefined;
    const own = piece === undefined || piece.kind === 'span' ? undefined : childOf(tree, node, piece);
    if (own !== next) return next.first === undefined ? undefined : [next.first];
    node = next;
  }
  return undefined;
}
