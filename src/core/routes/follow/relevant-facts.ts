/** Which router facts can't matter to an outcome, told without asking again. */

import { reachedInOneWalk } from '../index/candidates.ts';
import type { Router } from '../index/router.ts';
import { lookup, type RouteShape } from '../index/segment-tree.ts';
import { mostPermissive, variantOf } from '../index/variants.ts';
import { normalise } from '../request/normalise.ts';
import type { Request } from '../request/request.ts';
import { ANY_METHOD } from '../table/route.ts';
import { type FactName, type Facts, isOneWayBy, isTree } from '../table/router-facts.ts';
import type { RoutingOutcome } from './outcome.ts';
import { hasMeaningfulDots } from './outcome-cache.ts';

/** Can routers read the path in more than one way? */
export function isSpecial(target: string, facts: Facts): boolean {
  return (
    /%|\/\/|\/$|\/\?/u.test(target) ||
    (target.includes('.') && hasMeaningfulDots(target.split('?', 1)[0] as string, facts.suffixes))
  );
}

/** What of a request and its outcome tells which facts can't matter, without asking again. */
export interface RequestTraits {
  readonly request: Request;
  readonly following: RoutingOutcome;
  /** The path can be read in more than one way. */
  readonly special: boolean;
  /** How many shapes of routes some reading matches. */
  readonly candidates: number;
  /** The shapes of routes that this reading matches are all that any other one would. */
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

export function traitsOf(router: Router, request: Request, following: RoutingOutcome): RequestTraits {
  const target = normalise(request.target, router.facts);
  const path = target.ok ? target.matched : [];
  const shapes = lookup(mostPermissive(router).tree, path);
  const strict = lookup(router.tree, path);
  const own = new Set(strict.map((l) => l.route.index));
  return {
    request,
    following,
    special: isSpecial(request.target, router.facts),
    candidates: shapes.length,
    // Shapes and not routes: with an optional part two of one route may match, which give its parameters other values.
    same: strict.length === shapes.length,
    alone: own.size === shapes.length && isAlone(router, request, following, strict),
    said: request.body !== undefined || Object.keys(request.headers).length > 0 || (target.ok && target.suffixType !== undefined),
    mixed: following.leaf?.shape.some((piece) => piece.parts.length > 1) ?? false,
    turned: target.ok && isTurned(router, path, strict),
    ended: strict.some((l) => l.route.isBarrier),
  };
}

/** Would a router that never comes back look at other leaves, by one tree or by one for each method? */
function isTurned(router: Router, path: readonly string[], strict: readonly RouteShape[]): boolean {
  const { precedence, deadEnds } = router.facts;
  if (precedence !== 'most-specific' && deadEnds !== 'give-up' && deadEnds !== 'last-tail') return false;
  return !sameLeaves(reachedInOneWalk(variantOf(router, 'deadEnds', 'give-up'), path), strict);
}

/** One route takes the method, and every router asks on where a method fails; HEAD and OPTIONS may be taken for others. */
function isAlone(
  { facts }: Router,
  { method }: Request,
  { outcome, leaf }: RoutingOutcome,
  strict: readonly RouteShape[],
): boolean {
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

function sameLeaves(a: readonly RouteShape[], b: readonly RouteShape[]): boolean {
  return a.length === b.length && a.every((leaf) => b.includes(leaf));
}

/** What decides whether facts matter to one outcome. */
interface Weighed {
  readonly router: Router;
  readonly seen: RequestTraits;
  /** The router may commit to a branch before it knows the route. */
  readonly isSteered: boolean;
  /** The order of routes rests on what their patterns match. */
  readonly isRanked: boolean;
  readonly isTreed: boolean;
}

const hasCandidates = ({ seen }: Weighed): boolean => seen.candidates > 0;
const hasRivals = ({ seen }: Weighed): boolean => seen.candidates > 1;
const inTree = ({ isTreed }: Weighed): boolean => isTreed;
const isWrittenOddly = ({ seen }: Weighed): boolean => seen.special;
const isReadOtherwise = ({ seen, isRanked }: Weighed): boolean => seen.special || !seen.same || isRanked;
const bySpecificity = ({ isSteered, seen, router }: Weighed): boolean =>
  isSteered || seen.turned || (seen.candidates > 1 && router.facts.precedence === 'most-specific');
const byMethod = ({ seen: { candidates, following, request } }: Weighed): boolean => {
  const taken = following.outcome === 'routed' && following.leaf !== undefined;
  return candidates > 0 && (!taken || request.method === 'HEAD' || request.method === 'OPTIONS');
};

/** When another value of a fact may change an outcome; of facts that are not listed, when something is said to which they apply. */
const MAY_INFLUENCE: Partial<Record<FactName, (weighed: Weighed) => boolean>> = {
  precedence: ({ seen }) => (seen.candidates > 1 && !seen.alone) || seen.turned,
  wrongMethod: hasRivals,
  anyMethod: hasRivals,
  specificity: bySpecificity,
  ties: bySpecificity,
  deadEnds: ({ seen }) => seen.turned,
  trees: inTree,
  tails: inTree,
  mixed: inTree,
  typedBranch: ({ isTreed, seen }) => isTreed || seen.turned,
  types: ({ seen, router, isRanked }) => !(seen.same && router.facts.types === 'in-match') || isRanked,
  refusal: ({ seen }) => seen.following.outcome === 'refused',
  trailingSlash: (w) => isReadOtherwise(w) || (w.router.facts.trailingSlash !== 'exact' && hasCandidates(w)),
  letterCase: isReadOtherwise,
  emptyValue: isReadOtherwise,
  decoding: (w) => w.seen.special || w.isRanked || hasEncodedText(w.router),
  patternText: ({ router }) => hasEncodedText(router),
  doubledSlash: isWrittenOddly,
  dotSegments: isWrittenOddly,
  encodedSlash: isWrittenOddly,
  suffix: isWrittenOddly,
  malformed: isWrittenOddly,
  tooLong: ({ router }) => router.facts.longestValue !== Number.POSITIVE_INFINITY,
  split: ({ seen, router }) => seen.mixed || router.facts.longestValue !== Number.POSITIVE_INFINITY,
  head: byMethod,
  options: byMethod,
  noMethod: byMethod,
};

/** Could another value of the fact change this outcome? True where that is not plain. */
export function mayInfluence(name: FactName, router: Router, seen: RequestTraits): boolean {
  const { facts } = router;
  const { candidates } = seen;
  // Elsewhere the order of routes rests on what their patterns match, so every reading counts.
  const isSteered = isOneWayBy(facts);
  const ranks = facts.precedence === 'most-specific' || facts.precedence === 'exclusive';
  const isRanked = isSteered || (candidates > 1 && ranks);
  const isTreed = isTree(facts) && (isSteered || candidates > 1);
  const may = MAY_INFLUENCE[name];
  return may === undefined ? seen.said && candidates > 0 : may({ router, seen, isSteered, isRanked, isTreed });
}

const encodedTextCache = new WeakMap<Router['table'], boolean>();

/** Does a pattern have text that was written percent-encoded? */
export function hasEncodedText({ table }: Router): boolean {
  const known =
    encodedTextCache.get(table) ??
    table.routes.some(({ pattern }) =>
      pattern.shapes.some((s) => s.some((piece) => piece.parts.some((p) => p.kind === 'literal' && p.raw !== undefined))),
    );
  encodedTextCache.set(table, known);
  return known;
}
