/**
 * The reach of a route as a product of languages: one side for the method, one for each segment of the path (or one for
 * the rest of it, where a span is involved), one for each condition. Two routes are compared side by side.
 */

import { usualText } from '../../language/example.ts';
import { disjoint, isEmpty, type Language, relation, wordLanguage } from '../../language/language.ts';
import { decide } from '../../language/limits.ts';
import type { Relation } from '../../language/product.ts';
import type { Compiler } from '../../paths/compile.ts';
import type { Piece, Shape } from '../../paths/pattern.ts';
import { anything, conditionLanguage, methodLanguage } from '../index/route-languages.ts';
import type { Router } from '../index/router.ts';
import type { RouteShape } from '../index/segment-tree.ts';
import { namedSelector } from '../request/requested-version.ts';
import type { Conditions, Route } from '../table/route.ts';
import type { Facts } from '../table/router-facts.ts';

/** One side of the product. `segment` and `rest` count from 0. */
export type Axis =
  | { readonly kind: 'method' | 'host' | 'version' | 'takes' | 'returns' }
  | { readonly kind: 'segment' | 'rest'; readonly at: number }
  | { readonly kind: 'header' | 'query'; readonly name: string };

/** What a request has where it has nothing: no header, no version. A lone surrogate, so no real text is like it. */
export const ABSENT = '\ud801';

/** The sides that matter when these leaves are compared: those that any of them says something about. */
export function axesOf(
  leaves: readonly RouteShape[],
  { versioning, facts }: Pick<Router, 'versioning' | 'facts'>,
): readonly Axis[] {
  let plain = Number.POSITIVE_INFINITY;
  let longest = 0;
  for (const { shape } of leaves) {
    plain = Math.min(plain, plainLength(shape));
    longest = Math.max(longest, shape.length);
  }
  const axes: Axis[] = [{ kind: 'method' }];
  for (let at = 0; at < plain; at++) axes.push({ kind: 'segment', at });
  if (leaves.some((l) => plainLength(l.shape) < l.shape.length) || longest > plain) axes.push({ kind: 'rest', at: plain });
  if (leaves.every((l) => isBare(l.route.conditions))) return axes;
  for (const kind of ['host', 'version', 'takes', 'returns'] as const) {
    if (kind === 'version' && (versioning === undefined || namedSelector(versioning).selector === 'path')) continue;
    // Where the router ignores a header, it tells no routes apart.
    if ((kind === 'takes' && facts.unsupported !== 'refuse') || (kind === 'returns' && facts.unacceptable !== 'refuse')) continue;
    if (leaves.some((l) => l.route.conditions[kind] !== undefined)) axes.push({ kind });
  }
  for (const [kind, field] of [
    ['header', 'headers'],
    ['query', 'query'],
  ] as const) {
    const names = new Set(
      leaves.flatMap((l) => Object.keys(l.route.conditions[field] ?? {}).map((n) => (kind === 'header' ? n.toLowerCase() : n))),
    );
    for (const name of names) axes.push({ kind, name });
  }
  return axes;
}

/** Nothing beyond method and path is asked. */
function isBare(conditions: Conditions): boolean {
  for (const _ in conditions) return false;
  return true;
}

/** How many pieces stand before the first span. */
function plainLength(shape: Shape): number {
  const span = shape.findIndex((p) => p.kind === 'span');
  return span < 0 ? shape.length : span;
}

/** The language of a leaf on one axis; everything where it says nothing. */
export function projection(leaf: RouteShape, axis: Axis, compiler: Compiler, facts: Facts): Language {
  const { conditions, methods } = leaf.route;
  switch (axis.kind) {
    case 'method':
      return methodLanguage(methods, facts);
    case 'segment':
      return compiler.segment(leaf.shape[axis.at] as Extract<Piece, { kind: 'segment' }>);
    case 'rest':
      return compiler.rest(leaf.shape, axis.at);
    case 'header': {
      const wanted = Object.entries(conditions.headers ?? {}).find(([name]) => name.toLowerCase() === axis.name)?.[1];
      return wanted === undefined ? anything() : wordLanguage(wanted);
    }
    case 'query': {
      const wanted = conditions.query?.[axis.name];
      return wanted === undefined ? anything() : wordLanguage(wanted);
    }
    default:
      return conditionLanguage(conditions, axis.kind);
  }
}

/** How the paths of two leaves lie to each other, conditions left aside. Throws `LimitReached`. */
export function pathRelation(a: Shape, b: Shape, compiler: Compiler): Relation {
  const plain = Math.min(plainLength(a), plainLength(b));
  let result: Relation = 'equal';
  for (let i = 0; i < plain && result !== 'disjoint'; i++) {
    const [x, y] = [a[i] as Extract<Piece, { kind: 'segment' }>, b[i] as Extract<Piece, { kind: 'segment' }>];
    result = productRelation(result, relation(compiler.segment(x), compiler.segment(y)));
  }
  if (result === 'disjoint' || (a.length === plain && b.length === plain)) return result;
  return productRelation(result, relation(compiler.rest(a, plain), compiler.rest(b, plain)));
}

/** Do two shapes share no path? False where a limit leaves it open. */
export function disjointPaths(a: Shape, b: Shape, compiler: Compiler): boolean {
  const found = decide(() => pathRelation(a, b, compiler));
  return found.decided && found.value === 'disjoint';
}

/** Do two shapes match the same paths? False where a limit leaves it open. */
export function equalPaths(a: Shape, b: Shape, compiler: Compiler): boolean {
  if (a === b) return true;
  const found = decide(() => pathRelation(a, b, compiler));
  return found.decided && found.value === 'equal';
}

/** The relation of two products from those of their sides. */
export function productRelation(a: Relation, b: Relation): Relation {
  if (a === 'disjoint' || b === 'disjoint') return 'disjoint';
  if (a === 'equal' || a === b) return b;
  return b === 'equal' ? a : 'overlapping';
}

/** Is there a method that both take? */
export function sharesMethod(a: Route, b: Route, facts: Facts): boolean {
  return a.methods === b.methods || !disjoint(methodLanguage(a.methods, facts), methodLanguage(b.methods, facts));
}

/** A path that the leaf matches, segment by segment; undefined where it has a span. */
export function samplePath(leaf: RouteShape, compiler: Compiler): readonly string[] | undefined {
  const out: string[] = [];
  for (const piece of leaf.shape) {
    if (piece.kind === 'span') return undefined;
    const language = compiler.segment(piece);
    if (isEmpty(language)) return undefined;
    out.push(language.word ?? usualText(language));
  }
  return out;
}

/** How two routes' conditions lie to each other, the method among them. */
export function conditionRelation(a: RouteShape, b: RouteShape, router: Router): Relation {
  const { facts, tree } = router;
  const { compiler } = tree;
  if (isBare(a.route.conditions) && isBare(b.route.conditions)) {
    return relation(methodLanguage(a.route.methods, facts), methodLanguage(b.route.methods, facts));
  }
  const axes = axesOf([a, b], router).filter((axis) => axis.kind !== 'segment' && axis.kind !== 'rest');
  return axes
    .map((axis) => relation(projection(a, axis, compiler, facts), projection(b, axis, compiler, facts)))
    .reduce<Relation>(productRelation, 'equal');
}
