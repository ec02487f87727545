/**
 * A request's outcome together with the router facts that it rests on, found by asking again: a fact matters when one of
 * its other values would change the outcome. A fact that nobody knows and that matters leaves the outcome undecided.
 */
import { once } from '../once.ts';
import { FACT_NAMES, FACTS, type FactName, type Facts, isOneWayBy, isTree, type RestsOn, restsOn } from './facts.ts';
import { follow } from './follow.ts';
import type { Following } from './following.ts';
import { keptAnswer } from './kept.ts';
import { normalise } from './normalise.ts';
import type { Request } from './request.ts';
import { ANY_METHOD, type Route } from './route.ts';
import { buildRouter, type Router } from './router.ts';
import { type Leaf, matching } from './tree.ts';
import { reachedInOneWalk } from './walk.ts';

/** The most combinations of unknown facts that are tried; beyond that the outcome is undecided. */
const MAX_COMBINATIONS = 64;

/** Facts that change what a pattern matches, so that the index has to be built anew. */
const READING: ReadonlySet<FactName> = new Set([
  'types',
  'typedBranch',
  'trailingSlash',
  'letterCase',
  'decoding',
  'patternText',
  'emptyValue',
  'tooLong',
]);

/** Facts that were applied when the table was expanded; they say nothing here. */
const APPLIED: ReadonlySet<FactName> = new Set(['prefix', 'groupRoot', 'unmatched', 'duplicates', 'sameShape']);

/** Each fact with the values that it does not have, for a router that knows it; with all of them where it doesn't. */
const QUESTIONS = FACT_NAMES.filter((name) => !APPLIED.has(name));

/**
 * Follows a request and names the facts that decided. Cost: one walk down a tree for a plain request like one before, one
 * more beside following it for one that matches one plain route, up to some thirty `follow` for others; those that change
 * the patterns look at the routes alone that any reading of the path could match.
 */
export function answer(router: Router, request: Request): Following {
  const unknown = unknownOf(router);
  if (unknown.length > 0) return underUnknown(router, request, unknown);
  return keptAnswer(
    router,
    request,
    () => loose(router),
    () => asked(router, request),
  );
}

/** The answer of which nothing was kept. */
function asked(router: Router, request: Request): Following {
  const first = follow(router, request);
  const seen = lookAt(router, request, first);
  const questions = QUESTIONS.filter((name) => mayMatter(name, router, seen));
  const { longestValue } = router.facts;
  const ended = seen.ended ? restsOn(router.facts, 'unmatched') : [];
  if (questions.length === 0 && longestValue === Number.POSITIVE_INFINITY)
    return seen.ended ? { ...first, restsOn: ended } : first;
  const mine = outcomeKey(first);
  const small = once(() => smaller(router, request));
  const facts = questions.filter((name) =>
    otherValues(router.facts, name).some((value) => outcomeKey(follow(variant(router, small, name, value), request)) !== mine),
  );
  return { ...first, restsOn: [...restsOn(router.facts, ...facts), ...longestOf(router, small, request, mine), ...ended] };
}

/** What of a request and its outcome tells which facts can't matter, without asking again. */
interface Look {
  readonly request: Request;
  readonly following: Following;
  /** The path can be read in more than one way. */
  readonly special: boolean;
  /** How many shapes of routes some reading matches. */
  readonly candidates: number;
  /** The routes that this reading matches are all that any other one would. */
  readonly same: boolean;
  /** Of those that match, one alone takes the method, so that nothing has to be put in order. */
  readonly alone: boolean;
  /** Headers or a body that conditions could look at. */
  readonly said: boolean;
  /** Two parameters share a segment. */
  readonly mixed: boolean;
  /** In a tree whose router never comes back, other routes would be looked at. */
  readonly turned: boolean;
  /** A group may have ended the search. */
  readonly ended: boolean;
}

