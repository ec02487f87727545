/** Who goes first where two reaches overlap. */
import { decide } from '../../language/limits.ts';
import type { Part, Piece, Shape } from '../../paths/pattern.ts';
import type { Router } from '../index/router.ts';
import { branchKey, childOf, type Node, type RouteShape, type SegmentTrie } from '../index/segment-tree.ts';
import { equalPaths, pathRelation } from '../reach/product.ts';
import { ANY_METHOD, type Route } from '../table/route.ts';
import { compareNumbers, comparePieces, type Order, thenBy } from '../table/specificity.ts';

/** Who of the routes that fit takes the request. */
export type Winner =
  | { readonly kind: 'none' }
  | { readonly kind: 'one'; readonly leaf: RouteShape }
  | { readonly kind: 'tie'; readonly leaves: readonly RouteShape[] }
  /** Nobody said how this router decides. */
  | { readonly kind: 'unknown' };

/**
 * The leaf that none of the others goes before; several where that is a tie. The leaves are in the order of `inOrder`.
 * O(n²) in the leaves that fit one request.
 */
export function selectWinner(router: Router, fitting: readonly RouteShape[]): Winner {
  const [only] = fitting;
  if (only === undefined) return { kind: 'none' };
  if (fitting.length === 1) return { kind: 'one', leaf: only };
  const { precedence, specificity, ties } = router.facts;
  if (precedence === 'unknown' || (precedence === 'most-specific' && specificity === 'unknown')) return { kind: 'unknown' };
  if (precedence === 'first-declared' || precedence === 'last-declared') return { kind: 'one', leaf: only };
  // Declaration settles what is left: asked pair by pair it could go round in a circle, where containment orders in part.
  const byDeclaration = precedence === 'most-specific' && specificity === 'containment' && ties !== 'ambiguous';
  const before = byDeclaration ? beforeTies : orderOf;
  const least = fitting.filter((leaf) => !fitting.some((other) => other !== leaf && before(router, other, leaf) === 'first'));
  if (byDeclaration)
    return {
      kind: 'one',
      leaf: (least.length === 0 ? fitting : least).reduce((a, b) => (byTies(router, a, b) === 'first' ? a : b)),
    };
  return least.length === 1
    ? { kind: 'one', leaf: least[0] as RouteShape }
    : { kind: 'tie', leaves: least.length === 0 ? fitting : least };
}

/** The leaves in the order in which the router asks them, a route once, by the shape that it asks first. */
export function sortByPrecedence(router: Router, leaves: readonly RouteShape[]): readonly RouteShape[] {
  if (leaves.length < 2) return leaves;
  const rank = (leaf: RouteShape): number => router.leavesOf(leaf.route).indexOf(leaf);
  const sorted = [...leaves].sort((a, b) => {
    const order = orderOf(router, a, b);
    if (order !== 'tie') return order === 'first' ? -1 : 1;
    return a.route.index - b.route.index || rank(a) - rank(b);
  });
  const seen = new Set<Route>();
  return sorted.filter((l) => !seen.has(l.route) && seen.add(l.route));
}

/**
 * When the router tries a route, from 1. Under containment and exclusive nothing but overlap puts routes in order, so the
 * declared order is told. O(n log n).
 */
export function tryOrder(router: Router): (route: Route) => number {
  const { precedence, specificity, anyMethod } = router.facts;
  const routes = router.table.routes.filter((r) => !r.isBarrier);
  const isRanked = (precedence === 'most-specific' && specificity !== 'containment') || anyMethod === 'last';
  const sorted = isRanked
    ? sortByPrecedence(
        router,
        routes.flatMap((r) => router.leavesOf(r)[0] ?? []),
      ).map((l) => l.route)
    : precedence === 'last-declared'
      ? [...routes].reverse()
      : routes;
  const order = new Map(sorted.map((route, i) => [route, i + 1]));
  return (route) => order.get(route) ?? 0;
}

/** Why one route lost against another, in words. */
export function reasonOf(router: Router, winner: RouteShape, loser: RouteShape): string {
  const { facts } = router;
  if (facts.trailingSlash === 'either-last' && loser.otherSlash === true && winner.otherSlash !== true)
    return 'has another slash at its end';
  if (byMethod(router, winner.route, loser.route) === 'first')
    return facts.anyMethod === 'last' && loser.route.methods.includes(ANY_METHOD) ? 'is for any method' : 'is for GET';
  switch (facts.precedence) {
    case 'last-declared':
      return 'declared earlier';
    case 'most-specific':
      if (beforeTies(router, winner, loser) !== 'tie') return 'less specific';
      return `just as specific, declared ${winner.route.index < loser.route.index ? 'later' : 'earlier'}`;
    case 'exclusive':
      return 'matches more';
    default:
      return 'declared later';
  }
}

