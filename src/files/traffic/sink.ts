/** Where the lines of logs go. */

import { type Bytes, ByteTable, hashOf, viewed } from '../../core/traffic/byte-table.ts';
import { productOf } from '../../core/traffic/shape.ts';
import { OTHER_CLIENTS, type Recorded, type Tally } from '../../core/traffic/tally.ts';

/** A kind of line that could not be read, told once. */
export interface Broken {
  readonly why: string;
  readonly file: string;
  /** Of the first of them, from 1. */
  readonly line: number;
  count: number;
}

/** So many texts of User-Agent are remembered, none longer than so many bytes, and so many products told apart. */
const [MOST_AGENTS, LONGEST_AGENT, MOST_PRODUCTS] = [5_000, 4_096, 500];

export class Sink {
  readonly broken = new Map<string, Broken>();
  /** Seconds since 1970 of the first record and of the last; 0 where none has a time. */
  first = 0;
  last = 0;
  /** Each with the number of its client. */
  private readonly agents = new ByteTable(1);
  private buffer = Buffer.alloc(4_096);
  private scratch = viewed(this.buffer);
  private readonly products = new Map<string, number>();

  constructor(private readonly tally: Tally) {}

  /** One request. `key` is the same for equal requests with equal answers; `make` is asked for those that are new. */
  add(key: string, agent: string, at: number, make: () => Recorded): void {
    // Writing may make room for more, which is another buffer.
    const agentEnd = this.written(agent);
    const client = this.clientOf(this.scratch, 0, agentEnd);
    const end = this.written(key);
    this.addPart(this.scratch, 0, end, client, at, make);
  }

  /** Writes a text where its bytes are looked at, and says how many there are. */
  private written(text: string): number {
    // No character takes more than three bytes for each of its units.
    if (this.buffer.length < 3 * text.length) {
      this.buffer = Buffer.alloc(6 * text.length);
      this.scratch = viewed(this.buffer);
    }
    return this.buffer.write(text);
  }

  /** The same for a part of a longer text. */
  addPart(text: Bytes, from: number, end: number, client: number, at: number, make: () => Recorded): void {
    const hash = hashOf(text, from, end);
    if (!this.tally.hit(text, from, end, hash, client, at)) this.tally.open(text, from, end, hash, make(), client, at);
    if (at === 0) return;
    if (this.first === 0 || at < this.first) this.first = at;
    if (at > this.last) this.last = at;
  }

  refuse(why: string, file: string, line: number): void {
    const known = this.broken.get(`${file} ${why}`);
    if (known === undefined) this.broken.set(`${file} ${why}`, { why, file, line, count: 1 });
    else known.count += 1;
  }

  /** The number of the client whose User-Agent is this part of a text. */
  clientOf(text: Bytes, from: number, end: number): number {
    const hash = hashOf(text, from, end);
    const known = this.agents.find(text, from, end, hash);
    if (known >= 0) return this.agents.records[this.agents.wordsAt(known)] as number;
    const number = this.numberOf(productOf(Buffer.from(text.bytes.subarray(from, end)).toString('utf8')));
    if (this.agents.size < MOST_AGENTS && end - from <= LONGEST_AGENT)
      this.agents.records[this.agents.wordsAt(this.agents.add(text, from, end, hash))] = number;
    return number;
  }

  private numberOf(product: string): number {
    const own = this.products.has(product) || this.products.size < MOST_PRODUCTS ? product : OTHER_CLIENTS;
    const known = this.products.get(own) ?? this.products.size;
    this.products.set(own, known);
    this.tally.clients[known] = own;
    return known;
  }
}
