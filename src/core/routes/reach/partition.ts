/** The shapes that partition a route's reach: within one cell the router treats all requests alike. */
import { InternTable } from '../../base/memo.ts';
import { typeKey } from '../../paths/compile.ts';
import type { Part, Piece } from '../../paths/pattern.ts';
import { type ParameterType, TEXT } from '../../paths/types.ts';
import type { Router } from '../index/router.ts';
import type { RouteShape } from '../index/segment-tree.ts';
import { ANY_METHOD } from '../table/route.ts';
import { overlapping } from './overlapping.ts';
import { committingPrefixes } from './prefixes.ts';

/** Of this router, for a leaf of its own or of another table. Throws `LimitReached`. */
export function partitioningShapes(router: Router, leaf: RouteShape): readonly RouteShape[] {
  const matching = overlapping(router.tree, leaf.shape);
  const refusing = matching.flatMap((other) => acceptedBy(router, other) ?? []);
  // Where the first path that fits refuses other methods, its routes matter to every request.
  const paths = router.facts.wrongMethod === 'refuse' ? matching.map(ofAnyMethod) : [];
  return [
    ...matching.filter((other) => other.route !== leaf.route || other.shape !== leaf.shape),
    ...refusing,
    ...matching.flatMap((other) => shortOf(router, other) ?? []),
    ...paths,
    ...committingPrefixes(router, leaf.shape),
  ];
}

/** One list, by which its language is remembered. */
const EVERY: readonly string[] = [ANY_METHOD];

/** The same for every method. */
export function ofAnyMethod(leaf: RouteShape): RouteShape {
  return { ...leaf, route: { ...leaf.route, methods: EVERY } };
}

/** Leaves of a router are always the same, and the languages of their pieces are remembered by these. */
const acceptedCache = new WeakMap<Router, Map<RouteShape, RouteShape | undefined>>();

function acceptedBy(router: Router, leaf: RouteShape): RouteShape | undefined {
  const row = acceptedCache.get(router) ?? new Map<RouteShape, RouteShape | undefined>();
  acceptedCache.set(router, row);
  if (!row.has(leaf)) row.set(leaf, accepted(router, leaf));
  return row.get(leaf);
}

/** Pieces that say the same are one, and so is their language. */
const pieces = new InternTable<Piece>();

function interned(piece: Piece): Piece {
  return pieces.remember(JSON.stringify(piece), () => piece);
}

/** What of a leaf has no value that is too long. */
function shortOf(router: Router, leaf: RouteShape): RouteShape | undefined {
  const { longestValue } = router.facts;
  if (longestValue === Number.POSITIVE_INFINITY) return undefined;
  const part = (p: Part): Part => {
    if (p.kind !== 'parameter') return p;
    const { automaton } = router.reach.value(p.type);
    return {
      kind: 'expression',
      name: p.name,
      expression: { kind: 'automaton', automaton },
      source: `(${typeKey(p.type)}..${longestValue})`,
    };
  };
  return { ...leaf, shape: leaf.shape.map((piece): Piece => interned({ ...piece, parts: piece.parts.map(part) })) };
}

/** What a handler doesn't refuse of what the router hands to it; undefined where it takes all of it. */
function accepted(router: Router, leaf: RouteShape): RouteShape | undefined {
  const { handlerTypes } = leaf.route;
  const written = router.facts.types === 'after-match';
  if (handlerTypes.size === 0 && !written) return undefined;
  let refuses = false;
  const part = (p: Part): Part => {
    if (p.kind !== 'parameter') return p;
    const type: ParameterType | undefined = handlerTypes.get(p.name) ?? (written ? p.type : undefined);
    if (type === undefined || type === TEXT) return p;
    refuses = true;
    // As an expression it counts, whether or not types are part of the match.
    return { kind: 'expression', name: p.name, expression: type.expression, source: `(${typeKey(type)})` };
  };
  const shape = leaf.shape.map((piece): Piece => interned({ ...piece, parts: piece.parts.map(part) }));
  return refuses ? { ...leaf, shape } : undefined;
}
