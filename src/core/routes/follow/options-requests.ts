/** Routers that answer OPTIONS at the end of each group: what stands behind the group is not asked any more. */

import type { Router } from '../index/router.ts';
import type { Winner } from '../precedence/precedence.ts';
import type { RequestContext } from '../request/asking.ts';
import type { Request } from '../request/request.ts';
import { type Candidate, type RoutingOutcome, unrouted } from './outcome.ts';
import { allowOf } from './rejection.ts';

/** Does a group answer OPTIONS before the route that would take it is asked? */
export function endedByGroup(router: Router, { method }: Request, judged: readonly Candidate[], first: Winner): boolean {
  if (method !== 'OPTIONS' || router.facts.options !== 'by-group') return false;
  const taker = first.kind === 'one' && !first.leaf.route.isBarrier ? first.leaf.route.index : Number.POSITIVE_INFINITY;
  const group = answeringGroup(router, judged);
  return group !== undefined && lastIndexOf(router, group) < taker;
}

/** The answer of that group: the methods of its own routes alone. */
export function optionsOfGroup(router: Router, asking: RequestContext, judged: readonly Candidate[]): RoutingOutcome {
  const group = answeringGroup(router, judged) as string;
  const own = judged.filter((j) => j.miss?.cause === 'method' && j.leaf.route.origin.within.includes(group));
  return {
    ...unrouted(asking, 'routed', null, 'the router answers OPTIONS by itself, at the end of the group'),
    allow: allowOf(
      router,
      own.map((j) => j.leaf),
    ),
    alsoMatched: own.map(({ leaf, miss }) => ({ leaf, why: miss?.why ?? '' })),
  };
}

/** The group that ends first of those with a route whose path fits; the innermost of several that end together. */
function answeringGroup(router: Router, judged: readonly Candidate[]): string | undefined {
  const groups = judged.filter((j) => j.miss?.cause === 'method').flatMap((j) => [...j.leaf.route.origin.within].reverse());
  let best: string | undefined;
  for (const group of groups) {
    if (best === undefined || lastIndexOf(router, group) < lastIndexOf(router, best)) best = group;
  }
  return best;
}

const lastIndexes = new WeakMap<Router['table'], Map<string, number>>();

/** The index of the last route within a group. */
function lastIndexOf({ table }: Router, group: string): number {
  const known = lastIndexes.get(table) ?? new Map<string, number>();
  if (!lastIndexes.has(table)) {
    for (const route of table.routes) for (const g of route.origin.within) known.set(g, route.index);
    lastIndexes.set(table, known);
  }
  return known.get(group) ?? Number.POSITIVE_INFINITY;
}
