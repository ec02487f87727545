/** Follows one request through a table: who takes it, with which parameters, who else would have, what is answered. */

import { accepts } from '../../language/language.ts';
import { chooseType } from '../../media/media.ts';
import { withoutParameter } from '../../media/ranges.ts';
import { parametersOf } from '../../paths/pattern.ts';
import type { ParameterType } from '../../paths/types.ts';
import { type Value, valuesOf } from '../index/bind-parameters.ts';
import { candidates } from '../index/candidates.ts';
import { type Router, viewFor } from '../index/router.ts';
import type { RouteShape } from '../index/segment-tree.ts';
import { reasonOf, samePath, samePattern, selectWinner, sortByPrecedence, type Winner } from '../precedence/precedence.ts';
import type { RequestContext } from '../request/asking.ts';
import { type Normalised, normalise } from '../request/normalise.ts';
import type { Request } from '../request/request.ts';
import { headerOf, versionAsked } from '../request/requested-version.ts';
import { decodedText } from '../request/target.ts';
import { describedMedia, underUndeclared } from './media-outcome.ts';
import { firstMismatch } from './mismatch.ts';
import { endedByGroup, optionsOfGroup } from './options-requests.ts';
import { type Candidate, type Mismatch, type RoutingOutcome, unrouted } from './outcome.ts';
import { refusalOf } from './rejection.ts';

/** Follows a request. Cost: the branches of the tree that hold its segments, plus the routes that match its path. */
export function follow(router: Router, request: Request): RoutingOutcome {
  if (router.facts.undeclared !== 'unknown') return followed(router, request);
  return underUndeclared((refusing, open) => followed(router, request, { refusing, open }));
}

function followed(router: Router, request: Request, held: Pick<RequestContext, 'refusing' | 'open'> = {}): RoutingOutcome {
  const target = normalise(request.target, router.facts);
  if (!target.ok) {
    const outcome = target.status === 404 ? 'not-found' : 'bad-request';
    return unrouted({ request, version: undefined }, outcome, target.status, target.why);
  }
  const asking = { ...askingOf(router, request, target), ...held };
  const view = viewFor(router, request.method);
  const judged = judge(view, asking, target.matched);
  const fitting = judged.filter((j) => j.miss === undefined).map((j) => j.leaf);
  const first = selectWinner(view, fitting);
  if (endedByGroup(router, request, judged, first)) return optionsOfGroup(router, asking, judged);
  if (first.kind === 'none' || (first.kind === 'one' && first.leaf.route.isBarrier))
    return refusalOf(router, asking, view.method === undefined ? judged : judge(router, asking, target.matched));
  const rivals = judged.filter((j) => first.kind !== 'one' || j.leaf !== first.leaf).filter((j) => !j.leaf.route.isBarrier);
  if (first.kind === 'tie' || first.kind === 'unknown') return unsettled(asking, first, rivals);
  const { leaf } = first;
  const taken: RoutingOutcome = {
    ...unrouted(asking, 'routed', null),
    leaf,
    parameters: decoded(router, valuesOf(router, leaf, target.matched)),
    // That a path has other methods explains nothing.
    alsoMatched: rivals
      .filter((r) => r.miss?.cause !== 'method')
      .map((rival) => ({ leaf: rival.leaf, why: rival.miss?.why ?? reasonOf(view, leaf, rival.leaf) })),
    responseType: responseTypeOf(router, leaf, asking),
  };
  return refusedValue(router, taken) ?? sameButVersion(router, taken, fitting) ?? describedMedia(router, taken, asking) ?? taken;
}

function unsettled(
  asking: RequestContext,
  first: Extract<Winner, { kind: 'tie' | 'unknown' }>,
  rivals: readonly Candidate[],
): RoutingOutcome {
  const also = rivals.map(({ leaf, miss }) => ({ leaf, why: miss?.why ?? 'fits just as well' }));
  const why =
    first.kind === 'tie'
      ? `${first.leaves.length} routes fit equally well, and nothing says which one wins`
      : 'the precedence of this router is unknown, and more than one route fits';
  return { ...unrouted(asking, first.kind === 'tie' ? 'ambiguous' : 'undecided', null, why), alsoMatched: also };
}

const NO_QUERY = new URLSearchParams();
const NO_TYPES: readonly { name: string; type: ParameterType | undefined }[] = [];

