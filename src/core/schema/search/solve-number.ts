/** Numbers that hold some keywords and break others. */

import { sameJson } from '../../base/json.ts';
import { TRUE_SCHEMA } from '../model/schema.ts';
import { commonMultiple, isMultiple } from '../vocabulary/decimals.ts';
import { NUMBER_FORMATS } from '../vocabulary/formats.ts';
import { pickNumber, Range } from './pick-number.ts';
import { type Disjunct, EMPTY, type SearchResult, type Violated } from './problem.ts';

/** A number of this way that is none of `not`. Exact on decimals. */
export function solveNumber(way: Disjunct, not: readonly unknown[]): SearchResult {
  const outside = way.broken.find((b) => b.keyword === 'format');
  if (outside !== undefined) return outsideFormat(way, outside, not);
  const { range, unit, breaks } = boundsOf(way);
  // Every multiple of the one is a multiple of the other.
  if (unit !== undefined && breaks.some((b) => isMultiple(unit, b))) return EMPTY;
  return pickNumber(range, unit, {
    isExcluded: (n) => breaks.some((b) => isMultiple(n, b)) || not.some((v) => v === n),
    isUnambiguous: (n) => breaks.every((b) => Math.abs(n / b - Math.round(n / b)) > 1e-6),
  });
}

/** What a number has to be: within a range, a multiple of `unit`, and a multiple of none of `breaks`. */
interface Bounds {
  readonly range: Range;
  readonly unit: number | undefined;
  readonly breaks: readonly number[];
}

function boundsOf(way: Disjunct): Bounds {
  const range = new Range();
  let unit: number | undefined;
  const every = (n: number): void => {
    unit = unit === undefined ? n : commonMultiple(unit, n);
  };
  const breaks: number[] = [];
  for (const { k } of way.pos) {
    if (k.minimum !== undefined) range.atLeast(k.minimum, false);
    if (k.exclusiveMinimum !== undefined) range.atLeast(k.exclusiveMinimum, true);
    if (k.maximum !== undefined) range.atMost(k.maximum, false);
    if (k.exclusiveMaximum !== undefined) range.atMost(k.exclusiveMaximum, true);
    if (k.multipleOf !== undefined) every(k.multipleOf);
    if (k.types !== undefined && !k.types.includes('number')) every(1);
    const format = k.format === undefined ? undefined : NUMBER_FORMATS[k.format];
    if (format !== undefined) {
      every(1);
      range.atLeast(format[0], false);
      range.atMost(format[1], false);
    }
  }
  for (const { k, keyword } of way.broken) {
    if (keyword === 'types') breaks.push(1);
    else if (keyword === 'minimum') range.atMost(k.minimum as number, true);
    else if (keyword === 'exclusiveMinimum') range.atMost(k.exclusiveMinimum as number, false);
    else if (keyword === 'maximum') range.atLeast(k.maximum as number, true);
    else if (keyword === 'exclusiveMaximum') range.atLeast(k.exclusiveMaximum as number, false);
    else if (keyword === 'multipleOf') breaks.push(k.multipleOf as number);
  }
  return { range, unit, breaks };
}

/** Outside the range of a format on either side, or no whole number: three questions, asked one after the other. */
function outsideFormat(way: Disjunct, { k }: Violated, not: readonly unknown[]): SearchResult {
  const format = NUMBER_FORMATS[k.format as string];
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
  const whole = { ...rest, broken: [...rest.broken, { k: { ...k, types: ['integer'] } as never, keyword: 'types' as const }] };
  return solveNumber(whole, not);
}

/** Is a value one of those? */
export function isOneOf(value: unknown, list: readonly unknown[]): boolean {
  return list.some((v) => sameJson(v, value));
}
