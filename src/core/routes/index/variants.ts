/** The same router with other facts: what it would do if it behaved otherwise. */

import { memoise } from '../../base/memo.ts';
import type { Route } from '../table/route.ts';
import type { FactName, Facts } from '../table/router-facts.ts';
import { buildRouter, type Router } from './router.ts';

/** Facts that change what a pattern matches, so that the index has to be built anew. */
const READING: ReadonlySet<FactName> = new Set([
  'types',
  'typedBranch',
  'trailingSlash',
  'letterCase',
  'decoding',
  'patternText',
  'emptyValue',
]);

/** Does the index have to be built anew for another value of the fact? */
export function changesPatterns(name: FactName): boolean {
  return READING.has(name);
}

/** The router that matches whatever any reading would match. */
export const mostPermissive = memoise((router: Router): Router => {
  const facts: Facts = {
    ...router.facts,
    types: 'after-match',
    trailingSlash: 'either',
    letterCase: 'either',
    emptyValue: 'accepted',
    longestValue: Number.POSITIVE_INFINITY,
  };
  const made = rebuilt(router, router.table.routes, facts);
  return made;
});

const variantCache = new WeakMap<Router, Map<string, Router>>();

/** The whole router with another value of one fact. */
export function variantOf(router: Router, name: FactName, value: string): Router {
  const known = variantCache.get(router) ?? new Map<string, Router>();
  variantCache.set(router, known);
  const key = `${name} ${value}`;
  const facts = { ...router.facts, [name]: value } as Facts;
  const made = known.get(key) ?? (READING.has(name) ? rebuilt(router, router.table.routes, facts) : { ...router, facts });
  known.set(key, made);
  return made;
}

export function rebuilt(router: Router, routes: readonly Route[], facts: Facts): Router {
  return { ...buildRouter({ ...router.table, routes, facts }, router.versioning), described: router.described };
}
