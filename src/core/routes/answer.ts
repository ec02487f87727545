/**
 * A request's outcome together with the router facts that it rests on, found by asking again: a fact matters when one of
 * its other values would change the outcome. A fact that nobody knows and that matters leaves the outcome undecided.
 */
import { FACT_NAMES, FACTS, type FactName, type Facts, type RestsOn, restsOn } from './facts.ts';
import { follow } from './follow.ts';
import type { Following } from './following.ts';
import { normalise } from './normalise.ts';
import type { Request } from './request.ts';
import type { Route } from './route.ts';
import { buildRouter, type Router } from './router.ts';
import { matching, matchingWithoutReturn } from './tree.ts';

/** The most combinations of unknown facts that are tried; beyond that the outcome is undecided. */
const MAX_COMBINATIONS = 64;

/** Facts that change what a pattern matches, so that the index has to be built anew. */
const READING: ReadonlySet<FactName> = new Set(['types', 'trailingSlash', 'letterCase', 'decoding', 'emptyValue']);

/** Facts that were applied when the table was expanded; they say nothing here. */
const APPLIED: ReadonlySet<FactName> = new Set(['prefix', 'unmatched', 'duplicates', 'sameShape']);

/** Each fact with the values that it does not have, for a router that knows it; with all of them where it doesn't. */
const QUESTIONS = FACT_NAMES.filter((name) => !APPLIED.has(name));

/**
 * Follows a request and names the facts that decided. Cost: one `follow` for a request that matches one plain route, some
 * thirty for others; those that change the patterns look at the routes alone that any reading of the path could match.
 */
export function answer(router: Router, request: Request): Following {
  const unknown = QUESTIONS.filter((name) => router.facts[name] === 'unknown' && name !== 'undeclared');
  if (unknown.length > 0) return underUnknown(router, request, unknown);
  const first = follow(router, request);
  if (isPlain(router, request, first)) return first;
  const mine = outcomeKey(first);
  const small = smaller(router, request);
  const facts = QUESTIONS.filter((name) =>
    otherValues(router.facts, name).some((value) => outcomeKey(follow(variant(router, small, name, value), request)) !== mine),
  );
  const ended = endedByGroup(router, request) ? restsOn(router.facts, 'unmatched') : [];
  return { ...first, restsOn: [...restsOn(router.facts, ...facts), ...longestOf(router, small, request, mine), ...ended] };
}

/** One route matches, nothing of the path can be read in another way, and no header takes part. */
function isPlain(router: Router, request: Request, following: Following): boolean {
  if (request.method === 'HEAD' || request.method === 'OPTIONS' || SPECIAL.test(request.target)) return false;
  for (const _ in request.headers) return false;
  if (request.body !== undefined || router.table.routes.some((r) => r.ends)) return false;
  const target = normalise(request.target, router.facts);
  if (!target.ok) return false;
  const candidates = matching(loose(router).tree, target.matched);
  if (candidates.length === 0) return following.outcome === 'not-found';
  const [only] = candidates;
  const { leaf } = following;
  if (candidates.length > 1 || following.outcome !== 'routed' || leaf?.route.index !== only?.route.index) return false;
  if (leaf === undefined || leaf.shape.some((piece) => piece.parts.length > 1)) return false;
  return router.facts.precedence !== 'most-specific' || matchingWithoutReturn(router.tree, target.matched).includes(leaf);
}

const SPECIAL = /[%.]|\/\/|\/$|\/\?/u;

const LOOSE = new WeakMap<Router, Router>();

/** The router that matches whatever any reading would match. */
function loose(router: Router): Router {
  const known = LOOSE.get(router);
  if (known !== undefined) return known;
  const facts: Facts = {
    ...router.facts,
    types: 'after-match',
    trailingSlash: 'either',
    letterCase: 'either',
    emptyValue: 'accepted',
    longestValue: Number.POSITIVE_INFINITY,
  };
  const made = buildRouter({ ...router.table, facts }, router.versioning);
  LOOSE.set(router, made);
  return made;
}

