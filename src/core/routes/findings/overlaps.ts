/** Pairs of routes whose reaches share requests, and requests that show it. */
import { example } from '../../language/example.ts';
import { accepts, intersect, isEmpty } from '../../language/language.ts';
import { decide } from '../../language/limits.ts';
import { withoutIdleHeaders } from '../examples/example-request.ts';
import { follow } from '../follow/follow.ts';
import type { RoutingOutcome } from '../follow/outcome.ts';
import { methodLanguage } from '../index/route-languages.ts';
import { type Router, viewFor } from '../index/router.ts';
import type { RouteShape } from '../index/segment-tree.ts';
import { orderOf, samePattern } from '../precedence/precedence.ts';
import { cellRepresentatives } from '../reach/cover.ts';
import { hintsFor } from '../reach/hints.ts';
import { withoutUnnormalised } from '../reach/normal-paths.ts';
import { overlapping } from '../reach/overlapping.ts';
import { axesOf, conditionRelation, pathRelation, projection, sharesMethod } from '../reach/product.ts';
import { requestFrom } from '../reach/request-from.ts';
import type { Request } from '../request/request.ts';
import { ANY_METHOD, type Route } from '../table/route.ts';

export interface Overlap {
  readonly route: Route;
  readonly others: readonly Route[];
  readonly witness: Request;
}

/** The most partners named for one route, and looked at; a route that overlaps more is told by these. */
const MOST_PARTNERS = 8;
const MOST_LOOKED_AT = 400;
/** The most classes of the requests of two routes that are followed. */
const MOST_CLASSES = 500;

/**
 * Routes that take some of the requests of a later one, neither being written as the special case of the other. Each
 * witness was followed and goes to the other route.
 */
export function partialOverlaps(router: Router): readonly Overlap[] {
  if (router.facts.precedence === 'exclusive' || router.facts.precedence === 'unknown') return [];
  return partners(router, (a, b) => {
    const goesFirst = viewsOf(router, a.route, b.route).some((view) => orderOf(view, b, a) === 'first');
    if (!goesFirst || !crosses(router, a, b)) return undefined;
    return sharedRequest(router, a, b, (f) => f.leaf?.route === b.route);
  });
}

/** Routes that nothing puts in order: ties under most-specific, crossing overlaps under exclusive. */
export function ties(router: Router): readonly Overlap[] {
  const { precedence } = router.facts;
  if (precedence !== 'most-specific' && precedence !== 'exclusive') return [];
  return partners(router, (a, b) => {
    if (b.route.index > a.route.index || viewsOf(router, a.route, b.route).every((view) => orderOf(view, a, b) !== 'tie'))
      return undefined;
    // Copies of each other are another finding.
    if (samePattern(router, a.route, b.route) && conditionRelation(a, b, router) === 'equal') return undefined;
    return sharedRequest(router, a, b, (f) => f.outcome === 'ambiguous');
  });
}

/** The router as it is for the methods that both routes take. */
function viewsOf(router: Router, a: Route, b: Route): readonly Router[] {
  if (!sharesMethod(a, b, router.facts)) return [];
  if (viewFor(router, 'HEAD') === router) return [router];
  const named = new Set(['HEAD', ...a.methods, ...b.methods].filter((m) => m !== ANY_METHOD));
  const takes = (r: Route, method: string): boolean => accepts(methodLanguage(r.methods, router.facts), method);
  const shared = [...named].filter((m) => takes(a, m) && takes(b, m)).map((m) => viewFor(router, m));
  return shared.length > 0 ? [...new Set(shared)] : [viewFor(router, '~')];
}

/** For every route the partners that `shows` finds a request for. */
function partners(router: Router, shows: (a: RouteShape, b: RouteShape) => Request | undefined): readonly Overlap[] {
  return router.table.routes.flatMap((route): Overlap[] => {
    if (route.isBarrier) return [];
    const others: Route[] = [];
    let witness: Request | undefined;
    for (const leaf of router.leavesOf(route)) {
      for (const other of overlapping(router.tree, leaf.shape).slice(0, MOST_LOOKED_AT)) {
        if (other.route === route || other.route.isBarrier || others.includes(other.route) || others.length >= MOST_PARTNERS)
          continue;
        const request = decide(() => shows(leaf, other));
        if (!request.decided || request.value === undefined) continue;
        others.push(other.route);
        witness ??= request.value;
      }
    }
    return witness === undefined ? [] : [{ route, others, witness }];
  });
}

/** Do the reaches cross by path, or by conditions where the paths are equal? */
function crosses(router: Router, a: RouteShape, b: RouteShape): boolean {
  const path = pathRelation(a.shape, b.shape, router.tree.compiler);
  if (path !== 'overlapping' && path !== 'equal') return false;
  const conditions = conditionRelation(a, b, router);
  return conditions !== 'disjoint' && (path === 'overlapping' || conditions === 'overlapping');
}

/**
 * A request that both leaves match and whose following is as wanted; undefined where there is none. The usual example
 * first, then one outside all other routes that overlap the two, decided exactly.
 */
export function sharedRequest(
  router: Router,
  a: RouteShape,
  b: RouteShape,
  wanted: (following: RoutingOutcome) => boolean,
): Request | undefined {
  const compiler = router.reach;
  const box = (axes: ReturnType<typeof axesOf>) =>
    axes.map((axis) =>
      withoutUnnormalised(
        intersect(projection(a, axis, compiler, router.facts), projection(b, axis, compiler, router.facts)),
        axis,
        axes,
        router.facts,
      ),
    );
  const quick = decide(() => {
    const axes = axesOf([a, b], router);
    const sides = box(axes);
    if (sides.some(isEmpty)) return null;
    return requestFrom(
      axes,
      axes.map((axis, i) => example(sides[i] as never, hintsFor(a, axis, router)) ?? ''),
      router,
    );
  });
  if (!quick.decided || quick.value === null) return undefined;
  if (wanted(follow(router, quick.value))) return withoutIdleHeaders([router], quick.value);
  const exact = decide(() => {
    const others = overlapping(router.tree, a.shape).filter((o) => o.route !== a.route && o.route !== b.route);
    const axes = axesOf([a, b, ...others], router);
    const boxes = others.map((o) => axes.map((axis) => projection(o, axis, compiler, router.facts)));
    const texts = cellRepresentatives(box(axes), boxes, [], MOST_CLASSES);
    return texts.map((t) => requestFrom(axes, t, router)).find((r) => wanted(follow(router, r)));
  });
  return exact.decided ? exact.value : undefined;
}
