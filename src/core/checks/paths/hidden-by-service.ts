import { memoise } from '../../base/memo.ts';
import type { Shape } from '../../paths/pattern.ts';
import { follow } from '../../routes/follow/follow.ts';
import { areApart, type Behind, isNearer, mountSegments } from '../../routes/follow/gateway.ts';
import type { Router } from '../../routes/index/router.ts';
import type { Request } from '../../routes/request/request.ts';
import { ANY_METHOD, type Route, routeTitle } from '../../routes/table/route.ts';
import { routerOf, type Service, spotOf, witnessOf } from '../engine/context.ts';
import { routeRequest } from '../engine/endpoint.ts';
import type { Found } from '../engine/finding.ts';
import type { Rule } from '../engine/rule.ts';

export const hiddenByService: Rule = {
  id: 'paths/hidden-by-service',
  level: 'error',
  messages: {
    whole: '{route} never reaches {service}: the gateway passes everything below {mount} to {other}{more}',
    part: '{route} loses requests to {other}: the gateway passes everything below {mount} to that service{more}',
    outside: '{route} never reaches {service}: the gateway passes it only what is below {mount}{more}',
  },
  advice: {
    move: 'Mount one of the services elsewhere, change gateway: choose, or move the route.',
    mount: 'Declare the route below the mount, or say gateway: path: taken-off if the gateway takes the mount off.',
  },
  meta: {
    what: 'A route of one service whose requests the gateway passes to another service, or to none.',
    why: 'The gateway knows mounts and no routes: the service is never asked, and answers of the other one are no help.',
    example:
      'gateway: { choose: longest-prefix }\nservices:\n  - { name: tolls, routes: tolls.routes.yaml, mount: /tolls }             # GET /quotes/{quoteId}\n  - { name: quotes, routes: quotes.routes.yaml, mount: /tolls/quotes }',
    fix: 'Give each service a prefix that no route of another one is below.',
  },
  check: ({ router, service }) => {
    const { behind, gateway } = service;
    if (router === undefined || behind === undefined || gateway === undefined) return [];
    const rivals = rivalsOf(service, behind);
    return router.table.routes.flatMap((route) =>
      route.isBarrier ? [] : (hidden(route, { service, router, behind, rivals }) ?? []),
    );
  },
};

interface Hiding {
  readonly service: Service;
  readonly router: Router;
  readonly behind: Behind;
  /** The services that the gateway prefers, each with the segments of its mount. */
  readonly rivals: readonly { readonly peer: Service; readonly mount: readonly string[] }[];
}

function hidden(route: Route, { service, router, behind, rivals }: Hiding): Found | undefined {
  const { shapes } = route.pattern;
  const own = mountSegments(behind.mount);
  const request = routeRequest(router, route, methodOf(route));
  // A gateway compares mounts letter by letter, whatever the router behind it does.
  const isExact = router.facts.letterCase === 'exact';
  if (shapes.length > 0 && shapes.every((shape) => isOutside(shape, own, isExact)))
    return found(route, service, behind.mount, { request, takenBy: null, status: null, other: undefined });
  for (const { peer, mount } of rivals) {
    if (shapes.every((shape) => isOutside(shape, mount, isExact))) continue;
    const isWhole = isExact && shapes.every((shape) => isBelow(shape, mount));
    const lost = isWhole ? request : lostRequest(route, router, request, mount);
    if (lost === undefined) continue;
    const { takenBy, status } = peer.table === undefined ? { takenBy: null, status: null } : witnessOf(routerOf(peer), lost);
    return found(route, service, `/${mount.join('/')}`, { request: lost, takenBy, status, other: peer.name, isWhole });
  }
  return undefined;
}

interface Lost {
  readonly request: Request;
  readonly takenBy: string | null;
  readonly status: number | null;
  /** The service that gets it; undefined where none does. */
  readonly other: string | undefined;
  readonly isWhole?: boolean;
}

