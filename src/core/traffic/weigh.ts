/** How many recorded requests a finding, or a change, concerns. */
import type { RecordedUse } from '../base/recorded-use.ts';
import { type Counter, clientsOf, dayOf } from './tally.ts';

/** What meets something, and what meets it perhaps. */
export interface Weight {
  readonly sure: Counter;
  readonly perhaps: Counter;
}

export function useOf({ sure, perhaps }: Weight, total: Counter): RecordedUse {
  const clients = new Map(sure.clients);
  for (const [name, requests] of perhaps.clients) clients.set(name, (clients.get(name) ?? 0) + requests);
  return {
    requests: sure.requests + perhaps.requests,
    of: total.requests,
    clients: clientsOf({ clients }),
    last: dayOf(Math.max(sure.last, perhaps.last)) || null,
    isAtMost: perhaps.requests > 0,
  };
}

/** The most requests first within each group; what concerns none, or is not weighed, stays in its order behind. */
export function byRequests<T>(
  list: readonly T[],
  groupOf: (item: T) => string,
  useOfItem: (item: T) => RecordedUse | undefined,
): readonly T[] {
  const groups = [...new Set(list.map(groupOf))];
  return groups.flatMap((group) =>
    list.filter((item) => groupOf(item) === group).sort((a, b) => (useOfItem(b)?.requests ?? 0) - (useOfItem(a)?.requests ?? 0)),
  );
}
