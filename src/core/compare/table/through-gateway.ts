/** Route tables behind a gateway: another service may answer what one of them no longer does, or take what it still has. */
import { KeyedMemo, memoise } from '../../base/memo.ts';
import { literalSegment } from '../../paths/pattern.ts';
import { areApart, type Behind, type Gateway, mountSegments, passedTo, passedToNobody } from '../../routes/follow/gateway.ts';
import { type RoutingOutcome, unrouted } from '../../routes/follow/outcome.ts';
import type { Router } from '../../routes/index/router.ts';
import { emptyTree, insert, type RouteShape, type SegmentTrie } from '../../routes/index/segment-tree.ts';
import { overlapping } from '../../routes/reach/overlapping.ts';
import { partitioningShapes } from '../../routes/reach/partition.ts';
import { ANY_TAIL } from '../../routes/reach/prefixes.ts';
import type { Request } from '../../routes/request/request.ts';
import { ANY_METHOD, bareRoute, type Route } from '../../routes/table/route.ts';
import { type Asked, outcomeOf, takerOf } from './routing-changes.ts';

/** One service of a state. */
export interface GatewayService {
  /** The same in both states for what is the same service. */
  readonly id: string;
  readonly name: string;
  readonly behind: Behind;
  /** Undefined where nothing says which routes it has. */
  readonly router: Router | undefined;
}

export interface GatewayState extends Gateway {
  /** In the order of the settings. */
  readonly services: readonly GatewayService[];
}

/** A gateway before a change and after it. */
export interface GatewayPair {
  readonly old: GatewayState;
  readonly now: GatewayState;
}

/** As the routes of one service are looked at. */
export interface Through {
  readonly pair: GatewayPair;
  readonly id: string;
}

/** Who answers a request in a state, and what. */
interface Answer {
  readonly following: RoutingOutcome;
  /** Undefined where the gateway passes it to nobody. */
  readonly service: GatewayService | undefined;
}

/** What becomes of a request that is sent to a gateway. O(services), and following it once. */
function askGateway(state: GatewayState, request: Request): Answer {
  const service = passedTo(state.services, state, request);
  if (service === undefined) return { following: passedToNobody(request), service };
  const { router, name } = service;
  if (router !== undefined) return { following: outcomeOf(router, request), service };
  const why = `nothing says which routes ${name} has`;
  return { following: unrouted({ request, version: undefined }, 'undecided', null, why), service };
}

/** May the gateway choose otherwise between services for requests of the one that is looked at? */
export function choosesOtherwise({ pair, id }: Through): boolean {
  const mounts = changedMounts(pair);
  if (mounts === 'every') return true;
  const own = [pair.old, pair.now].flatMap(({ services }) => services.filter((s) => s.id === id).map((s) => s.behind.mount));
  return mounts.some((mount) => own.some((o) => !areApart(mount, o)));
}

/** Those of services that came, went or are asked for otherwise; every one where the gateway chooses in another way or order. */
const changedMounts: (pair: GatewayPair) => readonly string[] | 'every' = memoise(({ old, now }) => {
  const keyed = ({ services }: GatewayState): ReadonlyMap<string, string> =>
    new Map(
      services.map(({ id, behind }) => [
        JSON.stringify([id, behind.mount, behind.host, behind.headers, behind.version]),
        behind.mount,
      ]),
    );
  const [was, is] = [keyed(old), keyed(now)];
  const kept = (of: ReadonlyMap<string, string>, other: ReadonlyMap<string, string>): string =>
    [...of.keys()].filter((key) => other.has(key)).join('\n');
  const isSame = old.choice === now.choice && JSON.stringify(old.versioning) === JSON.stringify(now.versioning);
  if (!isSame || kept(was, is) !== kept(is, was)) return 'every';
  const left = (of: ReadonlyMap<string, string>, other: ReadonlyMap<string, string>): readonly string[] =>
    [...of].flatMap(([key, mount]) => (other.has(key) ? [] : [mount]));
  return [...left(was, is), ...left(is, was)];
});

/**
 * What tells requests of a leaf apart for the gateway: the mounts of both states, with what they ask for. `rivals` are the
 * routes of the other services that are mounted there.
 */