/** Do two leaves match the same paths? */
export function samePath(router: Router, a: RouteShape, b: RouteShape): boolean {
  return a === b || equalPaths(a.shape, b.shape, router.tree.compiler);
}

/** Do the patterns of two routes match the same paths, shape by shape? */
export function samePattern(router: Router, a: Route, b: Route): boolean {
  if (a.pattern === b.pattern) return true;
  const [x, y] = [router.leavesOf(a), router.leavesOf(b)];
  return x.length === y.length && x.every((l) => y.some((m) => samePath(router, l, m)));
}

/** Which of the two takes a request that both match, in a router or in its view for one method. */
export function orderOf(router: Router, a: RouteShape, b: RouteShape): Order {
  const { facts } = router;
  const exactly =
    facts.trailingSlash === 'either-last' ? compareNumbers(Number(a.otherSlash ?? 0), Number(b.otherSlash ?? 0)) : 'tie';
  const early = thenBy(exactly, () => byMethod(router, a.route, b.route));
  if (early !== 'tie') return early;
  switch (facts.precedence) {
    case 'last-declared':
      return byIndex(b, a);
    case 'most-specific': {
      if (facts.specificity === 'left-to-right') return leftToRight(router, a, b);
      return thenBy(beforeTies(router, a, b), () => byTies(router, a, b));
    }
    case 'exclusive':
      return thenBy(byContainment(router, a, b), () => alike(a, b));
    default:
      return byIndex(a, b);
  }
}

function byIndex(a: RouteShape, b: RouteShape): Order {
  return compareNumbers(a.route.index, b.route.index);
}

/** What settles two routes that are equally specific. */
function byTies({ facts }: Router, a: RouteShape, b: RouteShape): Order {
  if (facts.ties === 'first-declared') return byIndex(a, b);
  return facts.ties === 'last-declared' ? byIndex(b, a) : 'tie';
}

/** Routes for any method last, and those for HEAD before those for GET, where the router has it so. */
function byMethod({ facts, method }: Router, a: Route, b: Route): Order {
  const isAny = (r: Route): number => Number(facts.anyMethod === 'last' && r.methods.includes(ANY_METHOD));
  const isForGet = (r: Route): number => Number(facts.head === 'before-get' && method === 'HEAD' && !r.methods.includes('HEAD'));
  return thenBy(compareNumbers(isAny(a), isAny(b)), () => compareNumbers(isForGet(a), isForGet(b)));
}

/** By how specific they are, ties left open. */
function beforeTies(router: Router, a: RouteShape, b: RouteShape): Order {
  switch (router.facts.specificity) {
    case 'literal-length':
      return thenBy(compareNumbers(-literals(a.shape), -literals(b.shape)), () =>
        thenBy(byFewest(router, a, b), () => alike(a, b)),
      );
    case 'fewest-parameters':
      return thenBy(compareNumbers(parameters(a.shape).length, parameters(b.shape).length), () => alike(a, b));
    case 'containment':
      return thenBy(byContainment(router, a, b), () => alike(a, b));
    default:
      return leftToRight({ ...router, facts: { ...router.facts, ties: 'ambiguous' } }, a, b);
  }
}

/** Fewer parameters, then fewer tails among them, then more typed ones. */
function byFewest(router: Router, a: RouteShape, b: RouteShape): Order {
  const typed = (shape: Shape): number => (router.facts.types === 'after-match' ? 0 : typedIn(shape));
  const tails = (shape: Shape): number => shape.filter((p) => p.kind === 'span').length;
  return thenBy(compareNumbers(parameters(a.shape).length, parameters(b.shape).length), () =>
    thenBy(compareNumbers(tails(a.shape), tails(b.shape)), () => compareNumbers(-typed(a.shape), -typed(b.shape))),
  );
}

function byContainment(router: Router, a: RouteShape, b: RouteShape): Order {
  const r = decide(() => pathRelation(a.shape, b.shape, router.tree.compiler));
  if (!r.decided) return 'tie';
  if (r.value === 'subset') return 'first';
  return r.value === 'superset' ? 'second' : 'tie';
}

/**
 * A tree: each place is settled before the next is looked at. Two different branches of one kind are a tie right there,
 * whatever stands behind them, and what settles it is which branch the table declared first, by whatever route.
 */
