/** A request followed through services, as a gateway passes it on, and held against what the answering one documents. */
import { checkRequest, type RequestCheck } from '../../contract/request/check-request.ts';
import { type Behind, type Choice, passedTo } from '../../routes/follow/gateway.ts';
import { type RoutingOutcome, unrouted } from '../../routes/follow/outcome.ts';
import { followWithFacts } from '../../routes/follow/with-facts.ts';
import type { Router } from '../../routes/index/router.ts';
import type { Request } from '../../routes/request/request.ts';
import type { Versioning } from '../../routes/request/requested-version.ts';
import { type Near, nearest, nearestOf } from '../../routes/suggest/nearest-routes.ts';
import type { Context } from './context.ts';

/** A request's outcome with what explains it. */
export interface Followed {
  readonly following: RoutingOutcome;
  readonly near: readonly Near[];
  /** How the request stands to its operation's document. */
  readonly judged: RequestCheck | undefined;
  /** The service that a gateway passes it to, and what the others would say of it; undefined where no gateway is declared. */
  readonly passed?: Passed;
}

export interface Passed {
  /** Undefined where the gateway passes it to nobody. */
  readonly service: string | undefined;
  readonly behind: Behind | undefined;
  readonly others: readonly { readonly service: string; readonly following: RoutingOutcome }[];
}

/** A service that has a table. */
export interface Asked {
  readonly context: Context;
  readonly router: Router;
}

/** One that is opened when it is asked. */
export interface AskedService {
  readonly name: string;
  readonly behind: Behind;
  readonly open: () => readonly Asked[];
}

export interface Gateway {
  readonly choice: Choice;
  readonly versioning: Versioning | undefined;
}

/**
 * Without a gateway the first service that knows the path answers, and those behind it are not opened; with one the service that
 * it chooses, and the others are asked what they would have said. Undefined where there is no service.
 */
export function followAmong(
  services: readonly AskedService[],
  request: Request,
  gateway?: Gateway | undefined,
): Followed | undefined {
  if (gateway !== undefined) return throughGateway(services, request, gateway);
  const missed: Missed[] = [];
  for (const { open } of services) {
    for (const at of open()) {
      const following = followWithFacts(at.router, request);
      if (following.outcome !== 'not-found') return { following, judged: judgedBy(at, following), near: [] };
      missed.push({ at, following });
    }
  }
  const [first] = missed;
  return first === undefined ? undefined : { following: first.following, judged: undefined, near: nearestIn(missed) };
}

interface Missed {
  readonly at: Asked;
  readonly following: RoutingOutcome;
}

function throughGateway(
  services: readonly AskedService[],
  request: Request,
  { choice, versioning }: Gateway,
): Followed | undefined {
  const chosen = passedTo(services, choice, request, versioning);
  const asked = services.map((service) => ({
    service,
    all: service.open().map((at): Missed => ({ at, following: followWithFacts(at.router, request) })),
  }));
  if (asked.every(({ all }) => all.length === 0)) return undefined;
  const others = asked.flatMap(({ service, all }) =>
    service === chosen
      ? []
      : all.filter((m) => m.following.outcome !== 'not-found').map((m) => ({ service: service.name, following: m.following })),
  );
  const passed = { service: chosen?.name, behind: chosen?.behind, others };
  const [own] = asked.find(({ service }) => service === chosen)?.all ?? [];
  if (own === undefined) {
    const why = 'the gateway passes it to no service';
    const following = unrouted({ request, version: undefined }, 'not-found', 404, why);
    return { following, judged: undefined, near: nearestIn(asked.flatMap((a) => a.all)), passed };
  }
  const near = own.following.outcome === 'not-found' ? nearestIn([own]) : [];
  return { following: own.following, judged: judgedBy(own.at, own.following), near, passed };
}

function nearestIn(missed: readonly Missed[]): readonly Near[] {
  const isRefused = (at: Asked, f: RoutingOutcome): boolean => judgedBy(at, f)?.complaints.some((c) => c.in === 'path') === true;
  return nearestOf(missed.map(({ at, following }) => nearest(at.router, following, (f) => isRefused(at, f))));
}

function judgedBy({ context }: Asked, following: RoutingOutcome): RequestCheck | undefined {
  return following.leaf === undefined ? undefined : checkRequest(following, context.pairing());
}
