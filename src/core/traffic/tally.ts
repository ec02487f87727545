/** Counts recorded requests. Each distinct one is looked at once; of too many the older half is counted and forgotten. */
import type { Request } from '../routes/request/request.ts';

/** One line of a log. */
export interface Recorded {
  readonly request: Request;
  /** Undefined where the record does not hold it. */
  readonly status: number | undefined;
  /** Whether all headers, and the body, were recorded. */
  readonly hasHeaders: boolean;
  readonly hasBody: boolean;
}

/** Clients beyond so many are counted together. */
const MOST_CLIENTS = 200;
export const OTHER_CLIENTS = 'others';

/** What is known of the requests that meet something. */
export class Counter {
  requests = 0;
  /** Seconds since 1970; 0 where no record has a time. */
  last = 0;
  readonly statuses = new Map<number, number>();
  readonly clients = new Map<string, number>();

  /** Adds so many requests of one client with one status. */
  add(requests: number, client: string, status: number | undefined, last: number): void {
    this.requests += requests;
    if (last > this.last) this.last = last;
    if (status !== undefined) this.statuses.set(status, (this.statuses.get(status) ?? 0) + requests);
    const name = this.clients.has(client) || this.clients.size < MOST_CLIENTS ? client : OTHER_CLIENTS;
    this.clients.set(name, (this.clients.get(name) ?? 0) + requests);
  }
}

/** One distinct request, with what it meets. */
export class Entry {
  private last = 0;
  private readonly clients = new Map<string, number>();

  constructor(
    private readonly status: number | undefined,
    private readonly counters: readonly Counter[],
  ) {}

  /** It was asked once more. `at` in seconds since 1970. */
  hit(client: string, at: number): void {
    if (at > this.last) this.last = at;
    this.clients.set(client, (this.clients.get(client) ?? 0) + 1);
  }

  /** Adds what was counted to the counters. */
  settle(): void {
    for (const counter of this.counters)
      for (const [client, requests] of this.clients) counter.add(requests, client, this.status, this.last);
    this.clients.clear();
  }
}

/** So many distinct requests are remembered; as many again until the older half is forgotten. */
const MOST_DISTINCT = 50_000;

export class Tally {
  private recent = new Map<string, Entry>();
  private older = new Map<string, Entry>();

  constructor(private readonly meets: (record: Recorded) => readonly Counter[]) {}

  /** The entry of an equal request that was met before. O(1). */
  find(key: string): Entry | undefined {
    return this.recent.get(key) ?? (this.older.size === 0 ? undefined : this.older.get(key));
  }

  /** A request that was not met before, or is forgotten. Costs what finding out what it meets costs. */
  open(key: string, record: Recorded): Entry {
    if (this.recent.size >= MOST_DISTINCT) {
      for (const entry of this.older.values()) entry.settle();
      this.older = this.recent;
      this.recent = new Map();
    }
    const entry = new Entry(record.status, this.meets(record));
    this.recent.set(key, entry);
    return entry;
  }

  /** Adds all that is left to the counters. */
  settle(): void {
    for (const entries of [this.older, this.recent]) for (const entry of entries.values()) entry.settle();
  }
}
