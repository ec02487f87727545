/**
 * A request's outcome together with the router facts that it rests on, found by asking again: a fact matters when one of
 * its other values would change the outcome. A fact that nobody knows and that matters leaves the outcome undecided.
 */

import { lazy } from '../../base/lazy.ts';
import { memoise } from '../../base/memo.ts';
import type { Router } from '../index/router.ts';
import { lookup } from '../index/segment-tree.ts';
import { changesPatterns, mostPermissive, rebuilt, variantOf } from '../index/variants.ts';
import { normalise } from '../request/normalise.ts';
import type { Request } from '../request/request.ts';
import type { Route } from '../table/route.ts';
import {
  FACT_NAMES,
  FACTS,
  type FactName,
  type Facts,
  isOneWayBy,
  isTree,
  type RestsOn,
  restsOn,
} from '../table/router-facts.ts';
import { follow } from './follow.ts';
import type { RoutingOutcome } from './outcome.ts';
import { cachedOutcome } from './outcome-cache.ts';
import { hasEncodedText, isSpecial, mayInfluence, traitsOf } from './relevant-facts.ts';

/** The most combinations of unknown facts that are tried; beyond that the outcome is undecided. */
const MAX_COMBINATIONS = 64;

/** Facts that were applied when the table was expanded; they say nothing here. */
const APPLIED: ReadonlySet<FactName> = new Set(['prefix', 'groupRoot', 'unmatched', 'duplicates', 'sameShape']);

/** Each fact with the values that it does not have, for a router that knows it; with all of them where it doesn't. */
const QUESTIONS = FACT_NAMES.filter((name) => !APPLIED.has(name));

/**
 * Follows a request and names the facts that decided. Cost: one walk down a tree for a plain request like one before, one more
 * beside following it for one that matches one plain route, otherwise one `follow` per alternative fact value (about 30), each
 * over only the routes that could match under some reading.
 */
export function followWithFacts(router: Router, request: Request): RoutingOutcome {
  const unknown = unknownOf(router);
  if (unknown.length > 0) return followUnknown(router, request, unknown);
  return cachedOutcome(
    router,
    request,
    () => mostPermissive(router),
    () => followUncached(router, request),
  );
}

/** The answer of which nothing was kept. */
function followUncached(router: Router, request: Request): RoutingOutcome {
  const first = follow(router, request);
  const seen = traitsOf(router, request, first);
  const questions = QUESTIONS.filter((name) => mayInfluence(name, router, seen));
  const { longestValue } = router.facts;
  const ended = seen.ended ? restsOn(router.facts, 'unmatched') : [];
  if (questions.length === 0 && longestValue === Number.POSITIVE_INFINITY)
    return seen.ended ? { ...first, restsOn: ended } : first;
  const mine = outcomeKey(first);
  const small = lazy(() => relevantRoutes(router, request));
  const facts = questions.filter((name) =>
    otherValues(router.facts, name).some((value) => outcomeKey(follow(variant(router, small, name, value), request)) !== mine),
  );
  return { ...first, restsOn: [...restsOn(router.facts, ...facts), ...longestValueFact(router, request, mine), ...ended] };
}

/** The routes that some reading of the path matches; all of the table's where others put them in order, or are in the way. */
function relevantRoutes(router: Router, request: Request): readonly Route[] {
  if (needsAll(router)) return router.table.routes;
  const { facts } = router;
  const found = new Map<number, Route>();
  const read = (under: Facts): void => {
    const target = normalise(request.target, under);
    if (target.ok)
      for (const leaf of lookup(mostPermissive(router).tree, target.matched)) found.set(leaf.route.index, leaf.route);
  };
  read(facts);
  if (isSpecial(request.target, facts)) {
    for (const name of READS_PATH) for (const value of FACTS[name].values) read({ ...facts, [name]: value });
  }
  return [...found.values()].sort((a, b) => a.index - b.index);
}

/** Do routes matter that no reading of a path matches? */
function needsAll(router: Router): boolean {
  return (isTree(router.facts) && (isOneWayBy(router.facts) || router.facts.ties !== 'ambiguous')) || hasEncodedText(router);
}

const READS_PATH = ['doubledSlash', 'dotSegments', 'trailingSlash', 'decoding', 'encodedSlash', 'suffix', 'malformed'] as const;