function lookAt(router: Router, request: Request, following: Following): Look {
  const target = normalise(request.target, router.facts);
  const path = target.ok ? target.matched : [];
  const shapes = matching(loose(router).tree, path);
  const wide = new Set(shapes.map((l) => l.route.index));
  const strict = matching(router.tree, path);
  const own = new Set(strict.map((l) => l.route.index));
  return {
    request,
    following,
    special: SPECIAL.test(request.target),
    candidates: shapes.length,
    same: own.size === wide.size,
    alone: own.size === shapes.length && isAlone(router, request, following, strict),
    said: request.body !== undefined || Object.keys(request.headers).length > 0,
    mixed: following.leaf?.shape.some((piece) => piece.parts.length > 1) ?? false,
    turned: target.ok && isTurned(router, path, strict),
    ended: strict.some((l) => l.route.ends),
  };
}

/** Would a router that never comes back look at other leaves, by one tree or by one for each method? */
function isTurned(router: Router, path: readonly string[], strict: readonly Leaf[]): boolean {
  const { precedence, deadEnds } = router.facts;
  if (precedence !== 'most-specific' && deadEnds !== 'give-up' && deadEnds !== 'last-tail') return false;
  return !sameLeaves(reachedInOneWalk(variantOf(router, 'deadEnds', 'give-up'), path), strict);
}

/** One route takes the method, and every router asks on where a method fails; HEAD and OPTIONS may be taken for others. */
function isAlone({ facts }: Router, { method }: Request, { outcome, leaf }: Following, strict: readonly Leaf[]): boolean {
  if (
    outcome !== 'routed' ||
    leaf === undefined ||
    facts.wrongMethod !== 'next-route' ||
    method === 'HEAD' ||
    method === 'OPTIONS'
  )
    return false;
  return strict.every(
    ({ route }) => route === leaf.route || !(route.methods.includes(method) || route.methods.includes(ANY_METHOD)),
  );
}

function sameLeaves(a: readonly Leaf[], b: readonly Leaf[]): boolean {
  return a.length === b.length && a.every((leaf) => b.includes(leaf));
}

/** Could another value of the fact change this outcome? True where that is not plain. */
function mayMatter(name: FactName, router: Router, seen: Look): boolean {
  const { request, following, special, candidates, same } = seen;
  const { facts } = router;
  const { precedence, types } = facts;
  // Elsewhere the order of routes rests on what their patterns match, so every reading counts.
  const steered = isOneWayBy(facts);
  const ranked = steered || (candidates > 1 && (precedence === 'most-specific' || precedence === 'exclusive'));
  const taken = following.outcome === 'routed' && following.leaf !== undefined;
  const inTree = isTree(facts) && (steered || candidates > 1);
  switch (name) {
    case 'precedence':
      return (candidates > 1 && !seen.alone) || seen.turned;
    case 'wrongMethod':
    case 'anyMethod':
      return candidates > 1;
    case 'specificity':
    case 'ties':
      return steered || seen.turned || (candidates > 1 && precedence === 'most-specific');
    case 'deadEnds':
      return seen.turned;
    case 'trees':
    case 'tails':
    case 'mixed':
      return inTree;
    case 'typedBranch':
      return inTree || seen.turned;
    case 'types':
      return !(same && types === 'in-match') || ranked;
    case 'refusal':
      return following.outcome === 'refused';
    case 'trailingSlash':
      return special || !same || ranked || (facts.trailingSlash !== 'exact' && candidates > 0);
    case 'letterCase':
    case 'emptyValue':
      return special || !same || ranked;
    case 'decoding':
      return special || ranked || hasEncodedText(router);
    case 'patternText':
      return hasEncodedText(router);
    case 'doubledSlash':
    case 'dotSegments':
    case 'encodedSlash':
    case 'suffix':
    case 'malformed':
      return special;
    case 'tooLong':
      return facts.longestValue !== Number.POSITIVE_INFINITY;
    case 'split':
      return seen.mixed || facts.longestValue !== Number.POSITIVE_INFINITY;
    case 'head':
    case 'options':
    case 'noMethod':
      return candidates > 0 && (!taken || request.method === 'HEAD' || request.method === 'OPTIONS');
    default:
      return seen.said && candidates > 0;
  }
}

const encodedText = new WeakMap<Router['table'], boolean>();

