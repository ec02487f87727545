/** Counts recorded requests. Each distinct one is looked at once; of too many the older half is counted and forgotten. */
import type { Request } from '../routes/request/request.ts';
import { SliceTable } from './slice-table.ts';

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

/** The names of clients, those that ask most first, and those that are counted together last. */
export function clientsOf({ clients }: Pick<Counter, 'clients'>): readonly string[] {
  const isOther = (name: string): number => (name === OTHER_CLIENTS ? 1 : 0);
  return [...clients].sort(([a, m], [b, n]) => isOther(a) - isOther(b) || n - m).map(([name]) => name);
}

/** `2027-03-14` of seconds since 1970; empty where no time is known. */
export function dayOf(seconds: number): string {
  return seconds === 0 ? '' : new Date(seconds * 1000).toISOString().slice(0, 10);
}

/** One distinct request, with what it meets. */
export class Entry {
  private last = 0;
  /** Numbers of clients, each before its requests: most requests have few clients. */
  private readonly asked: number[] = [];

  constructor(
    private readonly status: number | undefined,
    private readonly counters: readonly Counter[],
  ) {}

  /** It was asked once more, by the client of a number. `at` in seconds since 1970. */
  hit(client: number, at: number): void {
    if (at > this.last) this.last = at;
    for (let i = 0; i < this.asked.length; i += 2) {
      if (this.asked[i] !== client) continue;
      this.asked[i + 1] = (this.asked[i + 1] as number) + 1;
      return;
    }
    this.asked.push(client, 1);
  }

  /** Adds what was counted to the counters. */
  settle(clients: readonly string[]): void {
    for (let i = 0; i < this.asked.length; i += 2)
      for (const counter of this.counters)
        counter.add(this.asked[i + 1] as number, clients[this.asked[i] as number] as string, this.status, this.last);
    this.asked.length = 0;
  }
}

/** So many distinct requests are remembered; as many again until the older half is forgotten. */
const MOST_DISTINCT = 50_000;

export class Tally {
  /** The names of the clients, by their numbers. */
  readonly clients: string[] = [];
  private recent = new SliceTable<Entry>();
  private older = new SliceTable<Entry>();

  constructor(private readonly meets: (record: Recorded) => readonly Counter[]) {}

  /** The entry of an equal request that was met before, known by a part of a text with its hash. O(1). */
  find(text: string, from: number, end: number, hash: number): Entry | undefined {
    return this.recent.find(text, from, end, hash) ?? this.older.find(text, from, end, hash);
  }

  /** A request that was not met before, or is forgotten. Costs what finding out what it meets costs. */
  open(key: string, hash: number, record: Recorded): Entry {
    if (this.recent.values.length >= MOST_DISTINCT) {
      for (const entry of this.older.values) entry.settle(this.clients);
      this.older = this.recent;
      this.recent = new SliceTable();
    }
    const entry = new Entry(record.status, this.meets(record));
    this.recent.add(key, hash, entry);
    return entry;
  }

  /** Adds all that is left to the counters. */
  settle(): void {
    for (const table of [this.older, this.recent]) for (const entry of table.values) entry.settle(this.clients);
  }
}
