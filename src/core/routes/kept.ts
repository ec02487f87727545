/**
 * What all plain requests share that match the same leaves: everything but their values. Logs are full of such requests,
 * and what is found out for one of them holds for the rest.
 */
import { holds, type Language } from '../language/language.ts';
import { literalText } from '../paths/pattern.ts';
import type { Following, Shared } from './following.ts';
import type { Request } from './request.ts';
import type { Router } from './router.ts';
import { valuesOf } from './split.ts';
import { endNodes, type Leaf, matching, type Node } from './tree.ts';
import { versionAsked } from './version.ts';
import { reachedInOneWalk } from './walk.ts';

/** A step for each node at which the path ends in some reading; what is kept stands at the end. */
interface Step {
  readonly next: Map<Node, Step>;
  /** What of the path tells which of the leaves match as this router reads; `walk` where that is not so plain. */
  checks: readonly Check[] | 'walk' | undefined;
  /** By the checks that hold, a bit for each. */
  readonly kept: Map<number, Kept | 'differs'>;
}

/** Does this segment have this text, or is it in this language? */
interface Check {
  readonly at: number;
  readonly text: string | undefined;
  readonly language: Language | undefined;
}

type Kept = Following & { readonly shared: Shared };

interface Shelf {
  /** By method and version. */
  readonly first: Map<string, Step>;
  size: number;
}

const SHELVES = new WeakMap<Router, Shelf>();
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
export function keptAnswer(router: Router, request: Request, loose: () => Router, make: () => Following): Following {
  if (!isPlain(router, request)) return make();
  const segments = request.target.slice(1).split('/');
  const nodes = endNodes(loose().tree, segments);
  const step = nodes && stepOf(router, request, nodes);
  if (nodes === undefined || step === undefined) return make();
  step.checks ??= checksOf(router, leavesOf(nodes));
  const holding = step.checks === 'walk' ? undefined : bitsOf(step.checks, segments);
  if (holding === undefined) return make();
  const known = step.kept.get(holding);
  if (known === 'differs' || turns(router, loose(), segments, nodes)) return make();
  if (known !== undefined)
    return like(
      known,
      request,
      known.leaf === undefined || known.parameters.size === 0 ? known.parameters : valuesOf(router, known.leaf, segments),
    );
  const made = make();
  const kept = isShared(made) ? { ...made, shared: {} } : undefined;
  step.kept.set(holding, kept ?? 'differs');
  return kept ?? made;
}

function leavesOf(nodes: readonly Node[]): readonly Leaf[] {
  return nodes.flatMap((node) => node.ends);
}

/** What has to be looked at of a path that these leaves match in some reading; equal checks are one. */
function checksOf(router: Router, wide: readonly Leaf[]): readonly Check[] | 'walk' {
  const checks = new Map<string, Check>();
  const languages = new Map<Language, number>();
  for (const { route, shape } of wide) {
    const own = router.leavesOf(route).find((l) => l.shape.length === shape.length && l.shape.every((p, i) => p === shape[i]));
    if (own === undefined) return 'walk';
    for (const [at, piece] of shape.entries()) {
      if (piece.kind === 'span') return 'walk';
      const text = literalText(piece);
      const language = text === undefined ? router.tree.compiler.segment(piece) : undefined;
      if (language !== undefined && !languages.has(language)) languages.set(language, languages.size);
      checks.set(`${at} ${language === undefined ? `=${text}` : languages.get(language)}`, { at, text, language });
    }
  }
  return checks.size > MOST_CHECKS ? 'walk' : [...checks.values()];
}

/** The checks that hold; undefined where a text does not, which is a reading without types. */
function bitsOf(checks: readonly Check[], segments: readonly string[]): number | undefined {
  let bits = 0;
  for (let i = 0; i < checks.length; i++) {
    const { at, text, language } = checks[i] as Check;
    const segment = segments[at] as string;
    if (language === undefined ? text === segment : holds(language, segment)) bits |= 1 << i;
    else if (language === undefined) return undefined;
  }
  return bits;
}

/** Written out, because copying a dozen properties of an object takes longer than walking down a tree. */
function like(kept: Kept, request: Request, parameters: Following['parameters']): Following {
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

const PLAIN = /^(?:\/[^%.?#/]+)+$/u;

function isPlain({ facts }: Router, { body, headers, target }: Request): boolean {
  if (body !== undefined || facts.types !== 'in-match' || facts.deadEnds === 'give-up' || facts.deadEnds === 'last-tail')
    return false;
  if (facts.longestValue !== Number.POSITIVE_INFINITY) return false;
  for (const _ in headers) return false;
  return PLAIN.test(target);
}

/** Would a router that never comes back look at other leaves? Then more counts than what is matched. */
function turns(router: Router, loose: Router, segments: readonly string[], nodes: readonly Node[]): boolean {
  if (router.facts.precedence !== 'most-specific') return false;
  const misses = (r: Router, leaves: number): boolean => leaves > 0 && reachedInOneWalk(r, segments).length !== leaves;
  return misses(router, matching(router.tree, segments).length) || misses(loose, leavesOf(nodes).length);
}

/** Does nothing of this answer rest on the values? */
function isShared({ leaf, outcome }: Following): boolean {
  if (outcome === 'refused') return false;
  if (leaf === undefined) return outcome === 'not-found' || outcome === 'method-not-allowed';
  if (leaf.route.pattern.capture !== undefined) return false;
  return leaf.route.wants.size === 0 && leaf.shape.every((piece) => piece.parts.length <= 1);
}

function stepOf(router: Router, request: Request, nodes: readonly Node[]): Step | undefined {
  const shelf = SHELVES.get(router) ?? { first: new Map<string, Step>(), size: 0 };
  SHELVES.set(router, shelf);
  let step = stepTo(shelf, shelf.first, request.method + versionOf(router, request));
  for (const node of nodes) step = step && stepTo(shelf, step.next, node);
  return step;
}

const NO_QUERY = new URLSearchParams();

/** What the path says of the version, where there are several. */
function versionOf({ versioning }: Router, request: Request): string {
  if (versioning === undefined) return '';
  const asked = versionAsked(versioning, request, NO_QUERY);
  return ` ${JSON.stringify(asked)}`;
}

function stepTo<K>(shelf: Shelf, steps: Map<K, Step>, key: K): Step | undefined {
  const known = steps.get(key);
  if (known !== undefined) return known;
  if (shelf.size >= MOST_STEPS) return undefined;
  const made: Step = { next: new Map(), checks: undefined, kept: new Map() };
  steps.set(key, made);
  shelf.size += 1;
  return made;
}
