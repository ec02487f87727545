/** Which routes can't be reached because those before them take all that they would match. */
import { example } from '../language/example.ts';
import { decide } from '../language/limits.ts';
import type { Shape } from '../paths/pattern.ts';
import { parseTemplate } from '../paths/template.ts';
import { type Cover, cover } from './cover.ts';
import { follow } from './follow.ts';
import { hintsFor } from './hints.ts';
import { orderOf } from './precedence.ts';
import { axesOf, conditionRelation, matchesPath, pathRelation, samplePath, sharesMethod, sideOf } from './reach.ts';
import { type Request, requestFrom } from './request.ts';
import { ANY_METHOD, type Route } from './route.ts';
import type { Router } from './router.ts';
import { type Leaf, overlapping } from './tree.ts';

export interface Shadow {
  readonly route: Route;
  /** Its methods that never arrive; all of them when nothing of it is left. */
  readonly methods: readonly string[];
  readonly whole: boolean;
  /** The fewest routes that take its requests together, in declared order. */
  readonly by: readonly Route[];
  /** A request that looks as if it were this route's, and the route that takes it. */
  readonly witness: Request;
  readonly takenBy: Route;
  /** The one covering route has the same reach. */
  readonly equal: boolean;
}

export interface Undecided {
  readonly route: Route;
  readonly why: string;
}

/** A leaf, and those that share requests with it and are asked first. */
export interface Rivals {
  readonly leaf: Leaf;
  readonly before: readonly Leaf[];
}

/** The leaves of other routes that share a path with this one and that precedence puts ahead. */
export function rivalsOf(router: Router, leaf: Leaf): Rivals {
  const before = overlapping(router.tree, leaf.shape).filter(
    (o) => o.route !== leaf.route && sharesMethod(o.route, leaf.route) && orderOf(router, o, leaf) === 'first',
  );
  return { leaf, before };
}

/**
 * The shadow over a route, if there is one. A route is looked at method by method: covered for `GET` alone, it is still
 * alive for `POST`.
 */
export function shadowOf(router: Router, route: Route): Shadow | Undecided | undefined {
  const leaves = router.leavesOf(route).map((leaf) => rivalsOf(router, leaf));
  if (leaves.some((r) => r.before.length === 0 || free(router, r))) return undefined;
  const methods = route.methods.map((method) => ({ method, covers: leaves.map((r) => coverFor(router, r, method)) }));
  const undecided = methods.flatMap((m) => m.covers).find((c) => 'why' in c);
  if (undecided !== undefined && 'why' in undecided) return { route, why: undecided.why };
  const dead = methods.filter((m) => m.covers.every((c) => 'by' in c));
  const [first] = dead;
  if (first === undefined) return undefined;
  const by = [...new Set(dead.flatMap((m) => m.covers.flatMap((c) => ('by' in c ? c.by : []))))].sort(
    (a, b) => a.route.index - b.route.index,
  );
  const routes = [...new Set(by.map((l) => l.route))];
  const [rivals] = leaves as [Rivals, ...Rivals[]];
  const witness = exampleFor(router, rivals.leaf, first.method);
  const taker = follow(router, witness).leaf?.route;
  return {
    route,
    methods: dead.map((m) => m.method),
    whole: dead.length === methods.length,
    by: routes,
    witness,
    takenBy: taker ?? (routes[0] as Route),
    equal: routes.length === 1 && equalReach(router, rivals.leaf, by[0] as Leaf),
  };
}

/** A request that reaches the route; undefined where nothing does, or where a limit was reached. */
export function requestFor(router: Router, route: Route): Request | undefined {
  for (const leaf of router.leavesOf(route)) {
    const rivals = rivalsOf(router, leaf);
    for (const method of route.methods) {
      if (rivals.before.length === 0) return exampleFor(router, leaf, method);
      const cover = coverFor(router, rivals, method);
      if ('free' in cover) return plainest(router, cover.free);
    }
  }
  return undefined;
}

/** Is a usual path of the leaf outside all of its rivals? Then it is alive, and nothing else has to be computed. */
function free(router: Router, { leaf, before }: Rivals): boolean {
  const sample = samplePath(leaf, router.tree.compiler);
  return sample !== undefined && before.every((rival) => !matchesPath(rival.shape, sample, router.tree.compiler));
}

/** Do two leaves match the same requests? */
export function equalReach(router: Router, a: Leaf, b: Leaf): boolean {
  return (
    pathRelation(a.shape, b.shape, router.tree.compiler) === 'equal' &&
    conditionRelation(a, b, router.tree.compiler, router.facts) === 'equal'
  );
}

type LeafCover = { readonly by: readonly Leaf[] } | { readonly free: Request } | { readonly why: string };

function coverFor(router: Router, { leaf, before }: Rivals, method: string): LeafCover {
  const one: Leaf = { ...leaf, route: { ...leaf.route, methods: [method] } };
  const axes = axesOf([leaf, ...before]);
  const box = (l: Leaf) => axes.map((axis) => sideOf(l, axis, router.tree.compiler, router.facts));
  const hints = axes.map((axis) => hintsFor(leaf, axis));
  const result = decide((): Cover => cover(box(one), before.map(box), hints));
  if (!result.decided) return { why: result.why };
  return result.value.covered
    ? { by: result.value.by.map((i) => before[i] as Leaf) }
    : { free: requestFrom(axes, result.value.texts) };
}

/** A request that a leaf matches, such as a person would send: without headers that change nothing. */
export function exampleFor(router: Router, leaf: Leaf, method: string): Request {
  return plainest(router, fullExample(router, leaf, method));
}

/** The request without each header that makes no difference to who takes it. */
export function plainest(router: Router, request: Request): Request {
  const taker = follow(router, request).leaf?.route;
  let current = request;
  for (const name of Object.keys(request.headers)) {
    const { [name]: _, ...headers } = current.headers;
    const without: Request = { ...request, headers };
    if (follow(router, without).leaf?.route === taker) current = without;
  }
  return current;
}

function fullExample(router: Router, leaf: Leaf, method: string): Request {
  const axes = axesOf([leaf]);
  const texts = axes.map((axis) => {
    if (axis.kind === 'method') return method === ANY_METHOD ? 'GET' : method;
    return example(sideOf(leaf, axis, router.tree.compiler, router.facts), hintsFor(leaf, axis)) ?? '';
  });
  return requestFrom(axes, texts);
}

/** A request for a documented operation, such as a person would send. */
export function templateExample(router: Router, method: string, path: string): Request {
  const pattern = parseTemplate(path);
  const route: Route = {
    index: -1,
    methods: [method],
    path,
    pattern,
    handler: '',
    name: undefined,
    conditions: {},
    deprecated: undefined,
    sunset: undefined,
    summary: undefined,
    origin: { groups: [] },
    place: router.table.place,
  };
  return exampleFor(router, { route, shape: pattern.shapes[0] as Shape }, method);
}
