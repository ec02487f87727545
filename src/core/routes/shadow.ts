/** Which routes can't be reached because those before them take all that they would match. */
import { subtract, wordLanguage } from '../language/language.ts';
import { decide } from '../language/limits.ts';
import { literalText } from '../paths/pattern.ts';
import { type Cover, cover } from './cover.ts';
import { exampleFor, plainest } from './examples.ts';
import { follow } from './follow.ts';
import { hintsFor } from './hints.ts';
import { normalSide } from './normal-paths.ts';
import { type Axis, axesOf, conditionRelation, matchesPath, pathRelation, samplePath, sideOf } from './reach.ts';
import { type Request, requestFrom } from './request.ts';
import { type Rival, rivalsOf } from './rivals.ts';
import type { Route } from './route.ts';
import type { Router } from './router.ts';
import type { Leaf } from './tree.ts';

export interface Shadow {
  readonly route: Route;
  /** Its methods that never arrive; all of them when nothing of it is left. */
  readonly methods: readonly string[];
  readonly whole: boolean;
  /** The fewest routes that take its requests together, in declared order; none where the router itself does. */
  readonly by: readonly Route[];
  /** A request that looks as if it were this route's. */
  readonly witness: Request;
}

export interface Undecided {
  readonly route: Route;
  readonly why: string;
}

interface Reached {
  readonly leaf: Leaf;
  readonly rivals: readonly Rival[];
}

/**
 * The shadow over a route, if there is one. A route is looked at method by method: covered for `GET` alone, it is still
 * alive for `POST`. Where the precedence is unknown nothing is said here.
 */
export function shadowOf(router: Router, route: Route): Shadow | Undecided | undefined {
  const { facts } = router;
  if (route.ends || facts.precedence === 'unknown') return undefined;
  if (losesItsSlash(router, route)) {
    const witness = exampleFor(router, router.leavesOf(route)[0] as Leaf, route.methods[0] as string);
    return { route, methods: route.methods, whole: true, by: [], witness };
  }
  const leaves = router.leavesOf(route).map((leaf): Reached => ({ leaf, rivals: rivalsOf(router, leaf) }));
  if (leaves.some((r) => r.rivals.length === 0 || free(router, r))) return undefined;
  const methods = route.methods.map((method) => ({ method, covers: leaves.map((r) => coverFor(router, r, method)) }));
  const undecided = methods.flatMap((m) => m.covers).find((c) => 'why' in c);
  if (undecided !== undefined && 'why' in undecided) return { route, why: undecided.why };
  const dead = methods.filter((m) => m.covers.every((c) => 'by' in c));
  const [first] = dead;
  if (first === undefined) return undefined;
  const circular = facts.precedence === 'most-specific' && facts.specificity === 'containment' && facts.ties === 'first-declared';
  const unsure = (rival: Rival, { leaf }: Reached): boolean =>
    !['inside', 'equal'].includes(pathRelation(rival.leaf.shape, leaf.shape, router.tree.compiler));
  if (circular && dead.some((m) => m.covers.some((c, i) => 'by' in c && c.by.some((r) => unsure(r, leaves[i] as Reached)))))
    return { route, why: 'routes that cross it are declared earlier, and what is inside those goes before them (ties)' };
  // With empty values the shapes of one pattern overlap, and which of them is the path that answers is not settled.
  const several = (r: Route): boolean => router.leavesOf(r).length > 1;
  const overlaps = facts.wrongMethod === 'refuse' && facts.emptyValue === 'accepted';
  if (overlaps && (several(route) || leaves.some((l) => l.rivals.some((r) => several(r.route)))))
    return { route, why: 'a path of several shapes overlaps itself where values may be empty (emptyValue, wrongMethod)' };
  const by = dead.flatMap((m) => m.covers.flatMap((c) => ('by' in c ? c.by : [])));
  const routes = [...new Set(by.map((r) => r.route))].sort((a, b) => a.index - b.index);
  const { leaf } = leaves[0] as Reached;
  return {
    route,
    methods: dead.map((m) => m.method),
    whole: dead.length === methods.length,
    by: routes,
    witness: exampleFor(router, leaf, first.method),
  };
}

/** Does the route end in a slash that this router takes off every request? */
function losesItsSlash({ facts }: Router, { pattern }: Route): boolean {
  if (facts.trailingSlash !== 'removed') return false;
  return pattern.shapes.every((s) => s.length > 1 && literalText(s[s.length - 1] as never) === '');
}

/** A request that reaches the route; undefined where nothing does, or where a limit was reached. */
export function requestFor(router: Router, route: Route): Request | undefined {
  if (losesItsSlash(router, route)) return undefined;
  for (const leaf of router.leavesOf(route)) {
    const reached = { leaf, rivals: rivalsOf(router, leaf) };
    for (const method of route.methods) {
      const usual = exampleFor(router, leaf, method);
      if (follow(router, usual).leaf?.route === route) return usual;
      const cover = coverFor(router, reached, method);
      if ('free' in cover && follow(router, cover.free).outcome !== 'not-found') return plainest([router], cover.free);
    }
  }
  return undefined;
}

/** Do two leaves match the same requests? */
export function equalReach(router: Router, a: Leaf, b: Leaf): boolean {
  return pathRelation(a.shape, b.shape, router.tree.compiler) === 'equal' && conditionRelation(a, b, router) === 'equal';
}

/** Is a usual path of the leaf outside all of its rivals? Then it is alive, and nothing else has to be computed. */
function free(router: Router, { leaf, rivals }: Reached): boolean {
  const sample = samplePath(leaf, router.tree.compiler);
  return sample !== undefined && rivals.every((rival) => !matchesPath(rival.leaf.shape, sample, router.tree.compiler));
}

type LeafCover = { readonly by: readonly Rival[] } | { readonly free: Request } | { readonly why: string };

function coverFor(router: Router, { leaf, rivals }: Reached, method: string): LeafCover {
  const one: Leaf = { ...leaf, route: { ...leaf.route, methods: [method] } };
  const axes = axesOf([leaf, ...rivals.map((r) => r.leaf)], router.versioning);
  const box = (l: Leaf) => axes.map((axis) => sideOf(l, axis, router.tree.compiler, router.facts));
  const hints = axes.map((axis) => hintsFor(leaf, axis));
  const own = box(one).map((side, i) => normalSide(side, axes[i] as Axis, axes, router.facts));
  const others = rivals.map((r) => box(r.leaf));
  const result = decide((): Cover => {
    if (router.facts.trailingSlash !== 'removed' || router.facts.emptyValue !== 'accepted') return cover(own, others, hints);
    // An empty value before an empty tail is a slash at the end, which is taken off: paths without empty values come first.
    const full = own.map((side, i) => (axes[i]?.kind === 'segment' ? subtract(side, wordLanguage('')) : side));
    const found = cover(full, others, hints);
    return found.covered ? cover(own, others, hints) : found;
  });
  if (!result.decided) return { why: result.why };
  return result.value.covered
    ? { by: result.value.by.map((i) => rivals[i] as Rival) }
    : { free: requestFrom(axes, result.value.texts, router) };
}