/** Does a pattern have text that was written percent-encoded? */
function hasEncodedText({ table }: Router): boolean {
  const known =
    encodedText.get(table) ??
    table.routes.some(({ pattern }) =>
      pattern.shapes.some((s) => s.some((piece) => piece.parts.some((p) => p.kind === 'literal' && p.raw !== undefined))),
    );
  encodedText.set(table, known);
  return known;
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

/** The routes that some reading of the path matches; all of the table's where others put them in order, or are in the way. */
function smaller(router: Router, request: Request): readonly Route[] {
  if (needsAll(router)) return router.table.routes;
  const { facts } = router;
  const found = new Map<number, Route>();
  const read = (under: Facts): void => {
    const target = normalise(request.target, under);
    if (target.ok) for (const leaf of matching(loose(router).tree, target.matched)) found.set(leaf.route.index, leaf.route);
  };
  read(facts);
  if (SPECIAL.test(request.target)) {
    for (const name of READS_PATH) for (const value of FACTS[name].values) read({ ...facts, [name]: value });
  }
  return [...found.values()].sort((a, b) => a.index - b.index);
}

/** Do routes matter that no reading of a path matches? */
function needsAll(router: Router): boolean {
  return isTree(router.facts) && (isOneWayBy(router.facts) || router.facts.ties !== 'ambiguous') ? true : hasEncodedText(router);
}

const READS_PATH = ['doubledSlash', 'dotSegments', 'trailingSlash', 'decoding', 'encodedSlash', 'suffix', 'malformed'] as const;

const VARIANTS = new WeakMap<Router, Map<string, Router>>();

/** The whole router with another value of one fact. */
function variantOf(router: Router, name: FactName, value: string): Router {
  const known = VARIANTS.get(router) ?? new Map<string, Router>();
  VARIANTS.set(router, known);
  const key = `${name} ${value}`;
  const facts = { ...router.facts, [name]: value } as Facts;
  const made = known.get(key) ?? (READING.has(name) ? rebuilt(router, router.table.routes, facts) : { ...router, facts });
  known.set(key, made);
  return made;
}

/** The router with another value of one fact, as far as a request can tell. */
function variant(router: Router, small: () => readonly Route[], name: FactName, value: string): Router {
  if (!READING.has(name) || needsAll(router)) return variantOf(router, name, value);
  return rebuilt(router, small(), { ...router.facts, [name]: value } as Facts);
}

function rebuilt(router: Router, routes: readonly Route[], facts: Facts): Router {
  return buildRouter({ ...router.table, routes, facts }, router.versioning);
}

function longestOf(router: Router, small: () => readonly Route[], request: Request, mine: string): readonly RestsOn[] {
  const { longestValue } = router.facts;
  if (longestValue === Number.POSITIVE_INFINITY) return [];
  const free = rebuilt(router, small(), { ...router.facts, longestValue: Number.POSITIVE_INFINITY });
  if (outcomeKey(follow(free, request)) === mine) return [];
  return [{ fact: 'longestValue', value: String(longestValue), assumed: false }];
}

function otherValues(facts: Facts, name: FactName): readonly string[] {
  return FACTS[name].values.filter((value) => value !== facts[name] && value !== 'unknown');
}

/** What two outcomes have to share to be the same: who takes it, with what, or what is answered. */
function outcomeKey(f: Following): string {
  const taker = f.leaf === undefined ? '' : `${f.leaf.route.place.file}#${f.leaf.route.place.pointer} ${f.leaf.route.path}`;
  const values = [...f.parameters].map(([name, { text }]) => `${name}=${text}`).join('&');
  return [f.outcome, f.status, taker, f.leaf?.route.methods.join(), values, f.allow?.join(), f.responseType?.type].join('|');
}

const UNKNOWN = new WeakMap<Facts, readonly FactName[]>();

function unknownOf({ facts }: Router): readonly FactName[] {
  const known = UNKNOWN.get(facts) ?? QUESTIONS.filter((name) => facts[name] === 'unknown' && name !== 'undeclared');
  UNKNOWN.set(facts, known);
  return known;
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
