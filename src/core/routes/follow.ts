/** Follows one request through a table: who takes it, with which parameters, who else would have, what is answered. */
import { type FactName, type RestsOn, restsOn } from './facts.ts';
import { type Miss, missOf } from './miss.ts';
import { orderOf } from './precedence.ts';
import type { Request } from './request.ts';
import { ANY_METHOD } from './route.ts';
import type { Router } from './router.ts';
import { splitPath, type Value } from './split.ts';
import { parseTarget } from './target.ts';
import { type Leaf, matching } from './tree.ts';

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

export interface Following {
  readonly request: Request;
  readonly outcome: Outcome;
  /** The status predicted when no handler gets the request, otherwise null. */
  readonly status: number | null;
  readonly leaf: Leaf | undefined;
  readonly parameters: ReadonlyMap<string, Value>;
  /** The methods of an Allow header (RFC 9110, 10.2.1), in the usual order. */
  readonly allow: readonly string[] | null;
  readonly alsoMatched: readonly { readonly leaf: Leaf; readonly why: string }[];
  readonly why: string | undefined;
  readonly restsOn: readonly RestsOn[];
}

/** Follows a request. Cost: the branches of the tree that hold its segments, plus the routes that match its path. */
export function follow(router: Router, request: Request): Following {
  const target = parseTarget(request.target);
  if (!target.ok) return ended(router, request, 'bad-request', 400, { why: target.why });
  const matched = inOrder(router, matching(router.tree, target.segments));
  const judged = matched.map((leaf) => ({ leaf, miss: missOf(router, leaf, request, target) }));
  const winner = judged.find((j) => j.miss === undefined);
  if (winner === undefined) return refused(router, request, judged);
  const others = judged.filter((j) => j !== winner);
  return {
    ...ended(router, request, 'routed', null, {}),
    leaf: winner.leaf,
    parameters: splitPath(
      winner.leaf.route.pattern,
      winner.leaf.shape,
      target.segments,
      router.tree.compiler,
      router.facts.split === 'longest',
    ),
    alsoMatched: others.map(({ leaf, miss }) => ({ leaf, why: miss === undefined ? lost(router, winner.leaf, leaf) : miss.why })),
    restsOn: others.some((o) => o.miss === undefined) ? restsOn(router.facts, 'precedence') : [],
  };
}

/** The leaves in the order in which the router asks them, a route once. */
function inOrder(router: Router, leaves: readonly Leaf[]): readonly Leaf[] {
  const seen = new Set<Leaf['route']>();
  const once = leaves.filter((l) => !seen.has(l.route) && seen.add(l.route));
  return once.sort((a, b) => (orderOf(router, a, b) === 'first' ? -1 : 1));
}

function lost(router: Router, winner: Leaf, loser: Leaf): string {
  void winner;
  void loser;
  return router.facts.precedence === 'last-declared' ? 'declared earlier' : 'declared later';
}

/** Nobody takes it: what the routes that match its path let one predict. */
function refused(router: Router, request: Request, judged: readonly { leaf: Leaf; miss: Miss | undefined }[]): Following {
  const byMethod = judged.filter((j) => j.miss?.cause === 'method').map((j) => j.leaf);
  if (byMethod.length === 0) return ended(router, request, 'not-found', 404, {});
  const allow = allowOf(router, byMethod);
  const also = byMethod.map((leaf) => ({ leaf, why: `takes ${leaf.route.methods.join(', ')}` }));
  if (request.method === 'OPTIONS' && router.facts.options === 'answered') {
    return {
      ...ended(router, request, 'routed', null, { facts: ['options'] }),
      allow,
      alsoMatched: also,
      why: 'the router answers OPTIONS by itself',
    };
  }
  const status = Number(router.facts.noMethod);
  const outcome = status === 405 ? 'method-not-allowed' : 'not-found';
  return {
    ...ended(router, request, outcome, status, { facts: ['noMethod', 'head', 'options'] }),
    allow: status === 405 ? allow : null,
    alsoMatched: also,
  };
}

const METHOD_ORDER = ['GET', 'HEAD', 'POST', 'PUT', 'PATCH', 'DELETE', 'OPTIONS'];

/** What an Allow header lists for a path that these leaves match. */
export function allowOf(router: Router, leaves: readonly Leaf[]): readonly string[] {
  const methods = new Set(leaves.flatMap((l) => l.route.methods).filter((m) => m !== ANY_METHOD));
  if (methods.has('GET') && router.facts.head !== 'declared') methods.add('HEAD');
  if (router.facts.options === 'answered') methods.add('OPTIONS');
  const rank = (m: string): number => (METHOD_ORDER.indexOf(m) + METHOD_ORDER.length + 1) % (METHOD_ORDER.length + 1);
  return [...methods].sort((a, b) => rank(a) - rank(b));
}

function ended(
  router: Router,
  request: Request,
  outcome: Outcome,
  status: number | null,
  more: { why?: string; facts?: readonly FactName[] },
): Following {
  return {
    request,
    outcome,
    status,
    leaf: undefined,
    parameters: new Map(),
    allow: null,
    alsoMatched: [],
    why: more.why,
    restsOn: restsOn(router.facts, ...(more.facts ?? [])),
  };
}
