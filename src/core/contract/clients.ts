/** What each client gets from each operation, in which form, or why it gets nothing. */
import { chooseType, takesType } from '../media/media.ts';
import { countsParameters, type Facts } from '../routes/facts.ts';
import type { Endpoint } from './endpoints.ts';
import { successTypes } from './media-pairing.ts';

/** The endpoints of one path and method, whose routes may differ in media types alone. */
export interface Exchange {
  readonly endpoint: Endpoint;
  /** In declared order; none where nothing is said. */
  readonly takes: readonly string[];
  readonly returns: readonly string[];
  /** A body goes with it. */
  readonly sends: boolean;
}

export interface Caller {
  readonly name: string;
  readonly accept: string | undefined;
  readonly sends: string | undefined;
}

export interface Got {
  readonly caller: Caller;
  /** The media type of the answer. */
  readonly type: string | undefined;
  /** 406 or 415; null where the answer comes. */
  readonly status: number | null;
  /** The client did not ask for this type: it is the first declared. */
  readonly byDefault: boolean;
}

/** One exchange for each method and path. */
export function exchangesOf(endpoints: readonly Endpoint[]): readonly Exchange[] {
  const groups = new Map<string, Endpoint[]>();
  for (const e of endpoints) {
    const key = `${e.method} ${e.path.keys.join('/')}`;
    groups.set(key, [...(groups.get(key) ?? []), e]);
  }
  return [...groups.values()].map((group): Exchange => {
    const [endpoint] = group as [Endpoint, ...Endpoint[]];
    const declared = (of: 'takes' | 'returns'): readonly string[] => group.flatMap((e) => e.route?.conditions[of] ?? []);
    const documented = group.flatMap((e) => e.operation?.body?.content.map((m) => m.type) ?? []);
    const sends =
      group.some((e) => e.operation?.body !== undefined) ||
      (group.every((e) => e.operation === undefined) && ['POST', 'PUT', 'PATCH'].includes(endpoint.method));
    const returns = declared('returns');
    const takes = declared('takes');
    return {
      endpoint,
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

/** RFC 9110: Content-Type is judged first (15.5.16), then Accept (12.5.1). */
export function gotBy(caller: Caller, { takes, returns, sends }: Exchange, facts: Facts | undefined): Got {
  const useParameters = countsParameters(facts);
  const refuses = facts?.unsupported !== 'read-anyway';
  if (sends && refuses && caller.sends !== undefined && takes.length > 0 && !takesType(takes, caller.sends, useParameters)) {
    return { caller, type: undefined, status: 415, byDefault: false };
  }
  const type = chooseType(caller.accept, returns, useParameters);
  if (type !== undefined) return { caller, type, status: null, byDefault: caller.accept === undefined };
  if (returns.length === 0) return { caller, type: undefined, status: null, byDefault: false };
  if (facts?.unacceptable === 'send-default') return { caller, type: returns[0], status: null, byDefault: true };
  return { caller, type: undefined, status: 406, byDefault: false };
}

/** The form that a media type is written in, whatever it speaks of: `json` of `application/problem+json`. */
export function formOf(type: string): string {
  const [bare = ''] = type.toLowerCase().split(';', 1);
  const subtype = bare.trim().split('/')[1] ?? '';
  return subtype.includes('+') ? (subtype.split('+').pop() as string) : subtype;
}