/** The table with the routes alone that some reading of the path matches; all of them where others could be in the way. */
function smaller(router: Router, request: Request): readonly Route[] {
  const { facts, table } = router;
  if (facts.precedence === 'most-specific' && facts.deadEnds === 'give-up') return table.routes;
  const found = new Set<number>();
  const read = (under: Facts): void => {
    const target = normalise(request.target, under);
    if (target.ok) for (const leaf of matching(loose(router).tree, target.matched)) found.add(leaf.route.index);
  };
  read(facts);
  if (SPECIAL.test(request.target)) {
    for (const name of READS_PATH) for (const value of FACTS[name].values) read({ ...facts, [name]: value });
  }
  return table.routes.filter((r) => found.has(r.index));
}

const READS_PATH = ['doubledSlash', 'dotSegments', 'trailingSlash', 'decoding', 'encodedSlash', 'suffix'] as const;

/** The router with another value of one fact. */
function variant(router: Router, small: readonly Route[], name: FactName, value: string): Router {
  const facts = { ...router.facts, [name]: value } as Facts;
  return READING.has(name) ? rebuilt(router, small, facts) : { ...router, facts };
}

function rebuilt(router: Router, routes: readonly Route[], facts: Facts): Router {
  return buildRouter({ ...router.table, routes: routes.map((r, index) => ({ ...r, index })), facts }, router.versioning);
}

function longestOf(router: Router, small: readonly Route[], request: Request, mine: string): readonly RestsOn[] {
  const { longestValue } = router.facts;
  if (longestValue === Number.POSITIVE_INFINITY) return [];
  const free = rebuilt(router, small, { ...router.facts, longestValue: Number.POSITIVE_INFINITY });
  if (outcomeKey(follow(free, request)) === mine) return [];
  return [{ fact: 'longestValue', value: String(longestValue), assumed: false }];
}

function otherValues(facts: Facts, name: FactName): readonly string[] {
  return FACTS[name].values.filter((value) => value !== facts[name] && value !== 'unknown');
}

/** A group that fits the path and has no route for it: then it may have ended the search. */
function endedByGroup(router: Router, request: Request): boolean {
  if (!router.table.routes.some((r) => r.ends)) return false;
  const target = normalise(request.target, router.facts);
  return target.ok && matching(router.tree, target.matched).some((leaf) => leaf.route.ends);
}

/** What two outcomes have to share to be the same: who takes it, with what, or what is answered. */
function outcomeKey(f: Following): string {
  const taker = f.leaf === undefined ? '' : `${f.leaf.route.place.file}#${f.leaf.route.place.pointer} ${f.leaf.route.path}`;
  const values = [...f.parameters].map(([name, { text }]) => `${name}=${text}`).join('&');
  return [f.outcome, f.status, taker, f.leaf?.route.methods.join(), values, f.allow?.join(), f.responseType?.type].join('|');
}

/** Follows the request under every value that the unknown facts may have. */
function underUnknown(router: Router, request: Request, unknown: readonly FactName[]): Following {
  const matters = unknown.filter(
    (name) => new Set(combinations(router.facts, [name]).map((f) => keyUnder(router, request, f))).size > 1,
  );
  const combined = combinations(router.facts, unknown);
  const few = combined.length <= MAX_COMBINATIONS;
  const keys = new Set(few ? combined.map((f) => keyUnder(router, request, f)) : []);
  const known = rebuilt(router, smaller(settled(router), request), settled(router).facts);
  if (matters.length === 0 && few && keys.size <= 1) return answer(known, request);
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
  const whole: Router = { ...settled(router), facts };
  return outcomeKey(follow(rebuilt(router, smaller(whole, request), facts), request));
}

const SETTLED = new WeakMap<Router, Router>();

/** The router with the default in place of every unknown fact. */
function settled(router: Router): Router {
  const known = SETTLED.get(router);
  if (known !== undefined) return known;
  const made: Router = { ...router, facts: settledFacts(router.facts) };
  SETTLED.set(router, made);
  return made;
}

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