function askingOf(router: Router, request: Request, target: Extract<Normalised, { ok: true }>): RequestContext {
  const query = target.query === undefined ? NO_QUERY : new URLSearchParams(target.query);
  const version = router.versioning === undefined ? undefined : versionAsked(router.versioning, request, query);
  return {
    request,
    host: target.host ?? headerOf(request, 'host')?.toLowerCase(),
    query,
    version,
    accept: target.suffixType ?? withoutVersion(router, headerOf(request, 'accept')),
    sent:
      withoutVersion(router, headerOf(request, 'content-type')) ??
      (request.body === undefined ? undefined : 'application/octet-stream'),
  };
}

/** Where a parameter of the media type names the version, it selects nothing else. */
function withoutVersion({ versioning }: Router, header: string | undefined): string | undefined {
  const names = [versioning, ...(versioning?.also ?? [])].flatMap((s) => (s?.selector === 'media-type' ? [s.name] : []));
  return names.reduce((text, name) => (text === undefined ? undefined : withoutParameter(text, name)), header);
}

/** The routes whose path fits, in the order in which they are asked, with what keeps each from taking the request. */
function judge(router: Router, asking: RequestContext, segments: readonly string[]): readonly Candidate[] {
  const { wrongMethod } = router.facts;
  const leaves = sortByPrecedence(router, candidates(router, segments));
  const judged = leaves.map((leaf): Candidate => ({ leaf, miss: firstMismatch(router, leaf, asking, segments) }));
  if (wrongMethod !== 'refuse') return judged;
  // The first path that fits answers, whatever its methods; routes of one pattern are one path.
  const first = selectWinner(
    router,
    judged.filter((j) => j.miss === undefined || !BEFORE_METHOD.has(j.miss.cause)).map((j) => j.leaf),
  );
  if (first.kind === 'none' || first.kind === 'unknown') return judged;
  const heads = first.kind === 'one' ? [first.leaf] : first.leaves;
  return judged.filter((j) => heads.some((head) => samePattern(router, j.leaf.route, head.route)));
}

const BEFORE_METHOD: ReadonlySet<Mismatch['cause']> = new Set(['length', 'host', 'header', 'query', 'version']);

/** A value that was matched and that the handler then refuses, by a written type or by one under `parameters:`. */
function refusedValue(router: Router, taken: RoutingOutcome): RoutingOutcome | undefined {
  const { leaf, parameters } = taken;
  if (leaf === undefined || (leaf.route.handlerTypes.size === 0 && router.facts.types !== 'after-match')) return undefined;
  const written = router.facts.types === 'after-match' ? parametersOf(leaf.route.pattern) : NO_TYPES;
  const wanted: readonly { name: string; type: ParameterType | undefined }[] = [
    ...written,
    ...[...leaf.route.handlerTypes].map(([name, type]) => ({ name, type })),
  ];
  for (const { name, type } of wanted) {
    const value = parameters.get(name);
    if (type === undefined || value === undefined || accepts(router.typeLanguage(type), value.text)) continue;
    const status = router.facts.refusal === 'unknown' ? null : Number(router.facts.refusal);
    const why = `the handler wants ${type.name} for ${name}, and "${value.text}" is none`;
    return {
      ...taken,
      outcome: 'refused',
      status,
      why,
      responseType: undefined,
    };
  }
  return undefined;
}

/** Two routes that only their versions tell apart, and nothing says where a request's version stands. */
function sameButVersion(router: Router, taken: RoutingOutcome, fitting: readonly RouteShape[]): RoutingOutcome | undefined {
  const mine = taken.leaf?.route.conditions.version;
  if (router.versioning !== undefined || mine === undefined || taken.leaf === undefined) return undefined;
  const other = fitting.find(
    (l) =>
      l.route.conditions.version !== undefined &&
      l.route.conditions.version.join() !== mine.join() &&
      samePath(router, l, taken.leaf as RouteShape),
  );
  if (other === undefined) return undefined;
  return {
    ...taken,
    outcome: 'undecided',
    leaf: undefined,
    parameters: new Map(),
    responseType: undefined,
    why: 'routes for several versions fit, and no setting says where a request names its version; set versioning: in elm-gate.yaml',
  };
}

function responseTypeOf(router: Router, leaf: RouteShape, asking: RequestContext): RoutingOutcome['responseType'] {
  const { returns } = leaf.route.conditions;
  if (returns === undefined) return undefined;
  const type = chooseType(asking.accept, returns, router.facts.mediaParameters !== 'ignored');
  return { type: type ?? (returns[0] as string), byDefault: type === undefined || asking.accept === undefined };
}

/** Values are decoded after matching where the router matches what was sent. */
function decoded(router: Router, values: ReadonlyMap<string, Value>): ReadonlyMap<string, Value> {
  if (router.facts.decoding !== 'values-only') return values;
  return new Map([...values].map(([name, value]) => [name, { ...value, text: decodedText(value.text) }]));
}
