/** Where the lines of logs go. */
import { productOf } from '../../core/traffic/shape.ts';
import { endsHash, hashOf, SliceTable } from '../../core/traffic/slice-table.ts';
import { type Entry, OTHER_CLIENTS, type Recorded, type Tally } from '../../core/traffic/tally.ts';

/** A kind of line that could not be read, told once. */
export interface Broken {
  readonly why: string;
  readonly file: string;
  /** Of the first of them, from 1. */
  readonly line: number;
  count: number;
}

/** So many texts of User-Agent are remembered, and so many products told apart. */
const [MOST_AGENTS, MOST_PRODUCTS] = [5_000, 500];

export class Sink {
  readonly broken = new Map<string, Broken>();
  /** Seconds since 1970 of the first record and of the last; 0 where none has a time. */
  first = 0;
  last = 0;
  private readonly agents = new SliceTable<number>();
  private readonly products = new Map<string, number>();

  constructor(private readonly tally: Tally) {}

  /** One request. `key` is the same for equal requests with equal answers; `make` is asked for those that are new. */
  add(key: string, agent: string, at: number, make: () => Recorded): void {
    const hash = hashOf(key, 0, key.length);
    const entry = this.tally.find(key, 0, key.length, hash) ?? this.tally.open(key, hash, make());
    this.count(entry, this.clientOf(agent, 0, agent.length), at);
  }

  /** The same for a part of a longer text. */
  addPart(text: string, from: number, end: number, client: number, at: number, make: (key: string) => Recorded): void {
    const hash = hashOf(text, from, end);
    let entry = this.tally.find(text, from, end, hash);
    if (entry === undefined) {
      const key = copied(text.slice(from, end));
      entry = this.tally.open(key, hash, make(key));
    }
    this.count(entry, client, at);
  }

  refuse(why: string, file: string, line: number): void {
    const known = this.broken.get(`${file} ${why}`);
    if (known === undefined) this.broken.set(`${file} ${why}`, { why, file, line, count: 1 });
    else known.count += 1;
  }

  /** The number of the client whose User-Agent is this part of a text. */
  clientOf(text: string, from: number, end: number): number {
    const hash = endsHash(text, from, end);
    const known = this.agents.find(text, from, end, hash);
    if (known !== undefined) return known;
    const agent = copied(text.slice(from, end));
    const number = this.numberOf(productOf(agent));
    if (this.agents.values.length < MOST_AGENTS) this.agents.add(agent, hash, number);
    return number;
  }

  private numberOf(product: string): number {
    const own = this.products.has(product) || this.products.size < MOST_PRODUCTS ? product : OTHER_CLIENTS;
    const known = this.products.get(own) ?? this.products.size;
    this.products.set(own, known);
    this.tally.clients[known] = own;
    return known;
  }

  private count(entry: Entry, client: number, at: number): void {
    entry.hit(client, at);
    if (at === 0) return;
    if (this.first === 0 || at < this.first) this.first = at;
    if (at > this.last) this.last = at;
  }
}

/** A part of a text keeps the whole of it; a copy does not. */
function copied(part: string): string {
  return Buffer.from(part, 'utf16le').toString('utf16le');
}
