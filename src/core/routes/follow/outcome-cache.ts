/**
 * What all plain requests share that match the same leaves: everything but their values. Logs are full of such requests,
 * and what is found out for one of them holds for the rest.
 */
import { memoise } from '../../base/memo.ts';
import { accepts, type Language } from '../../language/language.ts';
import { literalText } from '../../paths/pattern.ts';
import { type Value, valuesOf } from '../index/bind-parameters.ts';
import { oneWalks } from '../index/candidates.ts';
import type { Router } from '../index/router.ts';
import { type End, endsOf, leavesOfEnd, type RouteShape, restText } from '../index/segment-tree.ts';
import type { Request } from '../request/request.ts';
import { versionAsked } from '../request/requested-version.ts';
import { isTree } from '../table/router-facts.ts';
import type { RenderCache, RoutingOutcome } from './outcome.ts';

/** A step for each place at which the path ends in some reading; what is kept stands at the end. */
interface CacheNode {
  readonly next: Map<End, CacheNode>;
  /**
   * What of the path tells which of the leaves match as this router reads; `walk`: cannot be decided per segment; follow the
   * request normally.
   */
  checks: readonly SegmentTest[] | 'walk' | undefined;
  /** By the checks that hold, a bit for each. */
  readonly kept: Map<number, CachedOutcome | 'differs'>;
}

/** Does this segment have this text, or is it in this language? With `rest` all segments from there are. */
interface SegmentTest {
  readonly at: number;
  readonly text: string | undefined;
  readonly test: ((text: string) => boolean) | undefined;
  readonly rest: Language | undefined;
}

type CachedOutcome = RoutingOutcome & { readonly shared: RenderCache };

interface OutcomeCache {
  /** By method and version. */
  readonly first: Map<string, CacheNode>;
  size: number;
  /** May who wins rest on branches that a router takes which never comes back? */
  readonly mayTurn: boolean;
}

/** So many steps are kept of one router. */
const MOST_STEPS = 200_000;
/** As many as a small whole number has bits. */
const MOST_CHECKS = 30;

/**
 * The answer for a request, made by `make` unless one for the same leaves is kept. `loose` is the router that matches
 * whatever any reading of a path would match. Cost of a kept answer: one walk down its tree.
 *
 * A request is plain when it has nothing but a method and a path that all routers read alike, and when types alone decide
 * which of the leaves of other readings this router lacks. Then outcome, route and facts rest on the leaves and the method.
 */
export function cachedOutcome(router: Router, request: Request, loose: () => Router, make: () => RoutingOutcome): RoutingOutcome {
  if (!isPlain(router, request)) return make();
  const segments = request.target.slice(1).split('/');
  const { ends, isForked } = endsOf(loose().tree, segments);
  const shelf = shelfOf(router);
  const ended = stepOf(shelf, router, request, ends);
  const step = ended === undefined || !shelf.mayTurn || !isForked ? ended : stepOfWalk(shelf, ended, router, segments);
  if (step === undefined) return make();
  step.checks ??= checksOf(router, ends.flatMap(leavesOfEnd));
  const holding = step.checks === 'walk' ? undefined : testBits(step.checks, segments);
  if (holding === undefined) return make();
  const known = step.kept.get(holding);
  if (known === 'differs') return make();
  if (known !== undefined) {
    const values = sharedValues(router, known, segments);
    return values === undefined ? make() : withRequest(known, request, values);
  }
  const made = make();
  if (isValueIndependent(made) && sharedValues(router, made, segments) === undefined) return made;
  const kept = isValueIndependent(made) ? { ...made, shared: {} } : undefined;
  step.kept.set(holding, kept ?? 'differs');
  return kept ?? made;
}

/** What has to be looked at of a path that these leaves match in some reading; equal checks are one. */
function checksOf(router: Router, wide: readonly RouteShape[]): readonly SegmentTest[] | 'walk' {
  const { compiler } = router.tree;
  const checks = new Map<string, SegmentTest>();
  for (const { route, shape } of wide) {
    const own = router.leavesOf(route).find((l) => l.shape.length === shape.length && l.shape.every((p, i) => p === shape[i]));
    if (own === undefined) return 'walk';
    for (const [at, piece] of shape.entries()) {
      if (piece.kind === 'span') {
        checks.set(`${at} *${compiler.restKey(shape, at)}`, {
          at,
          text: undefined,
          test: undefined,
          rest: compiler.rest(shape, at),
        });
        break;
      }
      const text = literalText(piece);
      const key = text === undefined ? compiler.key(piece) : `=${text}`;
      checks.set(`${at} ${key}`, { at, text, test: text === undefined ? compiler.test(piece) : undefined, rest: undefined });
    }
  }
  return checks.size > MOST_CHECKS ? 'walk' : [...checks.values()];
}