function found(route: Route, service: Service, mount: string, { request, takenBy, status, other, isWhole }: Lost): Found {
  const message = other === undefined ? 'outside' : isWhole === true ? 'whole' : 'part';
  return {
    message,
    together: `${message} ${service.name} ${mount} ${other ?? ''}`,
    ...(message === 'part' ? { level: 'warning' as const } : {}),
    advice: other === undefined ? 'mount' : 'move',
    data: { route: routeTitle(route), service: service.name, mount, other: other ?? '' },
    at: spotOf(route),
    witness: { kind: 'request', request, takenBy, status },
  };
}

function methodOf({ methods }: Route): string {
  return methods[0] === undefined || methods[0] === ANY_METHOD ? 'GET' : methods[0];
}

/** A request of the route that is below the mount; undefined where its parameters take none. */
function lostRequest(route: Route, router: Router, sample: Request, mount: readonly string[]): Request | undefined {
  const path = (sample.target.split(/[?#]/u)[0] as string).slice(1).split('/');
  if (mount.length === 0) return undefined;
  // The mount itself, and what a longer path has behind it.
  const target = `/${[...mount, ...path.slice(mount.length)].join('/')}`;
  const request = { ...sample, target };
  return follow(router, request).leaf?.route === route ? request : undefined;
}

/** The services that the gateway prefers whatever else a request says. Only those whose mount does not part from the own one. */
function rivalsOf({ gateway }: Service, behind: Behind): Hiding['rivals'] {
  const all = byFirstSegment(gateway?.peers ?? []);
  const own = mountSegments(behind.mount);
  const at = all.places.get(behind) ?? 0;
  const near = own[0] === undefined ? all.every : [...(all.below.get(own[0]) ?? []), ...(all.below.get('') ?? [])];
  const isPreferred = ({ peer, place }: Placed): boolean => {
    const other = peer.behind;
    if (other === undefined || other === behind || areApart(behind.mount, other.mount)) return false;
    if (other.host !== undefined || other.version !== undefined || Object.keys(other.headers ?? {}).length > 0) return false;
    if (gateway?.choice === 'order') return place < at;
    return isNearer(other, behind) || (!isNearer(behind, other) && place < at);
  };
  return near
    .filter(isPreferred)
    .sort((a, b) => a.place - b.place)
    .map(({ peer }) => ({ peer, mount: mountSegments(peer.behind?.mount ?? '/') }));
}

interface Placed {
  readonly peer: Service;
  /** In the order of the settings. */
  readonly place: number;
}

/** The services behind a gateway by the first segment of their mounts: thousands of them are looked through once. */
const byFirstSegment = memoise((peers: readonly Service[]) => {
  const every = peers.map((peer, place): Placed => ({ peer, place }));
  const below = new Map<string, Placed[]>();
  for (const one of every) {
    const first = mountSegments(one.peer.behind?.mount ?? '/')[0] ?? '';
    const known = below.get(first);
    if (known === undefined) below.set(first, [one]);
    else known.push(one);
  }
  return { every, below, places: new Map(every.map(({ peer, place }) => [peer.behind, place])) };
});

/** Are all paths of a shape below a mount? */
function isBelow(shape: Shape, mount: readonly string[]): boolean {
  return mount.every((segment, i) => literalAt(shape, i) === segment);
}

/** Is no path of a shape below it? */
function isOutside(shape: Shape, mount: readonly string[], isExact: boolean): boolean {
  const folded = (text: string): string => (isExact ? text : text.toLowerCase());
  return mount.some((segment, i) => {
    const literal = literalAt(shape, i);
    if (i >= shape.length) return !shape.some((s) => s.kind === 'span');
    return literal !== undefined && folded(literal) !== folded(segment);
  });
}

/** The literal of a segment; undefined where it is none, or where a tail before it may stand for it. */
function literalAt(shape: Shape, at: number): string | undefined {
  if (shape.slice(0, at).some((s) => s.kind === 'span')) return undefined;
  const segment = shape[at];
  if (segment?.kind !== 'segment') return undefined;
  const [part, ...others] = segment.parts;
  if (part === undefined) return '';
  return part.kind === 'literal' && others.length === 0 ? part.text : undefined;
}