function leftToRight(router: Router, a: RouteShape, b: RouteShape): Order {
  const { facts, tree } = router;
  const length = Math.max(a.shape.length, b.shape.length);
  for (let i = 0; i < length; i++) {
    const [x, y] = [a.shape[i], b.shape[i]];
    if (x === undefined || y === undefined) return x === undefined ? 'first' : 'second';
    const order = comparePieces(x, y, facts);
    if (order !== 'tie') return order;
    if (sameBranch(tree, a.shape, b.shape, i)) {
      if (x.kind === 'span') break;
      continue;
    }
    if (x.kind === 'span') return byTail(router, a, b, i);
    return facts.ties === 'ambiguous' || facts.ties === 'unknown' ? 'tie' : byBranch(router, a, b, i);
  }
  const typed = facts.typedBranch === 'shared' ? compareNumbers(-typedIn(a.shape), -typedIn(b.shape)) : 'tie';
  return thenBy(typed, () => thenBy(alike(a, b), () => byTies(router, a, b)));
}

function sameBranch(tree: SegmentTrie, a: Shape, b: Shape, at: number): boolean {
  const { compiler } = tree;
  const [x, y] = [a[at] as Piece, b[at] as Piece];
  if (x.kind === 'span' || y.kind === 'span') return compiler.restKey(a, at) === compiler.restKey(b, at);
  return x === y || branchKey(tree, x) === branchKey(tree, y);
}

/** The branch that the table declared first, or last. */
function byBranch(router: Router, a: RouteShape, b: RouteShape, at: number): Order {
  const [x, y] = [branchIndex(router.tree, a, at), branchIndex(router.tree, b, at)];
  return router.facts.ties === 'last-declared' ? compareNumbers(y, x) : compareNumbers(x, y);
}

/** The narrower tail, where that counts; else the one that was declared first, as tails of one place are a list. */
function byTail(router: Router, a: RouteShape, b: RouteShape, at: number): Order {
  if (router.facts.tails === 'narrowest') {
    const { compiler } = router.tree;
    const r = decide(() => pathRelation(a.shape.slice(at), b.shape.slice(at), compiler));
    if (r.decided && r.value === 'subset') return 'first';
    if (r.decided && r.value === 'superset') return 'second';
    return byTies(router, a, b);
  }
  return router.facts.ties === 'last-declared'
    ? byBranch(router, a, b, at)
    : compareNumbers(branchIndex(router.tree, a, at), branchIndex(router.tree, b, at));
}

/** The index of the route by which the branch of a leaf at a place came into the tree. */
function branchIndex(tree: SegmentTrie, { shape, route }: RouteShape, at: number): number {
  let node: Node | undefined = tree.root;
  for (let i = 0; i < at && node !== undefined; i++) {
    const piece = shape[i] as Piece;
    node = piece.kind === 'span' ? undefined : childOf(tree, node, piece);
  }
  if (node === undefined) return route.index;
  const piece = shape[at] as Piece;
  if (piece.kind !== 'span') return childOf(tree, node, piece)?.first?.index ?? route.index;
  const key = tree.compiler.restKey(shape, at);
  return node.spans.find((s) => s.key === key)?.route.index ?? route.index;
}

/** Of two that match the same path: the one of which nothing optional is left out, then by what else the routes ask. */
function alike(a: RouteShape, b: RouteShape): Order {
  return thenBy(compareNumbers(Number(a.partial ?? 0), Number(b.partial ?? 0)), () => byConditions(a.route, b.route));
}

/** One method before any, HEAD before GET, then host, version, media types, fixed header or query. */
function byConditions(a: Route, b: Route): Order {
  const ranks = (r: Route): readonly boolean[] => [
    !r.methods.includes(ANY_METHOD),
    isForHeadAlone(r) && (r === a ? b : a).methods.includes('GET'),
    r.conditions.host !== undefined,
    r.conditions.version !== undefined,
    r.conditions.takes !== undefined || r.conditions.returns !== undefined,
    r.conditions.headers !== undefined || r.conditions.query !== undefined,
  ];
  const [x, y] = [ranks(a), ranks(b)];
  const at = x.findIndex((has, i) => has !== y[i]);
  if (at < 0) return 'tie';
  return x[at] ? 'first' : 'second';
}

function isForHeadAlone({ methods }: Route): boolean {
  return methods.includes('HEAD') && !methods.includes('GET');
}

function parameters(shape: Shape): readonly Part[] {
  return shape.flatMap((piece) => piece.parts.filter((p) => p.kind !== 'literal'));
}

function typedIn(shape: Shape): number {
  return parameters(shape).filter((p) => p.kind === 'parameter' && p.type.name !== 'text').length;
}

function literals(shape: Shape): number {
  return shape.reduce((n, piece) => n + piece.parts.reduce((m, p) => m + (p.kind === 'literal' ? p.text.length : 0), 0), 0);
}