/** The checks that hold; undefined where a text does not, which is a reading without types. */
function testBits(checks: readonly SegmentTest[], segments: readonly string[]): number | undefined {
  let bits = 0;
  for (let i = 0; i < checks.length; i++) {
    const { at, text, test, rest } = checks[i] as SegmentTest;
    const segment = segments[at] as string;
    if (rest !== undefined ? accepts(rest, restText(segments, at)) : test === undefined ? text === segment : test(segment))
      bits |= 1 << i;
    else if (rest === undefined && test === undefined) return undefined;
  }
  return bits;
}

/** The values of this request; undefined where two parameters of a segment could share it in two ways, which is a fact. */
function sharedValues(
  router: Router,
  kept: RoutingOutcome,
  segments: readonly string[],
): RoutingOutcome['parameters'] | undefined {
  const { leaf } = kept;
  if (leaf === undefined || kept.parameters.size === 0) return kept.parameters;
  const values = valuesOf(router, leaf, segments);
  if (!leaf.shape.some((piece) => piece.parts.length > 1)) return values;
  const other = valuesOf(router, leaf, segments, router.facts.split === 'longest' ? 'shortest' : 'longest');
  return sameValues(values, other) ? values : undefined;
}

function sameValues(a: ReadonlyMap<string, Value>, b: ReadonlyMap<string, Value>): boolean {
  for (const [name, { text }] of a) if (b.get(name)?.text !== text) return false;
  return true;
}

/** Written out, because copying a dozen properties of an object takes longer than walking down a tree. */
function withRequest(kept: CachedOutcome, request: Request, parameters: RoutingOutcome['parameters']): RoutingOutcome {
  return {
    request,
    outcome: kept.outcome,
    status: kept.status,
    leaf: kept.leaf,
    parameters,
    allow: kept.allow,
    alsoMatched: kept.alsoMatched,
    why: kept.why,
    version: kept.version,
    responseType: kept.responseType,
    restsOn: kept.restsOn,
    shared: kept.shared,
  };
}

/** Segments that are not empty and have nothing that routers read in several ways. */
const PLAIN = /^(?:\/[^%?#/]+)+$/u;

function isPlain({ facts }: Router, { body, headers, target }: Request): boolean {
  if (
    body !== undefined ||
    facts.types !== 'in-match' ||
    facts.deadEnds !== 'retry' ||
    facts.longestValue !== Number.POSITIVE_INFINITY
  )
    return false;
  for (const _ in headers) return false;
  return PLAIN.test(target) && (!target.includes('.') || !hasMeaningfulDots(target, facts.suffixes));
}

/** Dots matter as segments of their own, and before a suffix that the router may take off. */
export function hasMeaningfulDots(target: string, suffixes: Readonly<Record<string, string>>): boolean {
  if (/(?:^|\/)\.\.?(?:\/|$)/u.test(target)) return true;
  const dot = target.lastIndexOf('.');
  return dot > target.lastIndexOf('/') && Object.hasOwn(suffixes, target.slice(dot + 1));
}

/** Does nothing of this answer rest on the values? */
function isValueIndependent({ leaf, outcome }: RoutingOutcome): boolean {
  if (outcome === 'refused') return false;
  if (leaf === undefined) return outcome === 'not-found' || outcome === 'method-not-allowed';
  return leaf.route.pattern.capture === undefined && leaf.route.handlerTypes.size === 0;
}

const shelfOf = memoise((router: Router): OutcomeCache => {
  const mayTurn = isTree(router.facts);
  const made: OutcomeCache = { first: new Map(), size: 0, mayTurn };
  return made;
});

function stepOf(shelf: OutcomeCache, router: Router, request: Request, ends: readonly End[]): CacheNode | undefined {
  let step = childNode(
    shelf,
    shelf.first,
    router.versioning === undefined ? request.method : request.method + versionOf(router, request),
  );
  for (const end of ends) step = step && childNode(shelf, step.next, end);
  return step;
}

/**
 * What a router that never comes back would reach tells whether that fact matters: a step for each of its leaves, and for
 * those behind the last tail. One walk.
 */
function stepOfWalk(shelf: OutcomeCache, from: CacheNode, router: Router, segments: readonly string[]): CacheNode | undefined {
  let step: CacheNode | undefined = from;
  for (const leaves of oneWalks(router, segments)) {
    for (const leaf of leaves) step = step && childNode<object>(shelf, step.next as Map<object, CacheNode>, leaf);
    step = step && childNode<object>(shelf, step.next as Map<object, CacheNode>, BETWEEN);
  }
  return step;
}

const BETWEEN = {};

const NO_QUERY = new URLSearchParams();

/** What the path says of the version, where there are several. */
function versionOf({ versioning }: Router, request: Request): string {
  if (versioning === undefined) return '';
  const asked = versionAsked(versioning, request, NO_QUERY);
  return ` ${JSON.stringify(asked)}`;
}

function childNode<K>(shelf: OutcomeCache, steps: Map<K, CacheNode>, key: K): CacheNode | undefined {
  const known = steps.get(key);
  if (known !== undefined) return known;
  if (shelf.size >= MOST_STEPS) return undefined;
  const made: CacheNode = { next: new Map(), checks: undefined, kept: new Map() };
  steps.set(key, made);
  shelf.size += 1;
  return made;
}
