/** Numbers that hold some keywords and break others. */

import { sameJson } from '../../base/json.ts';
import { TRUE_SCHEMA } from '../model/schema.ts';
import { commonMultiple, isMultiple, multipleAbove } from '../vocabulary/decimals.ts';
import { NUMBER_FORMATS } from '../vocabulary/formats.ts';
import { type Disjunct, EMPTY, type SearchResult } from './problem.ts';

interface Range {
  low: number;
  lowOpen: boolean;
  high: number;
  highOpen: boolean;
}

/** How many multiples are tried before a question is given up. */
const MOST_TRIED = 2_000;

/** A number of this way that is none of `not`. Exact on decimals. */
export function solveNumber(way: Disjunct, not: readonly unknown[]): SearchResult {
  const range: Range = { low: -Infinity, lowOpen: true, high: Infinity, highOpen: true };
  let unit: number | undefined;
  const atLeast = (n: number, open: boolean): void => {
    if (n > range.low || (n === range.low && open)) Object.assign(range, { low: n, lowOpen: open });
  };
  const atMost = (n: number, open: boolean): void => {
    if (n < range.high || (n === range.high && open)) Object.assign(range, { high: n, highOpen: open });
  };
  const every = (n: number): void => {
    unit = unit === undefined ? n : commonMultiple(unit, n);
  };
  const breaks: number[] = [];
  for (const { k } of way.pos) {
    if (k.minimum !== undefined) atLeast(k.minimum, false);
    if (k.exclusiveMinimum !== undefined) atLeast(k.exclusiveMinimum, true);
    if (k.maximum !== undefined) atMost(k.maximum, false);
    if (k.exclusiveMaximum !== undefined) atMost(k.exclusiveMaximum, true);
    if (k.multipleOf !== undefined) every(k.multipleOf);
    if (k.types !== undefined && !k.types.includes('number')) every(1);
    const format = k.format === undefined ? undefined : NUMBER_FORMATS[k.format];
    if (format !== undefined) {
      every(1);
      atLeast(format[0], false);
      atMost(format[1], false);
    }
  }
  for (const { k, keyword } of way.broken) {
    if (keyword === 'types') breaks.push(1);
    else if (keyword === 'minimum') atMost(k.minimum as number, true);
    else if (keyword === 'exclusiveMinimum') atMost(k.exclusiveMinimum as number, false);
    else if (keyword === 'maximum') atLeast(k.maximum as number, true);
    else if (keyword === 'exclusiveMaximum') atLeast(k.exclusiveMaximum as number, false);
    else if (keyword === 'multipleOf') breaks.push(k.multipleOf as number);
    else if (keyword === 'format') {
      const format = NUMBER_FORMATS[k.format as string];
      // Outside on either side, or no whole number: three questions, asked one after the other.
      if (format === undefined) return EMPTY;
      const rest = { ...way, broken: way.broken.filter((b) => b.k !== k || b.keyword !== 'format') };
      const bound = (keywords: object): Disjunct => ({
        ...rest,
        pos: [...rest.pos, { schema: TRUE_SCHEMA, k: { ...k, format: '', ...keywords } as never, producerId: 0 }],
      });
      for (const w of [bound({ exclusiveMinimum: format[1] }), bound({ exclusiveMaximum: format[0] })]) {
        const found = solveNumber(w, not);
        if (found.kind !== 'none') return found;
      }
      const whole = {
        ...rest,
        broken: [...rest.broken, { k: { ...k, types: ['integer'] } as never, keyword: 'types' as const }],
      };
      return solveNumber(whole, not);
    }
  }
  const isExcluded = (n: number): boolean => breaks.some((b) => isMultiple(n, b)) || not.some((v) => v === n);
  // Every multiple of the one is a multiple of the other.
  if (unit !== undefined && breaks.some((b) => isMultiple(unit as number, b))) return EMPTY;
  const isUnambiguous = (n: number): boolean => breaks.every((b) => Math.abs(n / b - Math.round(n / b)) > 1e-6);
  return pickNumber(range, unit, isExcluded, isUnambiguous);
}

/** Nobody reads such a number with ease. */
function isHuge(n: number): boolean {
  return Math.abs(n) > 1e12;
}

function pickNumber(
  range: Range,
  unit: number | undefined,
  wrong: (n: number) => boolean,
  clear: (n: number) => boolean,
): SearchResult {
  const inside = (n: number): boolean =>
    (range.lowOpen ? n > range.low : n >= range.low) && (range.highOpen ? n < range.high : n <= range.high);
  const fits = (n: number): boolean =>
    Number.isFinite(n) && inside(n) && (unit === undefined || isMultiple(n, unit)) && !wrong(n);
  if (range.low > range.high || (range.low === range.high && (range.lowOpen || range.highOpen))) return EMPTY;
  const [low, high] = [range.low, range.high];
  const friendly = [
    7,
    1,
    0,
    2,
    12,
    7.5,
    0.5,
    0.25,
    -1,
    100,
    low,
    high,
    low + 1,
    high - 1,
    low + 0.5,
    high - 0.5,
    (low + high) / 2,
    low + (high - low) / 3,
    low * 2,
    high * 2,
    low + 0.25,
    high - 0.1,
    low + 0.1,
  ].sort((a, b) => Number(isHuge(a)) - Number(isHuge(b)));
  // Those first that are told from a multiple by floating arithmetic too, so that anybody can confirm them.
  let unclear: number | undefined;
  for (const n of friendly) {
    const exact = Number.isInteger(n) || !Number.isFinite(n) ? n : Number(n.toPrecision(12));
    if (!fits(exact)) continue;
    if (clear(exact)) return { kind: 'witness', value: exact };
    unclear ??= exact;
  }
  unclear ??= friendly.find(fits);
  if (low === high) return unclear === undefined ? EMPTY : { kind: 'witness', value: unclear };
  const start = Number.isFinite(low) ? low : Number.isFinite(high) ? high : 0;
  const step = unit ?? (Number.isFinite(low) && Number.isFinite(high) ? (high - low) / 97 : 0.37);
  const first =
    unit === undefined
      ? start
      : Number.isFinite(low) || !Number.isFinite(high)
        ? multipleAbove(start, unit)
        : -multipleAbove(-start, unit);
  const direction = Number.isFinite(low) || !Number.isFinite(high) ? 1 : -1;
  for (let i = 0; i < MOST_TRIED; i++) {
    const n = Number((first + direction * i * step).toPrecision(15));
    if (unit !== undefined && Number.isFinite(high) && direction > 0 && n > high)
      return unclear === undefined ? EMPTY : { kind: 'witness', value: unclear };
    if (unit !== undefined && Number.isFinite(low) && direction < 0 && n < low)
      return unclear === undefined ? EMPTY : { kind: 'witness', value: unclear };
    if (fits(n) && clear(n)) return { kind: 'witness', value: n };
    if (fits(n)) unclear ??= n;
  }
  return unclear === undefined ? { kind: 'undecided', why: 'multipleOf' } : { kind: 'witness', value: unclear };
}

/** Is a value one of those? */
export function isOneOf(value: unknown, list: readonly unknown[]): boolean {
  return list.some((v) => sameJson(v, value));
}
