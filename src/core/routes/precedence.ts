/** Who goes first where two reaches overlap. */
import { literalText, type Part, type Piece, type Shape } from '../paths/pattern.ts';
import { pathRelation } from './reach.ts';
import { ANY_METHOD, type Route } from './route.ts';
import type { Router } from './router.ts';
import type { Leaf } from './tree.ts';

/** What precedence says of two overlapping leaves. */
export type Order = 'first' | 'second' | 'tie';

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
      return or(fewer(-literals(a.shape), -literals(b.shape)), () => or(byFewest(a, b), ties));
    case 'fewest-parameters':
      return or(byFewest(a, b), ties);
    case 'containment':
      return or(byContainment(router, a, b), ties);
    default:
      return or(leftToRight(a.shape, b.shape), ties);
  }
}

/** The first that decides. */
function or(order: Order, next: () => Order): Order {
  return order === 'tie' ? next() : order;
}

function fewer(a: number, b: number): Order {
  if (a === b) return 'tie';
  return a < b ? 'first' : 'second';
}

function byFewest(a: Leaf, b: Leaf): Order {
  return or(fewer(parameters(a.shape).length, parameters(b.shape).length), () => fewer(-typed(a.shape), -typed(b.shape)));
}

function byContainment(router: Router, a: Leaf, b: Leaf): Order {
  const r = pathRelation(a.shape, b.shape, router.tree.compiler);
  if (r === 'inside') return 'first';
  return r === 'contains' ? 'second' : 'tie';
}

/** A tree: each place is settled before the next is looked at. */
function leftToRight(a: Shape, b: Shape): Order {
  const length = Math.max(a.length, b.length);
  for (let i = 0; i < length; i++) {
    const [x, y] = [a[i], b[i]];
    if (x === undefined || y === undefined) return x === undefined ? 'first' : 'second';
    const order = comparePieces(x, y);
    if (order !== 'tie') return order;
  }
  return 'tie';
}

const [LITERAL, MIXED, TYPED, PLAIN, TAIL] = [0, 1, 2, 3, 4];

function comparePieces(a: Piece, b: Piece): Order {
  const kind = kindOf(a);
  const order = fewer(kind, kindOf(b));
  if (order !== 'tie' || kind !== MIXED) return order;
  return or(fewer(-leading(a).length, -leading(b).length), () => fewer(-trailing(a).length, -trailing(b).length));
}

function kindOf(piece: Piece): number {
  if (piece.kind === 'span') return TAIL as number;
  if (literalText(piece) !== undefined) return LITERAL as number;
  const [only] = piece.parts;
  if (piece.parts.length > 1 || only?.kind !== 'parameter') return MIXED as number;
  return only.type.name === 'text' ? (PLAIN as number) : (TYPED as number);
}

function leading(piece: Piece): string {
  return textOf(piece.parts[0]);
}

function trailing(piece: Piece): string {
  return textOf(piece.parts[piece.parts.length - 1]);
}

function textOf(part: Part | undefined): string {
  return part?.kind === 'literal' ? part.text : '';
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

function typed(shape: Shape): number {
  return parameters(shape).filter((p) => p.kind === 'parameter' && p.type.name !== 'text').length;
}

function literals(shape: Shape): number {
  return shape.reduce((n, piece) => n + piece.parts.reduce((m, p) => m + (p.kind === 'literal' ? p.text.length : 0), 0), 0);
}
