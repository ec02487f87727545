/** A request followed through services, as a gateway passes it on, and held against what the answering one documents. */
import { checkRequest, type RequestCheck } from '../../contract/request/check-request.ts';
import type { RoutingOutcome } from '../../routes/follow/outcome.ts';
import { followWithFacts } from '../../routes/follow/with-facts.ts';
import type { Router } from '../../routes/index/router.ts';
import type { Request } from '../../routes/request/request.ts';
import { type Near, nearest, nearestOf } from '../../routes/suggest/nearest-routes.ts';
import type { Context } from './context.ts';

/** A request's outcome with what explains it. */
export interface Followed {
  readonly following: RoutingOutcome;
  readonly near: readonly Near[];
  /** How the request stands to its operation's document. */
  readonly judged: RequestCheck | undefined;
}

/** A service that has a table. */
export interface Asked {
  readonly context: Context;
  readonly router: Router;
}

/** The first service that knows the path answers, and those behind it are not opened; undefined where there is none. */
export function followAmong(asked: Iterable<() => readonly Asked[]>, request: Request): Followed | undefined {
  const missed: { readonly at: Asked; readonly following: RoutingOutcome }[] = [];
  for (const open of asked) {
    for (const at of open()) {
      const following = followWithFacts(at.router, request);
      if (following.outcome !== 'not-found') return { following, judged: judgedBy(at, following), near: [] };
      missed.push({ at, following });
    }
  }
  const [first] = missed;
  if (first === undefined) return undefined;
  const isRefused = (at: Asked, f: RoutingOutcome): boolean => judgedBy(at, f)?.complaints.some((c) => c.in === 'path') === true;
  const near = nearestOf(missed.map(({ at, following }) => nearest(at.router, following, (f) => isRefused(at, f))));
  return { following: first.following, judged: undefined, near };
}

function judgedBy({ context }: Asked, following: RoutingOutcome): RequestCheck | undefined {
  return following.leaf === undefined ? undefined : checkRequest(following, context.pairing());
}
