/** Requests that land where nobody meant them to: by a method that only the general route has, or by a suffix. */
import { decide } from '../../language/limits.ts';
import { literalText, type Shape } from '../../paths/pattern.ts';
import { exampleFor } from '../examples/example-request.ts';
import { follow } from '../follow/follow.ts';
import type { RoutingOutcome } from '../follow/outcome.ts';
import type { Router } from '../index/router.ts';
import type { RouteShape } from '../index/segment-tree.ts';
import { samePath } from '../precedence/precedence.ts';
import { overlapping } from '../reach/overlapping.ts';
import { pathRelation } from '../reach/product.ts';
import type { Request } from '../request/request.ts';
import { ANY_METHOD, type Route } from '../table/route.ts';

export interface Stray {
  readonly route: Route;
  /** The general routes that the other methods fall through to. */
  readonly others: readonly Route[];
  readonly methods: readonly string[];
  readonly witness: Request;
  readonly following: RoutingOutcome;
}

const USUAL = new Set(['HEAD', 'OPTIONS']);

/** Special paths whose missing methods fall through to a more general pattern; one for each path. */
export function fallThroughs(router: Router): readonly Stray[] {
  if (router.facts.wrongMethod === 'refuse') return [];
  const seen = new Set<Shape>();
  const found: Stray[] = [];
  for (const route of router.table.routes) {
    if (route.isBarrier) continue;
    for (const leaf of router.leavesOf(route)) {
      if (seen.has(leaf.shape)) continue;
      seen.add(leaf.shape);
      // What overlaps nothing but itself falls through to nothing.
      const stray = decide(() => {
        const others = overlapping(router.tree, leaf.shape);
        return others.length < 2 ? undefined : strayOf(router, leaf, others, seen);
      });
      if (stray.decided && stray.value !== undefined) found.push(stray.value);
    }
  }
  return found;
}

function strayOf(router: Router, leaf: RouteShape, others: readonly RouteShape[], seen: Set<Shape>): Stray | undefined {
  const general = others.filter(
    (o) =>
      o.shape !== leaf.shape &&
      !o.route.isBarrier &&
      namesParameter(leaf, o) &&
      pathRelation(leaf.shape, o.shape, router.tree.compiler) === 'subset',
  );
  if (general.length === 0) return undefined;
  const same = others.filter((o) => !o.route.isBarrier && samePath(router, o, leaf));
  for (const o of same) seen.add(o.shape);
  const own = new Set(same.flatMap((o) => o.route.methods));
  if (own.has(ANY_METHOD)) return undefined;
  const missing = (o: RouteShape): readonly string[] =>
    o.route.methods.filter((m) => m !== ANY_METHOD && !own.has(m) && !USUAL.has(m));
  if (general.every((o) => missing(o).length === 0)) return undefined;
  const usual = exampleFor(router, leaf, leaf.route.methods[0] as string);
  const hits = general.flatMap((o) =>
    missing(o)
      .map((method) => ({ method, following: follow(router, { ...usual, method }) }))
      .filter(({ following }) => following.leaf?.route === o.route),
  );
  const [first] = hits;
  if (first === undefined) return undefined;
  const routes = [...new Set(hits.flatMap((h) => h.following.leaf?.route ?? []))];
  const worst = hits.find((h) => h.following.outcome === 'refused') ?? first;
  return {
    route: leaf.route,
    others: routes,
    methods: [...new Set(hits.map((h) => h.method))],
    witness: worst.following.request,
    following: worst.following,
  };
}

/** Does a plain segment of the one stand where the other has a parameter? Tails take everything and surprise nobody. */
function namesParameter(leaf: RouteShape, general: RouteShape): boolean {
  if (general.shape.some((p) => p.kind === 'span') || general.shape.length !== leaf.shape.length) return false;
  return leaf.shape.some((p, i) => literalText(p) !== undefined && literalText(general.shape[i] as Shape[number]) === undefined);
}

export interface Swallowed {
  readonly route: Route;
  readonly suffix: string;
  readonly parameter: string;
  readonly witness: Request;
  /** The path that means the suffix as a format. */
  readonly meant: string;
}

const FORMAT = /\.(json|xml|csv|ya?ml|html?|txt|pdf|ics|atom|rss)$/u;

/**
 * Item routes whose parameter matches a suffix that another path means as a format: beside `/locks.json`, `/locks/{lockId}`
 * takes `/locks/7.json`. `paths` are all paths of the service, documented ones too.
 */
export function swallowedSuffixes(
  router: Router,
  paths: readonly { readonly path: string; readonly shape: Shape }[],
): readonly Swallowed[] {
  if (router.facts.suffix === 'optional') return [];
  const suffixes = new Map<string, { suffix: string; meant: string }>();
  for (const { path, shape } of paths) {
    const found = suffixOf(shape);
    if (found !== undefined && !suffixes.has(found.base)) suffixes.set(found.base, { suffix: found.suffix, meant: path });
  }
  const done = new Set<Route>();
  return [...suffixes].flatMap(([base, { suffix, meant }]): Swallowed[] => {
    const request: Request = { method: 'GET', target: `${base}/7${suffix}`, headers: {} };
    const { leaf, parameters } = follow(router, request);
    const [name] = [...parameters].find(([, value]) => value.type === 'text' && value.text.endsWith(suffix)) ?? [];
    if (leaf === undefined || name === undefined || done.has(leaf.route)) return [];
    done.add(leaf.route);
    return [{ route: leaf.route, suffix, parameter: name, witness: request, meant }];
  });
}

/** `/locks` and `.json` of `/locks.json`, `/locks.{format}` and `/locks/{lockId}.json`. */
function suffixOf(shape: Shape): { base: string; suffix: string } | undefined {
  const last = shape[shape.length - 1];
  if (last === undefined || last.kind === 'span') return undefined;
  const own = literalText(last);
  // Nearly all paths end in a word or in one parameter.
  if (own === undefined ? last.parts.length < 2 : !own.includes('.')) return undefined;
  const head = shape.slice(0, -1).map(literalText);
  if (head.some((t) => t === undefined)) return undefined;
  const prefix = head.map((t) => `/${t}`).join('');
  if (own !== undefined) {
    const match = FORMAT.exec(own);
    return match === null ? undefined : { base: `${prefix}/${own.slice(0, match.index)}`, suffix: match[0] };
  }
  const [first, second, third] = last.parts;
  if (first?.kind === 'literal' && first.text.endsWith('.') && second?.kind === 'parameter' && third === undefined)
    return { base: `${prefix}/${first.text.slice(0, -1)}`, suffix: '.json' };
  if (first?.kind === 'parameter' && second?.kind === 'literal' && FORMAT.test(second.text) && third === undefined)
    return { base: prefix, suffix: second.text };
  return undefined;
}
