/** Several services behind one gateway: which of them answers a request. */

import type { Router } from '../index/router.ts';
import type { Request } from '../request/request.ts';
import { headerOf, type Versioning, versionAsked } from '../request/requested-version.ts';
import { parseTarget } from '../request/target.ts';
import { follow } from './follow.ts';
import { type RoutingOutcome, unrouted } from './outcome.ts';

/** How a gateway chooses between services that fit: the first that is named, or the one with the longest mount. */
export type Choice = 'order' | 'longest-prefix';

/** What a gateway looks at before it passes a request on. */
export interface Behind {
  /** The path below which the service stands; `/` is every path. */
  readonly mount: string;
  /** A host, or all below one as `*.canal.example`. */
  readonly host?: string | undefined;
  /** Headers with the values that they must have. */
  readonly headers?: Readonly<Record<string, string>> | undefined;
  /** The version that a request asks for. */
  readonly version?: string | undefined;
}

/** A gateway that the settings declare. */
export interface Gateway {
  readonly choice: Choice;
  readonly versioning: Versioning | undefined;
}

/**
 * The service that answers a request: with a gateway the one that it chooses, undefined where it chooses none; without one the
 * first that knows the path, in the order of the settings, or the first of all. O(services), each follows the request at most once.
 */
export function answering<T extends { readonly router: Router; readonly behind: Behind }>(
  services: readonly T[],
  request: Request,
  gateway: Gateway | undefined,
): T | undefined {
  if (gateway !== undefined) return passedTo(services, gateway, request);
  return services.find(({ router }) => follow(router, request).outcome !== 'not-found') ?? services[0];
}

/** The outcome of a request that the gateway passes to no service. */
export function passedToNobody(request: Request): RoutingOutcome {
  return unrouted({ request, version: undefined }, 'not-found', 404, 'the gateway passes it to no service');
}

/** The service that a gateway passes a request to, without asking whether it knows the path. O(services). */
export function passedTo<T extends { readonly behind: Behind }>(
  services: readonly T[],
  { choice, versioning }: Gateway,
  request: Request,
): T | undefined {
  const target = parseTarget(request.target, 'kept');
  if (!target.ok) return undefined;
  const segments = target.path.slice(1).split('/');
  const host = target.host ?? headerOf(request, 'host') ?? '';
  const asking = { request, segments, host, query: target.query, versioning };
  const fitting = services.filter(({ behind }) => fits(behind, asking));
  if (choice === 'order') return fitting[0];
  // Of equal mounts the one that asks for more comes first, then the order of the settings.
  return fitting.reduce<T | undefined>(
    (best, one) => (best === undefined || isNearer(one.behind, best.behind) ? one : best),
    undefined,
  );
}

/** Is the first preferred where both fit, whatever their order? */
export function isNearer(one: Behind, other: Behind): boolean {
  const [a, b] = [mountSegments(one.mount).length, mountSegments(other.mount).length];
  return a !== b ? a > b : conditionsOf(one) > conditionsOf(other);
}

/** The segments of a mount; none of `/`. */
export function mountSegments(mount: string): readonly string[] {
  return mount.split('/').filter((s) => s !== '');
}

function conditionsOf({ host, headers = {}, version }: Behind): number {
  return Object.keys(headers).length + (host === undefined ? 0 : 1) + (version === undefined ? 0 : 1);
}

/** What a gateway sees of a request. */
interface GatewayView {
  readonly request: Request;
  readonly segments: readonly string[];
  readonly host: string;
  readonly query: string | undefined;
  readonly versioning: Versioning | undefined;
}

function fits({ mount, host, headers = {}, version }: Behind, asking: GatewayView): boolean {
  const { request, segments, query, versioning } = asking;
  if (!mountSegments(mount).every((s, i) => segments[i] === s)) return false;
  if (host !== undefined && !isHost(host, asking.host)) return false;
  if (Object.entries(headers).some(([name, value]) => headerOf(request, name) !== value)) return false;
  return version === undefined || versioning === undefined || isVersion(version, request, query, versioning);
}

/** Do two mounts part at a literal? Then no path is below both, however letters and slashes count. */
export function areApart(one: string, other: string): boolean {
  const [a, b] = [one, other].map((mount) => mountSegments(mount.toLowerCase())) as [readonly string[], readonly string[]];
  return a.some((segment, i) => b[i] !== undefined && b[i] !== segment);
}

function isHost(pattern: string, host: string): boolean {
  const bare = host.toLowerCase().replace(/:\d+$/u, '');
  const wanted = pattern.toLowerCase();
  return wanted.startsWith('*.') ? bare.endsWith(wanted.slice(1)) : bare === wanted;
}

function isVersion(version: string, request: Request, query: string | undefined, versioning: Versioning): boolean {
  const asked = versionAsked(versioning, request, new URLSearchParams(query ?? ''));
  return asked?.kind === 'version' && asked.id === version;
}
