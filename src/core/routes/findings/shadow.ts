/** Which routes can't be reached because others handle all that they would match. */
import { isEmpty, subtract, upperBound, wordLanguage } from '../../language/language.ts';
import { decide, LimitReached } from '../../language/limits.ts';
import { exampleFor, examplesAmong, withoutIdleHeaders } from '../examples/example-request.ts';
import { follow } from '../follow/follow.ts';
import type { RoutingOutcome } from '../follow/outcome.ts';
import { turnedBy } from '../index/candidates.ts';
import { losesItsSlash, neverBacktracks, type Router, viewFor } from '../index/router.ts';
import type { RouteShape } from '../index/segment-tree.ts';
import { samePattern } from '../precedence/precedence.ts';
import { predecessorsOf } from '../precedence/preceding.ts';
import { type Box, type Cover, cover } from '../reach/cover.ts';
import { hintsFor } from '../reach/hints.ts';
import { withoutUnnormalised } from '../reach/normal-paths.ts';
import { partitioningShapes } from '../reach/partition.ts';
import { type Axis, axesOf, conditionRelation, equalPaths, projection } from '../reach/product.ts';
import { requestFrom } from '../reach/request-from.ts';
import type { Request } from '../request/request.ts';
import { ANY_METHOD, type Route } from '../table/route.ts';

export interface Shadow {
  readonly route: Route;
  /** Its methods that never arrive; all of them when nothing of it is left. */
  readonly methods: readonly string[];
  readonly whole: boolean;
  /** The routes that handle its requests together, in declared order; none where the router itself does. */
  readonly by: readonly Route[];
  /** A request that looks as if it were this route's. */
  readonly witness: Request;
  /** What of the router alone keeps requests away: the slash that it takes off, HEAD looked up as GET, or the longest value. */
  readonly router?: 'slash' | 'head' | 'length';
}

export interface Undecided {
  readonly route: Route;
  readonly why: string;
}

/** The most classes of requests that are followed for one question. */
const MAX_CLASSES = 4_000;

/**
 * The shadow over a route, if there is one. A route is looked at method by method: covered for `GET` alone, it is still
 * alive for `POST`. Where the precedence is unknown nothing is said here.
 */
export function shadowOf(router: Router, route: Route): Shadow | Undecided | undefined {
  if (route.isBarrier || router.facts.precedence === 'unknown') return undefined;
  const leaves = router.leavesOf(route);
  const witness = (method: string): Request => exampleFor(router, leaves[0] as RouteShape, method);
  if (losesItsSlash(router, route.pattern)) {
    const usual = witness(route.methods[0] as string);
    const single: Request = { ...usual, target: usual.target.replace(/\/\/(?=\?|$)/u, '/') };
    return { route, methods: route.methods, whole: true, by: [], witness: single, router: 'slash' };
  }
  const dead = new Map<string, readonly Route[]>();
  for (const method of route.methods) {
    const life = lifeOf(router, route, method);
    if ('why' in life) return { route, why: life.why };
    if ('by' in life) dead.set(method, life.by);
  }
  if (leaves.every((leaf) => isTooLong(router, leaf))) {
    const long = exampleFor({ ...router, reach: router.tree.compiler }, leaves[0] as RouteShape, route.methods[0] as string);
    return { route, methods: route.methods, whole: true, by: [], witness: long, router: 'length' };
  }
  const [first] = dead.keys();
  if (first === undefined) return undefined;
  const by = [...new Set([...dead.values()].flat())].sort((a, b) => a.index - b.index);
  const isHead = dead.size === 1 && first === 'HEAD' && router.facts.head === 'is-get';
  return {
    route,
    methods: [...dead.keys()],
    whole: dead.size === route.methods.length,
    by,
    witness: witness(first),
    ...(isHead ? { router: 'head' as const } : {}),
  };
}

/** Is every value of some parameter longer than this router accepts? */
function isTooLong(router: Router, { shape }: RouteShape): boolean {
  if (router.facts.longestValue === Number.POSITIVE_INFINITY) return false;
  return shape.some((piece) => piece.kind === 'segment' && isEmpty(router.reach.segment(piece)));
}

/** A request that reaches the route, or one that nothing settles; undefined where nothing does, or where a limit was reached. */
export function requestFor(router: Router, route: Route): Request | undefined {
  if (losesItsSlash(router, route.pattern)) return undefined;
  let tied: Request | undefined;
  for (const method of route.methods) {
    const life = lifeOf(router, route, method);
    if ('request' in life) return life.request;
    if ('tied' in life) tied ??= life.tied;
  }
  return tied;
}