/** The router with another value of one fact, as far as a request can tell. */
function variant(router: Router, small: () => readonly Route[], name: FactName, value: string): Router {
  if (!changesPatterns(name) || needsAll(router)) return variantOf(router, name, value);
  return rebuilt(router, small(), { ...router.facts, [name]: value } as Facts);
}

function longestValueFact(router: Router, request: Request, mine: string): readonly RestsOn[] {
  const { longestValue } = router.facts;
  if (longestValue === Number.POSITIVE_INFINITY) return [];
  const free = { ...router, facts: { ...router.facts, longestValue: Number.POSITIVE_INFINITY } };
  if (outcomeKey(follow(free, request)) === mine) return [];
  return [{ fact: 'longestValue', value: String(longestValue), assumed: false }];
}

function otherValues(facts: Facts, name: FactName): readonly string[] {
  return FACTS[name].values.filter((value) => value !== facts[name] && value !== 'unknown');
}

/** What two outcomes have to share to be the same: who takes it, with what, or what is answered. */
function outcomeKey(f: RoutingOutcome): string {
  const taker = f.leaf === undefined ? '' : `${f.leaf.route.place.file}#${f.leaf.route.place.pointer} ${f.leaf.route.path}`;
  const values = [...f.parameters].map(([name, { text }]) => `${name}=${text}`).join('&');
  return [f.outcome, f.status, taker, f.leaf?.route.methods.join(), values, f.allow?.join(), f.responseType?.type].join('|');
}

const unknownFactsCache = new WeakMap<Facts, readonly FactName[]>();

function unknownOf({ facts }: Router): readonly FactName[] {
  const known = unknownFactsCache.get(facts) ?? QUESTIONS.filter((name) => facts[name] === 'unknown' && name !== 'undeclared');
  unknownFactsCache.set(facts, known);
  return known;
}

/** Follows the request under every value that the unknown facts may have. */
function followUnknown(router: Router, request: Request, unknown: readonly FactName[]): RoutingOutcome {
  const matters = unknown.filter(
    (name) => new Set(combinations(router.facts, [name]).map((f) => keyUnder(router, request, f))).size > 1,
  );
  const combined = combinations(router.facts, unknown);
  const few = combined.length <= MAX_COMBINATIONS;
  const keys = new Set(few ? combined.map((f) => keyUnder(router, request, f)) : []);
  const known = rebuilt(router, relevantRoutes(withDefaultFacts(router), request), withDefaultFacts(router).facts);
  if (matters.length === 0 && few && keys.size <= 1) return followWithFacts(known, request);
  const names = matters.length > 0 ? matters : unknown;
  const base = follow(known, request);
  return {
    ...base,
    outcome: 'undecided',
    status: null,
    leaf: undefined,
    parameters: new Map(),
    allow: null,
    responseType: undefined,
    alsoMatched: [],
    why: `the outcome rests on ${names.join(', ')}, which ${names.length === 1 ? 'is' : 'are'} unknown; set ${names.length === 1 ? 'it' : 'them'} under router: in the table`,
    restsOn: restsOn(router.facts, ...names),
  };
}

function keyUnder(router: Router, request: Request, facts: Facts): string {
  const whole: Router = { ...withDefaultFacts(router), facts };
  return outcomeKey(follow(rebuilt(router, relevantRoutes(whole, request), facts), request));
}

/** The router with the default in place of every unknown fact. */
const withDefaultFacts = memoise((router: Router): Router => {
  const made: Router = { ...router, facts: settledFacts(router.facts) };
  return made;
});

function settledFacts(facts: Facts): Facts {
  const defaults = QUESTIONS.filter((n) => facts[n] === 'unknown' && n !== 'undeclared').map((n) => [n, FACTS[n].values[0]]);
  return { ...facts, ...Object.fromEntries(defaults) } as Facts;
}

/** All values of the named facts together; the other unknown ones at their default. Cut off beyond the limit. */
function combinations(facts: Facts, names: readonly FactName[]): readonly Facts[] {
  let all: readonly Facts[] = [settledFacts(facts)];
  for (const name of names) {
    all = all.flatMap((f) => FACTS[name].values.map((value) => ({ ...f, [name]: value }) as Facts));
    if (all.length > MAX_COMBINATIONS) return all;
  }
  return all;
}