export function mountsAmong(
  { pair, id }: Through,
  router: Router,
  leaf: RouteShape,
): { readonly mounts: readonly RouteShape[]; readonly rivals: () => readonly RouteShape[] } {
  const { tree, services } = trees.remember(pair, router, () => mountTree(pair, router));
  const mounts = overlapping(tree, leaf.shape);
  const others = (): readonly GatewayService[] => mounts.flatMap((m) => services.get(m.route) ?? []).filter((s) => s.id !== id);
  const rivals = (): readonly RouteShape[] =>
    others().flatMap((s) => (s.router === undefined ? [] : partitioningShapes(s.router, leaf)));
  return { mounts, rivals };
}

/** Does a router of some service take letters in any case? */
const hasAnyCase: (pair: GatewayPair) => boolean = memoise(({ old, now }) =>
  [...old.services, ...now.services].some(({ router }) => router !== undefined && router.facts.letterCase !== 'exact'),
);

/**
 * The same request with a mount in other letters, for each mount that it is below: a gateway compares letters exactly, and a
 * router behind it may not.
 */
export function inOtherLetters({ pair }: Through, request: Request): readonly Request[] {
  if (!hasAnyCase(pair)) return [];
  const [path = '', ...query] = request.target.split(/(?=\?)/u);
  const segments = path.split('/');
  const depths = new Set<number>();
  for (const { behind } of [...pair.old.services, ...pair.now.services]) {
    const mount = mountSegments(behind.mount);
    if (mount.every((s, i) => segments[i + 1]?.toLowerCase() === s.toLowerCase())) depths.add(mount.length);
  }
  depths.delete(0);
  return [...depths].map((depth) => {
    const word = segments[depth] as string;
    const other = word === word.toUpperCase() ? word.toLowerCase() : word.toUpperCase();
    return { ...request, target: [segments.with(depth, other).join('/'), ...query].join('') };
  });
}

interface Mounts {
  readonly tree: SegmentTrie;
  /** Those of a mount, which is a route of the tree. */
  readonly services: ReadonlyMap<Route, readonly GatewayService[]>;
}

const trees = new KeyedMemo<GatewayPair, Router, Mounts>();

function mountTree({ old, now }: GatewayPair, router: Router): Mounts {
  const { compiler, eitherCase, typesMatch } = router.written();
  const tree = emptyTree({ compiler, eitherCase, typesMatch, sharedBranch: false });
  const known = new Map<string, GatewayService[]>();
  const services = new Map<Route, readonly GatewayService[]>();
  for (const service of [...old.services, ...now.services]) {
    const { mount, host, headers, version } = service.behind;
    const key = JSON.stringify([mountSegments(mount), host, headers, version]);
    const there = known.get(key);
    if (there !== undefined) {
      there.push(service);
      continue;
    }
    const own = [service];
    known.set(key, own);
    const shape = mountShape(service.behind, router);
    insert(tree, shape);
    services.set(shape.route, own);
  }
  return { tree, services };
}

/** Everything below a mount, as a route that takes it. */
function mountShape({ mount, host, headers, version }: Behind, router: Router): RouteShape {
  const shape = [...mountSegments(mount).map(literalSegment), ANY_TAIL];
  const bare = bareRoute({
    index: -1,
    methods: [ANY_METHOD],
    path: mount,
    pattern: { style: 'brace', text: mount, shapes: [shape] },
    handler: '',
    place: router.table.place,
  });
  const conditions: Route['conditions'] = {
    ...(host === undefined ? {} : { host }),
    ...(headers === undefined ? {} : { headers }),
    ...(version === undefined ? {} : { version: [version] }),
  };
  return { route: { ...bare, conditions }, shape };
}

/** A request asked of both states; what becomes of it is told with the service that handled it, else the one that does now. */
export function askBoth({ pair, id }: Through, path: string, request: Request): Asked & { readonly isOwn: boolean } {
  const [was, is] = [askGateway(pair.old, request), askGateway(pair.now, request)];
  const isNew = takerOf(was.following) === undefined && takerOf(is.following) !== undefined;
  const isKnown = was.following.outcome !== 'not-found' && !isNew;
  const teller = isKnown ? was.service : (is.service ?? was.service);
  const asked = { path, was: was.following, is: is.following, isOwn: teller?.id === id };
  if (was.service?.id === is.service?.id) return asked;
  const nameOf = ({ service }: Answer): string => service?.name ?? 'the gateway';
  const handler = was.following.leaf?.route.handler;
  const still = pair.now.services.find(({ id }) => id === was.service?.id)?.router;
  const hasLeft = still?.table.routes.every((r) => r.handler !== handler) ?? true;
  return { ...asked, moved: { from: nameOf(was), to: nameOf(is), hasLeft } };
}
