/** Where the lines of logs go. */
import { productOf } from '../../core/traffic/shape.ts';
import type { Recorded, Tally } from '../../core/traffic/tally.ts';

/** A kind of line that could not be read, told once. */
export interface Broken {
  readonly why: string;
  readonly file: string;
  /** Of the first of them, from 1. */
  readonly line: number;
  count: number;
}

/** Names of clients are looked up in so many texts of User-Agent. */
const MOST_AGENTS = 5_000;

export class Sink {
  readonly broken = new Map<string, Broken>();
  /** Seconds since 1970 of the first record and of the last; 0 where none has a time. */
  first = 0;
  last = 0;
  private readonly products = new Map<string, string>();

  constructor(private readonly tally: Tally) {}

  /** One request. `key` is the same for equal requests with equal answers; `make` is asked for those that are new. */
  add(key: string, agent: string, at: number, make: () => Recorded): void {
    const entry = this.tally.find(key) ?? this.tally.open(key, make());
    entry.hit(this.clientOf(agent), at);
    if (at === 0) return;
    if (this.first === 0 || at < this.first) this.first = at;
    if (at > this.last) this.last = at;
  }

  refuse(why: string, file: string, line: number): void {
    const known = this.broken.get(`${file} ${why}`);
    if (known === undefined) this.broken.set(`${file} ${why}`, { why, file, line, count: 1 });
    else known.count += 1;
  }

  private clientOf(agent: string): string {
    const known = this.products.get(agent);
    if (known !== undefined) return known;
    const product = productOf(agent);
    if (this.products.size < MOST_AGENTS) this.products.set(agent, product);
    return product;
  }
}
