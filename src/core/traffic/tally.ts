/** Counts recorded requests. Each distinct one is looked at once; of too many the older half is counted and forgotten. */
import type { Request } from '../routes/request/request.ts';
import { type Bytes, ByteTable } from './byte-table.ts';

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

/** So many distinct requests are remembered, of so many bytes; as many again until the older half is forgotten. */
const [MOST_DISTINCT, MOST_BYTES] = [50_000, 1 << 26];
/** Of a request so many clients are counted beside it: most have few. A client is written as one more than its number. */
const CLIENTS = 4;
/** The last of them, in seconds since 1970 as far as 32 bits go; then each client with its requests. */
const WORDS = 1 + 2 * CLIENTS;
const LATEST = 0xffff_ffff;

/** Distinct requests, each with what it meets. */
class Requests {
  private readonly table = new ByteTable(WORDS);
  private readonly met: { readonly status: number | undefined; readonly counters: readonly Counter[] }[] = [];
  /** Requests by client, where a request has more clients than stand beside it. */
  private readonly more = new Map<number, Map<number, number>>();

  get isFull(): boolean {
    return this.table.size >= MOST_DISTINCT || this.table.used >= MOST_BYTES;
  }

  /** Counts an equal request that was met before; false where none was. */
  hit(text: Bytes, from: number, end: number, hash: number, client: number, at: number): boolean {
    const entry = this.table.find(text, from, end, hash);
    if (entry < 0) return false;
    this.count(entry, client, at);
    return true;
  }

  add(text: Bytes, from: number, end: number, hash: number, status: number | undefined, counters: readonly Counter[]): number {
    this.met.push({ status, counters });
    return this.table.add(text, from, end, hash);
  }

  count(entry: number, client: number, at: number): void {
    const { records } = this.table;
    const words = this.table.wordsAt(entry);
    if (at > (records[words] as number) >>> 0) records[words] = Math.min(at, LATEST) | 0;
    for (let i = words + 1; i < words + WORDS; i += 2) {
      const known = records[i] as number;
      if (known !== 0 && known !== client + 1) continue;
      records[i] = client + 1;
      records[i + 1] = (records[i + 1] as number) + 1;
      return;
    }
    const others = this.more.get(entry) ?? new Map<number, number>();
    this.more.set(entry, others);
    others.set(client, (others.get(client) ?? 0) + 1);
  }

  /** Adds all that was counted to the counters. */
  settle(clients: readonly string[]): void {
    for (const [entry, { status, counters }] of this.met.entries()) {
      const words = this.table.wordsAt(entry);
      const last = (this.table.records[words] as number) >>> 0;
      const asked: (readonly [number, number])[] = [];
      for (let i = words + 1; i < words + WORDS && this.table.records[i] !== 0; i += 2)
        asked.push([(this.table.records[i] as number) - 1, (this.table.records[i + 1] as number) >>> 0]);
      for (const [client, requests] of [...asked, ...(this.more.get(entry) ?? [])])
        for (const counter of counters) counter.add(requests, clients[client] as string, status, last);
    }
  }
}

export class Tally {
  /** The names of the clients, by their numbers. */
  readonly clients: string[] = [];
  private recent = new Requests();
  private older = new Requests();

  constructor(private readonly meets: (record: Recorded) => readonly Counter[]) {}

  /** Counts an equal request that was met before, known by a part of a text; false where none was. O(length). */
  hit(text: Bytes, from: number, end: number, hash: number, client: number, at: number): boolean {
    return this.recent.hit(text, from, end, hash, client, at) || this.older.hit(text, from, end, hash, client, at);
  }

  /** Counts one that was not met before, or is forgotten. Costs what finding out what it meets costs. */
  open(text: Bytes, from: number, end: number, hash: number, record: Recorded, client: number, at: number): void {
    if (this.recent.isFull) {
      this.older.settle(this.clients);
      this.older = this.recent;
      this.recent = new Requests();
    }
    this.recent.count(this.recent.add(text, from, end, hash, record.status, this.meets(record)), client, at);
  }

  /** Adds all that is left to the counters. */
  settle(): void {
    this.older.settle(this.clients);
    this.recent.settle(this.clients);
  }
}
