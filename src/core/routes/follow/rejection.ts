/** Nobody takes the request: what the routes that match its path let one predict. */

import type { Router } from '../index/router.ts';
import type { RouteShape } from '../index/segment-tree.ts';
import type { RequestContext } from '../request/asking.ts';
import { ANY_METHOD } from '../table/route.ts';
import { CAUSES, type Candidate, type Mismatch, type RoutingOutcome, unrouted } from './outcome.ts';

/** The answer that the route gives which came nearest to taking it. */
export function refusalOf(router: Router, asking: RequestContext, judged: readonly Candidate[]): RoutingOutcome {
  const { version } = asking;
  const versioning = router.versioning;
  if (versioning !== undefined && version !== undefined && version.kind !== 'version') {
    const why =
      version.kind === 'missing'
        ? 'the request names no version, and there is no default'
        : `unknown version ${version.id}; known: ${versioning.versions.join(', ')}`;
    return unrouted(asking, 'version-unknown', version.kind === 'missing' ? versioning.missing : versioning.unknown, why);
  }
  const missed = judged.flatMap((j) => (j.miss === undefined ? [] : [{ leaf: j.leaf, miss: j.miss }]));
  const furthest = Math.max(-1, ...missed.map((m) => CAUSES.indexOf(m.miss.cause)));
  const cause = CAUSES[furthest];
  const nearest = missed.filter((m) => m.miss.cause === cause);
  const also = nearest.map(({ leaf, miss }) => ({ leaf, why: miss.why }));
  switch (cause) {
    case 'takes':
      return { ...unrouted(asking, 'unsupported-media-type', 415), alsoMatched: also };
    case 'returns':
      return { ...unrouted(asking, 'not-acceptable', 406), alsoMatched: also };
    case 'method':
      return wrongMethod(
        router,
        asking,
        nearest.map((n) => n.leaf),
        also,
      );
    case 'version': {
      const why = version?.kind === 'version' ? `this path exists, but not in version ${version.id}` : undefined;
      return { ...unrouted(asking, 'version-unknown', versioning?.elsewhere ?? 404, why), alsoMatched: also };
    }
    default:
      return { ...tooLongOr404(router, asking, missed), alsoMatched: also };
  }
}

function tooLongOr404({ facts }: Router, asking: RequestContext, missed: readonly { readonly miss: Mismatch }[]): RoutingOutcome {
  const long = missed.find((m) => m.miss.cause === 'length');
  if (long === undefined) return unrouted(asking, 'not-found', 404);
  return facts.tooLong === '414'
    ? unrouted(asking, 'bad-request', 414, long.miss.why)
    : unrouted(asking, 'not-found', 404, long.miss.why);
}

function wrongMethod(
  router: Router,
  asking: RequestContext,
  leaves: readonly RouteShape[],
  also: RoutingOutcome['alsoMatched'],
): RoutingOutcome {
  const { facts } = router;
  const allow = allowOf(router, leaves);
  if (asking.request.method === 'OPTIONS' && facts.options !== 'declared') {
    return {
      ...unrouted(asking, 'routed', null, 'the router answers OPTIONS by itself'),
      allow,
      alsoMatched: also,
    };
  }
  if (facts.noMethod === 'unknown')
    return {
      ...unrouted(asking, 'undecided', null, 'only the method fails, and it is unknown whether this router answers 405 or 404'),
      allow,
      alsoMatched: also,
    };
  if (facts.noMethod === '404')
    return {
      ...unrouted(asking, 'not-found', 404, 'the path exists but does not support this method'),
      alsoMatched: also,
    };
  return { ...unrouted(asking, 'method-not-allowed', 405), allow, alsoMatched: also };
}

const METHOD_ORDER = ['GET', 'HEAD', 'POST', 'PUT', 'PATCH', 'DELETE', 'OPTIONS'];

/** What an Allow header lists for a path that these leaves match. */
export function allowOf(router: Router, leaves: readonly RouteShape[]): readonly string[] {
  const isGet = router.facts.head === 'is-get';
  const methods = new Set(leaves.flatMap((l) => l.route.methods).filter((m) => m !== ANY_METHOD && !(isGet && m === 'HEAD')));
  if (methods.has('GET') && router.facts.head !== 'declared') methods.add('HEAD');
  if (router.facts.options !== 'declared') methods.add('OPTIONS');
  const rank = (m: string): number => (METHOD_ORDER.indexOf(m) + METHOD_ORDER.length + 1) % (METHOD_ORDER.length + 1);
  return [...methods].sort((a, b) => rank(a) - rank(b));
}
