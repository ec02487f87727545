/** A number of a range, the one that is easiest to read first. */

import { isMultiple, multipleAbove } from '../vocabulary/decimals.ts';
import { EMPTY, type SearchResult } from './problem.ts';

/** How many multiples are tried before a question is given up. */
const MOST_TRIED = 2_000;

/** An interval of numbers, narrowed step by step. */
export class Range {
  low = -Infinity;
  lowOpen = true;
  high = Infinity;
  highOpen = true;

  atLeast(n: number, open: boolean): void {
    if (n > this.low || (n === this.low && open)) Object.assign(this, { low: n, lowOpen: open });
  }

  atMost(n: number, open: boolean): void {
    if (n < this.high || (n === this.high && open)) Object.assign(this, { high: n, highOpen: open });
  }

  get isEmpty(): boolean {
    return this.low > this.high || (this.low === this.high && (this.lowOpen || this.highOpen));
  }

  has(n: number): boolean {
    return (this.lowOpen ? n > this.low : n >= this.low) && (this.highOpen ? n < this.high : n <= this.high);
  }
}

export interface Wishes {
  readonly isExcluded: (n: number) => boolean;
  /** Is it told from a multiple by floating arithmetic too? Such numbers are preferred, so that anybody can confirm them. */
  readonly isUnambiguous: (n: number) => boolean;
}

/** Nobody reads such a number with ease. */
function isHuge(n: number): boolean {
  return Math.abs(n) > 1e12;
}

/** A multiple of `unit` in the range that is not excluded; none where there is none, undecided after many tries. */
export function pickNumber(range: Range, unit: number | undefined, { isExcluded, isUnambiguous }: Wishes): SearchResult {
  if (range.isEmpty) return EMPTY;
  const isFitting = (n: number): boolean =>
    Number.isFinite(n) && range.has(n) && (unit === undefined || isMultiple(n, unit)) && !isExcluded(n);
  let unclear: number | undefined;
  const usual = usualNumbers(range);
  for (const n of usual) {
    const exact = Number.isInteger(n) || !Number.isFinite(n) ? n : Number(n.toPrecision(12));
    if (!isFitting(exact)) continue;
    if (isUnambiguous(exact)) return { kind: 'witness', value: exact };
    unclear ??= exact;
  }
  unclear ??= usual.find(isFitting);
  const settled = (otherwise: SearchResult): SearchResult =>
    unclear === undefined ? otherwise : { kind: 'witness', value: unclear };
  if (range.low === range.high) return settled(EMPTY);
  for (const n of stepsThrough(range, unit)) {
    if (n === undefined) return settled(EMPTY);
    if (!isFitting(n)) continue;
    if (isUnambiguous(n)) return { kind: 'witness', value: n };
    unclear ??= n;
  }
  return settled({ kind: 'undecided', why: 'multipleOf' });
}

/** Numbers that people would write, the ends of the range, and some between. */
function usualNumbers({ low, high }: Range): readonly number[] {
  const plain = [7, 1, 0, 2, 12, 7.5, 0.5, 0.25, -1, 100];
  const ends = [low, high, low + 1, high - 1, low + 0.5, high - 0.5, (low + high) / 2, low + (high - low) / 3];
  const beyond = [low * 2, high * 2, low + 0.25, high - 0.1, low + 0.1];
  return [...plain, ...ends, ...beyond].sort((a, b) => Number(isHuge(a)) - Number(isHuge(b)));
}

/** Multiples of the unit from one end of the range on; undefined when the other end was passed. */
function* stepsThrough({ low, high }: Range, unit: number | undefined): Generator<number | undefined> {
  const isUp = Number.isFinite(low) || !Number.isFinite(high);
  const start = Number.isFinite(low) ? low : Number.isFinite(high) ? high : 0;
  const step = unit ?? (Number.isFinite(low) && Number.isFinite(high) ? (high - low) / 97 : 0.37);
  const first = unit === undefined ? start : isUp ? multipleAbove(start, unit) : -multipleAbove(-start, unit);
  for (let i = 0; i < MOST_TRIED; i++) {
    const n = Number((first + (isUp ? i : -i) * step).toPrecision(15));
    if (unit !== undefined && (isUp ? Number.isFinite(high) && n > high : Number.isFinite(low) && n < low)) yield undefined;
    yield n;
  }
}