/** The same for one of its methods; undefined for one that nothing settles too. */
export function requestWith(router: Router, route: Route, method: string): Request | undefined {
  const life = decide(() => (losesItsSlash(router, route.pattern) ? undefined : lifeOf(router, route, method)));
  return life.decided && life.value !== undefined && 'request' in life.value ? life.value.request : undefined;
}

/** Does a route get any request of a method: one that shows it, or who handles them all instead. */
type Life =
  | { readonly request: Request }
  | { readonly by: readonly Route[] }
  | { readonly why: string }
  /** Nothing wins, but nothing goes before it either: what it gets is ambiguous. */
  | { readonly tied: Request };

function lifeOf(router: Router, route: Route, method: string): Life {
  const leaves = router.leavesOf(route);
  if (method === ANY_METHOD && viewFor(router, 'HEAD') !== router) return lifeOfAny(router, route);
  const isGet = router.facts.head === 'is-get' && !route.methods.includes('GET') && !route.methods.includes(ANY_METHOD);
  if (method === 'HEAD' && isGet) return { by: takersOfGet(router, leaves) };
  for (const leaf of leaves) {
    const usual = exampleFor(router, leaf, method);
    if (follow(router, usual).leaf?.route === route) return { request: usual };
  }
  const lives = leaves.map((leaf) => exactly(router, leaf, method));
  const alive = lives.find((l) => 'request' in l) ?? lives.find((l) => 'tied' in l) ?? lives.find((l) => 'why' in l);
  return alive ?? { by: lives.flatMap((l) => ('by' in l ? l.by : [])) };
}

/** Where each method has a view of its own, a route for any method is looked at in all of them. */
function lifeOfAny(router: Router, route: Route): Life {
  const named = new Set(router.table.routes.flatMap((r) => r.methods));
  named.delete(ANY_METHOD);
  const lives = [...named, 'HEAD', '~'].map((method) => lifeOf(router, route, method));
  const alive = lives.find((l) => 'request' in l) ?? lives.find((l) => !('by' in l));
  return alive ?? { by: lives.flatMap((l) => ('by' in l ? l.by : [])) };
}

/** Who gets the HEAD requests of a route in a router that looks them up as GET. */
function takersOfGet(router: Router, leaves: readonly RouteShape[]): readonly Route[] {
  return leaves.flatMap((leaf) => follow(router, exampleFor(router, leaf, 'HEAD')).leaf?.route ?? []);
}

function exactly(router: Router, leaf: RouteShape, method: string): Life {
  const found = decide(() => (isPairwise(router, method) ? byCover(router, leaf, method) : byClasses(router, leaf, method)));
  return found.decided ? found.value : { why: found.why };
}

/** Does it rest on pairs of routes alone who wins? Then a route is dead where the union of those before it covers it. */
function isPairwise(router: Router, method: string): boolean {
  const { facts } = router;
  const isCircular = facts.precedence === 'most-specific' && facts.specificity === 'containment' && facts.ties !== 'ambiguous';
  const endsByGroup = facts.options === 'by-group' && method === 'OPTIONS';
  return !neverBacktracks(router) && facts.wrongMethod !== 'refuse' && !isCircular && !endsByGroup;
}

/** Follows one request of each class that the router tells apart. */
function byClasses(router: Router, leaf: RouteShape, method: string): Life {
  const by = new Set<Route>();
  let tied: Request | undefined;
  for (const request of classesOf(router, leaf, method)) {
    const following = follow(router, request);
    if (following.leaf?.route === leaf.route) return { request };
    if (following.outcome === 'undecided') return { why: following.why ?? 'undecided' };
    if (following.outcome === 'ambiguous' && following.alsoMatched.some((a) => a.leaf.route === leaf.route)) tied ??= request;
    for (const route of takersOf(router, leaf, request, following)) by.add(route);
  }
  return tied === undefined ? { by: [...by] } : { tied };
}

/** A request of each class; where the router takes slashes off, those of paths that end in one last. */
function* classesOf(router: Router, leaf: RouteShape, method: string): Generator<Request> {
  const cuts = partitioningShapes(router, leaf);
  yield* examplesAmong([router], leaf, method, cuts, MAX_CLASSES);
  const { trailingSlash } = router.facts;
  if (trailingSlash === 'removed' || trailingSlash === 'ignored')
    yield* examplesAmong([router], leaf, method, cuts, MAX_CLASSES, 'all');
}

