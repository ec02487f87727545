/** What each client gets from each operation, in which form, or why it gets nothing. */
import { grouped } from '../../base/grouped.ts';
import { decide } from '../../language/limits.ts';
import { pathKeys } from '../../paths/keys.ts';
import { parametersOf } from '../../paths/pattern.ts';
import { exampleFor, templateExample } from '../../routes/examples/example-request.ts';
import { filledPath } from '../../routes/examples/fill-path.ts';
import { requestWith } from '../../routes/findings/shadow.ts';
import { follow } from '../../routes/follow/follow.ts';
import type { RoutingOutcome } from '../../routes/follow/outcome.ts';
import type { Router } from '../../routes/index/router.ts';
import type { Request } from '../../routes/request/request.ts';
import type { Route } from '../../routes/table/route.ts';
import type { Endpoint } from '../pairing/endpoints.ts';
import { successTypes } from '../pairing/media-types.ts';

/** The endpoints of one path and method, whose routes may differ in media types alone. */
export interface Exchange {
  readonly endpoint: Endpoint;
  /** Those that serve it; none where a document alone has it. */
  readonly routes: readonly Route[];
  /** In declared order; none where nothing is said. */
  readonly takes: readonly string[];
  readonly returns: readonly string[];
  /** A body goes with it. */
  readonly sends: boolean;
}

export interface ClientProfile {
  readonly name: string;
  readonly accept: string | undefined;
  readonly sends: string | undefined;
}

export interface NegotiationResult {
  readonly caller: ClientProfile;
  readonly following: RoutingOutcome;
  /** The media type of the answer. */
  readonly type: string | undefined;
  /** What is answered instead, such as 406 or 415; null where a handler answers. */
  readonly status: number | null;
  /** The client did not ask for this type: it is the first declared. */
  readonly byDefault: boolean;
  /** Another route answers than those of the exchange. */
  readonly elsewhere: boolean;
}

/**
 * One exchange for each method, path and what else its routes ask for, their versions among it; what they take and return
 * may differ. O(endpoints).
 */
export function exchangesOf(endpoints: readonly Endpoint[]): readonly Exchange[] {
  const groups = grouped(endpoints, (e) => `${e.method} ${typedPath(e)} ${JSON.stringify(besideMedia(e))}`);
  return groups.map((group): Exchange => {
    const [endpoint] = group;
    const declared = (of: 'takes' | 'returns'): readonly string[] => group.flatMap((e) => e.route?.conditions[of] ?? []);
    const documented = group.flatMap((e) => e.operation?.body?.content.map((m) => m.type) ?? []);
    const sends =
      group.some((e) => e.operation?.body !== undefined) ||
      (['POST', 'PUT', 'PATCH'].includes(endpoint.method) &&
        group.some((e) => e.operation === undefined || e.route?.conditions.takes !== undefined));
    const returns = declared('returns');
    const takes = declared('takes');
    return {
      endpoint,
      routes: group.flatMap((e) => e.route ?? []),
      sends,
      takes: [...new Set(takes.length > 0 ? takes : documented)],
      returns: [
        ...new Set(
          returns.length > 0 ? returns : group.flatMap((e) => (e.operation === undefined ? [] : successTypes(e.operation))),
        ),
      ],
    };
  });
}

/** A path by what its parameters take. */
function typedPath({ shape, route }: Endpoint): string {
  const types = route === undefined ? [] : parametersOf(route.pattern).map((p) => p.type?.name ?? '');
  return `${pathKeys(shape).join('/')} ${types.join()}`;
}

function besideMedia({ route }: Endpoint): unknown {
  const { takes: _, returns: __, ...others } = route?.conditions ?? {};
  return others;
}

/** What a client gets: what becomes of its request, followed through the table. */
export function negotiate(caller: ClientProfile, exchange: Exchange, router: Router): NegotiationResult {
  const { routes, sends } = exchange;
  const { headers, ...request } = exampleOf(exchange, router);
  const kept = Object.entries(headers).filter(([name]) => !NEGOTIATED.has(name.toLowerCase()));
  const following = follow(router, {
    ...request,
    headers: {
      ...Object.fromEntries(kept),
      ...(caller.accept === undefined ? {} : { Accept: caller.accept }),
      ...(caller.sends === undefined || !sends ? {} : { 'Content-Type': caller.sends }),
    },
  });
  const { leaf, status, responseType } = following;
  const elsewhere = status === null && leaf !== undefined && routes.length > 0 && !routes.includes(leaf.route);
  return { caller, following, type: responseType?.type, status, byDefault: responseType?.byDefault === true, elsewhere };
}

/** Headers that are a client's own. */
const NEGOTIATED: ReadonlySet<string> = new Set(['accept', 'content-type']);

const exampleCache = new WeakMap<Exchange, Request>();

/** A request for an exchange: one that its routes get, where there is any. */
function exampleOf(exchange: Exchange, router: Router): Request {
  const known = exampleCache.get(exchange) ?? makeExample(exchange, router);
  exampleCache.set(exchange, known);
  return known;
}

function makeExample({ endpoint, routes }: Exchange, router: Router): Request {
  const { method, path } = endpoint;
  const [leaf] = routes.flatMap((r) => router.leavesOf(r));
  if (leaf === undefined) return templateExample(router, method, path.text);
  const plain = decide(() => exampleFor(router, leaf, method));
  const isOwn = (r: Request): boolean => routes.includes(follow(router, r).leaf?.route as Route);
  if (plain.decided && isOwn(plain.value)) return plain.value;
  for (const route of routes) {
    const reaching = requestWith(router, route, method);
    if (reaching !== undefined) return reaching;
  }
  return plain.decided ? plain.value : { method, target: filledPath(leaf.route, new Map()), headers: {} };
}

/** The form that a media type is written in, whatever it speaks of: `json` of `application/problem+json`. */
export function formOf(type: string): string {
  const [bare = ''] = type.toLowerCase().split(';', 1);
  const subtype = bare.trim().split('/')[1] ?? '';
  return subtype.includes('+') ? (subtype.split('+').pop() as string) : subtype;
}
