/** A request followed through services, as a gateway passes it on, and held against what the answering one documents. */
import { lazy } from '../../base/lazy.ts';
import { checkRequest, type RequestCheck } from '../../contract/request/check-request.ts';
import { type Behind, type Gateway, passedTo, passedToNobody } from '../../routes/follow/gateway.ts';
import type { RoutingOutcome } from '../../routes/follow/outcome.ts';
import { followWithFacts } from '../../routes/follow/with-facts.ts';
import type { Router } from '../../routes/index/router.ts';
import type { Request } from '../../routes/request/request.ts';
import { type Near, nearest, nearestOf } from '../../routes/suggest/nearest-routes.ts';
import type { Context, Service } from './context.ts';

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
  /** Those that know the path. Asking opens and follows through every service. */
  readonly others: () => readonly { readonly service: string; readonly following: RoutingOutcome }[];
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

/**
 * Without a gateway the first service that knows the path answers, with one the service that it chooses; the others are not
 * opened. Undefined where there is no service.
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

function throughGateway(services: readonly AskedService[], request: Request, gateway: Gateway): Followed | undefined {
  const chosen = passedTo(services, gateway, request);
  const ask = ({ open }: AskedService): readonly Missed[] =>
    open().map((at): Missed => ({ at, following: followWithFacts(at.router, request) }));
  const others = lazy(() =>
    services.flatMap((service) =>
      service === chosen
        ? []
        : ask(service).flatMap(({ following }) =>
            following.outcome === 'not-found' ? [] : [{ service: service.name, following }],
          ),
    ),
  );
  const passed = { service: chosen?.name, behind: chosen?.behind, others };
  const [own] = chosen === undefined ? [] : ask(chosen);
  if (own === undefined) {
    const missed = services.flatMap(ask);
    if (missed.length === 0) return undefined;
    return { following: passedToNobody(request), judged: undefined, near: nearestIn(missed), passed };
  }
  const near = own.following.outcome === 'not-found' ? nearestIn([own]) : [];
  return { following: own.following, judged: judgedBy(own.at, own.following), near, passed };
}

function nearestIn(missed: readonly Missed[]): readonly Near[] {
  const isRefused = (at: Asked, f: RoutingOutcome): boolean => judgedBy(at, f)?.complaints.some((c) => c.in === 'path') === true;
  return nearestOf(missed.map(({ at, following }) => nearest(at.router, following, (f) => isRefused(at, f))));
}

/** Does the gateway pass a request to this service? Always where none is declared. */
export function isPassedTo({ behind, gateway, versioning }: Service, request: Request): boolean {
  if (behind === undefined || gateway === undefined) return true;
  const all = gateway.peers.flatMap((p) => (p.behind === undefined ? [] : [{ behind: p.behind }]));
  return passedTo(all, { choice: gateway.choice, versioning }, request)?.behind === behind;
}

function judgedBy({ context }: Asked, following: RoutingOutcome): RequestCheck | undefined {
  return following.leaf === undefined ? undefined : checkRequest(following, context.pairing());
}