function takersOf(
  router: Router,
  leaf: RouteShape,
  request: Request,
  { leaf: taker, alsoMatched }: RoutingOutcome,
): readonly Route[] {
  if (taker !== undefined) {
    // The first of one path may have put the taker in its place.
    const same =
      router.facts.wrongMethod === 'refuse' ? alsoMatched.filter((a) => samePattern(router, a.leaf.route, taker.route)) : [];
    return [taker.route, ...same.map((a) => a.leaf.route).filter((r) => r !== leaf.route)];
  }
  const others = alsoMatched.map((a) => a.leaf.route).filter((r) => r !== leaf.route);
  return others.length > 0 ? others : (turnedBy(router, leaf, request) ?? []);
}

function byCover(router: Router, leaf: RouteShape, method: string): Life {
  const view = viewFor(router, method);
  const rivals = predecessorsOf(view, leaf);
  const found = coverBy(router, leaf, rivals, method);
  if (!found.covered) {
    const request = withoutIdleHeaders([router], found.request);
    const { leaf: taker, outcome, why } = follow(router, request);
    if (taker?.route === leaf.route) return { request };
    if (outcome === 'undecided') return { why: why ?? 'undecided' };
    return { tied: request };
  }
  const by = found.by.map((i) => rivals[i] as RouteShape);
  if (router.facts.longestValue !== Number.POSITIVE_INFINITY && by.some(sharesSegment))
    throw new LimitReached('how two parameters share a segment decides whether a value is too long (longestValue)');
  return { by: by.map((l) => l.route) };
}

/** Do two parameters share a segment? */
function sharesSegment({ shape }: RouteShape): boolean {
  return shape.some((piece) => piece.parts.filter((p) => p.kind !== 'literal').length > 1);
}

/** Do two leaves match the same requests? */
export function equalReach(router: Router, a: RouteShape, b: RouteShape): boolean {
  return equalPaths(a.shape, b.shape, router.tree.compiler) && conditionRelation(a, b, router) === 'equal';
}

type RequestCover =
  | { readonly covered: true; readonly by: readonly number[] }
  | { readonly covered: false; readonly request: Request };

function coverBy(router: Router, leaf: RouteShape, rivals: readonly RouteShape[], method: string): RequestCover {
  const one: RouteShape = { ...leaf, route: { ...leaf.route, methods: [method] } };
  const axes = axesOf([leaf, ...rivals], router);
  const box = (l: RouteShape): Box => axes.map((axis) => projection(l, axis, router.reach, router.facts));
  const hints = axes.map((axis) => hintsFor(leaf, axis, router));
  const boxOf = (paths: 'usual' | 'all'): Box =>
    axes.map((axis) => withoutUnnormalised(projection(one, axis, router.reach, router.facts), axis, axes, router.facts, paths));
  const [usual, own] = [boxOf('usual'), boxOf('all')];
  const others = rivals.map(box);
  // What people send comes first; a path that is left of one with two slashes at its end counts too.
  const found = usual.some(isEmpty) ? undefined : coverWithin(usual, others, hints, router, axes);
  const result = found?.covered === false || own.every((side, i) => side === usual[i]) ? found : undefined;
  return requestCover(result ?? coverWithin(own, others, hints, router, axes), axes, router);
}

function requestCover(result: Cover, axes: readonly Axis[], router: Router): RequestCover {
  return result.covered ? result : { covered: false, request: requestFrom(axes, result.texts, router) };
}

function coverWithin(
  own: Box,
  others: readonly Box[],
  hints: readonly (readonly string[])[],
  { facts }: Router,
  axes: ReturnType<typeof axesOf>,
): Cover {
  // What is outside of more than the others take is outside of them, and costs no count.
  if ([own, ...others].some((box) => box.some((side) => side.large !== undefined))) {
    const found = decide(() =>
      cover(
        own.map(upperBound),
        others.map((b) => b.map(upperBound)),
        hints,
      ),
    );
    if (found.decided && !found.value.covered) return found.value;
  }
  if ((facts.trailingSlash !== 'removed' && facts.trailingSlash !== 'ignored') || facts.emptyValue !== 'accepted')
    return cover(own, others, hints);
  // An empty value before an empty tail is a slash at the end, which is taken off: paths without empty values come first.
  const full = own.map((side, i) => (axes[i]?.kind === 'segment' ? subtract(side, wordLanguage('')) : side));
  const found = cover(full, others, hints);
  return found.covered ? cover(own, others, hints) : found;
}
