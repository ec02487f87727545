/** Several services behind one gateway: which of them answers a request. */

import type { Router } from '../index/router.ts';
import type { Request } from '../request/request.ts';
import { headerOf, type Versioning, versionAsked } from '../request/requested-version.ts';
import { parseTarget } from '../request/target.ts';
import { follow } from './follow.ts';

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

/** The first service that knows the path, in the order of the settings; the first of all where none does. */
export function answering<T extends { readonly router: Router }>(services: readonly T[], request: Request): T | undefined {
  return services.find(({ router }) => follow(router, request).outcome !== 'not-found') ?? services[0];
}

/** The service that a gateway passes a request to, without asking whether it knows the path. O(services). */
export function passedTo<T extends { readonly behind: Behind }>(
  services: readonly T[],
  choice: Choice,
  request: Request,
  versioning?: Versioning | undefined,
): T | undefined {
  const fitting = services.filter(({ behind }) => fits(behind, request, versioning));
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

function fits({ mount, host, headers = {}, version }: Behind, request: Request, versioning: Versioning | undefined): boolean {
  const target = parseTarget(request.target, 'kept');
  if (!target.ok) return false;
  const segments = target.path.slice(1).split('/');
  if (!mountSegments(mount).every((s, i) => segments[i] === s)) return false;
  if (host !== undefined && !isHost(host, target.host ?? headerOf(request, 'host') ?? '')) return false;
  if (Object.entries(headers).some(([name, value]) => headerOf(request, name) !== value)) return false;
  return version === undefined || versioning === undefined || isVersion(version, request, target.query, versioning);
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
