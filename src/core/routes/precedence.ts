/** Who goes first where two reaches overlap. */
import type { Part, Piece, Shape } from '../paths/pattern.ts';
import { comparePieces, fewer, type Order, or } from './places.ts';
import { pathRelation } from './reach.ts';
import { ANY_METHOD, type Route } from './route.ts';
import type { Router } from './router.ts';
import type { Leaf } from './tree.ts';

/** Who of the routes that fit takes the request. */
export type First =
  | { readonly kind: 'none' }
  | { readonly kind: 'one'; readonly leaf: Leaf }
  | { readonly kind: 'tie'; readonly leaves: readonly Leaf[] }
  /** Nobody said how this router decides. */
  | { readonly kind: 'unknown' };

/** The leaf that none of the others goes before; several where that is a tie. O(n²) in the leaves that fit one request. */
export function firstOf(router: Router, fitting: readonly Leaf[]): First {
  const [only] = fitting;
  if (only === undefined) return { kind: 'none' };
  if (fitting.length === 1) return { kind: 'one', leaf: only };
  const { precedence, specificity } = router.facts;
  if (precedence === 'unknown' || (precedence === 'most-specific' && specificity === 'unknown')) return { kind: 'unknown' };
  if (precedence === 'first-declared' || precedence === 'last-declared') return { kind: 'one', leaf: only };
  // Declaration settles what is left: asked pair by pair it could go round in a circle, where containment orders in part.
  const byDeclaration = precedence === 'most-specific' && router.facts.ties === 'first-declared';
  const before = byDeclaration ? bySpecificity : orderOf;
  const least = fitting.filter((leaf) => !fitting.some((other) => other !== leaf && before(router, other, leaf) === 'first'));
  if (byDeclaration)
    return { kind: 'one', leaf: (least.length === 0 ? fitting : least).reduce((a, b) => (byIndex(a, b) === 'first' ? a : b)) };
  return least.length === 1
    ? { kind: 'one', leaf: least[0] as Leaf }
    : { kind: 'tie', leaves: least.length === 0 ? fitting : least };
}

/** The leaves in the order in which the router asks them, a route once. */
export function inOrder(router: Router, leaves: readonly Leaf[]): readonly Leaf[] {
  if (leaves.length < 2) return leaves;
  const seen = new Set<Route>();
  const once = leaves.filter((l) => !seen.has(l.route) && seen.add(l.route));
  return once.sort((a, b) => {
    const order = orderOf(router, a, b);
    return order === 'tie' ? a.route.index - b.route.index : order === 'first' ? -1 : 1;
  });
}

/**
 * When the router tries a route, from 1. Under containment and exclusive nothing but overlap puts routes in order, so the
 * declared order is told. O(n log n).
 */
export function tryOrder(router: Router): (route: Route) => number {
  const { precedence, specificity } = router.facts;
  const routes = router.table.routes.filter((r) => !r.ends);
  const ranked = precedence === 'most-specific' && specificity !== 'containment';
  const sorted = ranked
    ? inOrder(
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
export function reasonOf(router: Router, winner: Leaf, loser: Leaf): string {
  switch (router.facts.precedence) {
    case 'last-declared':
      return 'declared earlier';
    case 'most-specific':
      return bySpecificity(router, winner, loser) === 'tie' ? 'just as specific, declared later' : 'less specific';
    case 'exclusive':
      return 'matches more';
    default:
      return 'declared later';
  }
}

/** Do two leaves match the same paths? */
export function samePath(router: Router, a: Leaf, b: Leaf): boolean {
  return a === b || a.shape === b.shape || pathRelation(a.shape, b.shape, router.tree.compiler) === 'equal';
}

/** Which of the two takes a request that both match. Throws `LimitReached` under containment. */
export function orderOf(router: Router, a: Leaf, b: Leaf): Order {
  const { facts } = router;
  switch (facts.precedence) {
    case 'last-declared':
      return a.route.index > b.route.index ? 'first' : 'second';
    case 'most-specific': {
      const order = bySpecificity(router, a, b);
      return order === 'tie' && facts.ties === 'first-declared' ? byIndex(a, b) : order;
    }
    case 'exclusive':
      return or(byContainment(router, a, b), () => byConditions(a.route, b.route));
    default:
      return byIndex(a, b);
  }
}

function byIndex(a: Leaf, b: Leaf): Order {
  return a.route.index < b.route.index ? 'first' : 'second';
}

function bySpecificity(router: Router, a: Leaf, b: Leaf): Order {
  const ties = (): Order => byConditions(a.route, b.route);
  switch (router.facts.specificity) {
    case 'literal-length':
      return or(fewer(-literals(a.shape), -literals(b.shape)), () => or(byFewest(router, a, b), ties));
    case 'fewest-parameters':
      return or(byFewest(router, a, b), ties);
    case 'containment':
      return or(byContainment(router, a, b), ties);
    default:
      return or(leftToRight(router, a, b), ties);
  }
}

/** Fewer parameters, then fewer tails among them, then more typed ones. */
function byFewest(router: Router, a: Leaf, b: Leaf): Order {
  const typed = (shape: Shape): number => (router.facts.types === 'after-match' ? 0 : typedIn(shape));
  const tails = (shape: Shape): number => shape.filter((p) => p.kind === 'span').length;
  return or(fewer(parameters(a.shape).length, parameters(b.shape).length), () =>
    or(fewer(tails(a.shape), tails(b.shape)), () => fewer(-typed(a.shape), -typed(b.shape))),
  );
}

function byContainment(router: Router, a: Leaf, b: Leaf): Order {
  const r = pathRelation(a.shape, b.shape, router.tree.compiler);
  if (r === 'inside') return 'first';
  return r === 'contains' ? 'second' : 'tie';
}

/**
 * A tree: each place is settled before the next is looked at. Two different branches of one kind are a tie right there,
 * whatever stands behind them.
 */
function leftToRight(router: Router, a: Leaf, b: Leaf): Order {
  const length = Math.max(a.shape.length, b.shape.length);
  for (let i = 0; i < length; i++) {
    const [x, y] = [a.shape[i], b.shape[i]];
    if (x === undefined || y === undefined) return x === undefined ? 'first' : 'second';
    const order = comparePieces(x, y, router.facts.types !== 'after-match');
    if (order !== 'tie') return order;
    if (!sameBranch(router, a.shape, b.shape, i)) return router.facts.ties === 'first-declared' ? byIndex(a, b) : 'tie';
    if (x.kind === 'span') return 'tie';
  }
  return 'tie';
}

function sameBranch(router: Router, a: Shape, b: Shape, at: number): boolean {
  const { compiler } = router.tree;
  const [x, y] = [a[at] as Piece, b[at] as Piece];
  if (x.kind === 'span' || y.kind === 'span') return compiler.rest(a, at) === compiler.rest(b, at);
  return compiler.segment(x) === compiler.segment(y);
}

/** One method before any, then host, version, media types, fixed header or query. */
function byConditions(a: Route, b: Route): Order {
  const ranks = (r: Route): readonly boolean[] => [
    !r.methods.includes(ANY_METHOD),
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

function parameters(shape: Shape): readonly Part[] {
  return shape.flatMap((piece) => piece.parts.filter((p) => p.kind !== 'literal'));
}

function typedIn(shape: Shape): number {
  return parameters(shape).filter((p) => p.kind === 'parameter' && p.type.name !== 'text').length;
}

function literals(shape: Shape): number {
  return shape.reduce((n, piece) => n + piece.parts.reduce((m, p) => m + (p.kind === 'literal' ? p.text.length : 0), 0), 0);
}
