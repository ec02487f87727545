/** Which leaves a router looks at for a path: all that match it, or those that one walk down its tree reaches. */
import type { Facts } from './facts.ts';
import { normalise } from './normalise.ts';
import { comparePieces } from './places.ts';
import { matchesPath } from './reach.ts';
import type { Request } from './request.ts';
import type { Route } from './route.ts';
import { isOneWay, type Router, viewFor } from './router.ts';
import { type Branch, childOf, type Leaf, literalChild, matching, matchingSpans, type Node, type Tree } from './tree.ts';

/** The leaves that the router looks at, given the decoded segments of a path. */
export function candidates(router: Router, segments: readonly string[]): readonly Leaf[] {
  return isOneWay(router) ? reachedInOneWalk(router, segments) : matching(router.tree, segments);
}

/**
 * The leaves that a router reaches which takes the best branch at each place and never comes back: a literal, then the
 * narrowest parameter that holds the segment, then a tail. A slash at the end that may be there or not is no branch: where
 * the path leads nowhere as it is, the other spelling is walked.
 */
export function reachedInOneWalk(router: Router, segments: readonly string[]): readonly Leaf[] {
  const tree = router.written();
  const found = walk(tree, router.facts, segments);
  if (found.length > 0 || router.facts.trailingSlash === 'exact') return found;
  const isSlashed = segments.length > 1 && segments.at(-1) === '';
  const other = isSlashed ? segments.slice(0, -1) : [...segments, ''];
  return walk(tree, router.facts, other)
    .flatMap((leaf) => router.respelt(leaf) ?? [])
    .filter((leaf) => matchesPath(leaf.shape, segments, tree.compiler));
}

function walk(tree: Tree, facts: Facts, segments: readonly string[]): readonly Leaf[] {
  let node = tree.root;
  let lastTail: readonly Leaf[] = [];
  const behind = (): readonly Leaf[] => (facts.deadEnds === 'last-tail' ? lastTail : []);
  const fitting = (leaves: readonly Leaf[]): readonly Leaf[] =>
    tree.sharedBranch ? leaves.filter((l) => matchesPath(l.shape, segments, tree.compiler)) : leaves;
  for (let at = 0; at < segments.length; at++) {
    const tails = matchingSpans(node, segments, at);
    if (tails.length > 0) lastTail = tails;
    const next = bestBranch(tree, facts, node, segments[at] as string);
    if (next === undefined) return tails.length > 0 ? fitting(tails) : fitting(behind());
    node = next;
  }
  const ends = fitting([...node.ends, ...matchingSpans(node, segments, segments.length)]);
  return ends.length > 0 ? ends : fitting(behind());
}

function bestBranch(tree: Tree, facts: Facts, node: Node, segment: string): Node | undefined {
  return literalChild(tree, node, segment) ?? ranked(node, facts).find((b) => b.matches(segment))?.node;
}

/** The branches in the order in which a router without return looks at them: by kind, then as they were declared. */
export function ranked(node: Node, facts: Facts): readonly Branch[] {
  if (node.branches.length < 2) return node.branches;
  const place = (b: Branch): number => node.branches.indexOf(b);
  const latest = facts.ties === 'last-declared' ? -1 : 1;
  return [...node.branches].sort((a, b) => {
    const order = comparePieces(a.piece, b.piece, facts);
    return order === 'tie' ? latest * (place(a) - place(b)) : order === 'first' ? -1 : 1;
  });
}

/** The route by which the branch is there that leads a request away from a leaf in a walk without return. */
export function turnedBy(router: Router, leaf: Leaf, request: Request): readonly Route[] | undefined {
  const view = viewFor(router, request.method);
  const target = normalise(request.target, router.facts);
  if (!isOneWay(router) || !target.ok) return undefined;
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
