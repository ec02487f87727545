/** What becomes of a request. */

import type { Value } from '../index/bind-parameters.ts';
import type { RouteShape } from '../index/segment-tree.ts';
import type { RequestContext } from '../request/asking.ts';
import type { Request } from '../request/request.ts';
import type { RequestedVersion } from '../request/requested-version.ts';
import type { RestsOn } from '../table/router-facts.ts';

/** In the order in which a request is judged; the further a route got, the nearer it was. */
export const CAUSES = ['length', 'host', 'header', 'query', 'version', 'method', 'takes', 'returns'] as const;

export const OUTCOMES = [
  'routed',
  'refused',
  'not-found',
  'method-not-allowed',
  'unsupported-media-type',
  'not-acceptable',
  'bad-request',
  'version-unknown',
  'ambiguous',
  'undecided',
] as const;
export type Outcome = (typeof OUTCOMES)[number];

export interface RoutingOutcome {
  readonly request: Request;
  readonly outcome: Outcome;
  /** The status predicted when no handler gets the request, otherwise null. */
  readonly status: number | null;
  readonly leaf: RouteShape | undefined;
  readonly parameters: ReadonlyMap<string, Value>;
  /** The methods of an Allow header (RFC 9110, 10.2.1), in the usual order. */
  readonly allow: readonly string[] | null;
  readonly alsoMatched: readonly { readonly leaf: RouteShape; readonly why: string }[];
  /** Why it ended so, in words, where the outcome alone does not say it. */
  readonly why: string | undefined;
  /** The version that the request asks for. */
  readonly version: RequestedVersion | undefined;
  /** The media type of the answer: what it is, and whether the client asked for it. */
  readonly responseType: { readonly type: string; readonly byDefault: boolean } | undefined;
  readonly restsOn: readonly RestsOn[];
  /** The same object for all requests that share everything but request and parameters. */
  readonly shared?: RenderCache;
}

/** A place for what is made of an answer once and used for all that share it. */
export interface RenderCache {
  written?: readonly [Uint8Array, Uint8Array];
}

/** A route whose path fits, and what else it wants. */
export interface Candidate {
  readonly leaf: RouteShape;
  readonly miss: Mismatch | undefined;
}

/** A following in which no route takes the request. What it rests on is found by asking again (`answer`). */
export function unrouted(
  { request, version }: Pick<RequestContext, 'request' | 'version'>,
  outcome: Outcome,
  status: number | null,
  why?: string,
): RoutingOutcome {
  return {
    request,
    outcome,
    status,
    leaf: undefined,
    parameters: new Map(),
    allow: null,
    alsoMatched: [],
    why,
    version,
    responseType: undefined,
    restsOn: [],
  };
}

export type Cause = (typeof CAUSES)[number];

export interface Mismatch {
  readonly cause: Cause;
  readonly why: string;
}
