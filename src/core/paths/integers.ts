/** Whole numbers within bounds, as a language of decimal text. */
import { choice, type Expression, literal, NOTHING, repeat, sequence, span } from '../language/expression.ts';

const digit = span('0', '9');
const zeros = repeat(literal('0'));

/**
 * The decimal texts of the integers from `low` to `high`, both included and either open when undefined. Leading zeros
 * are allowed, as number parsers do; a minus sign only for negative numbers and zero.
 */
export function integerRange(low: bigint | undefined, high: bigint | undefined): Expression {
  const parts: Expression[] = [];
  if (high === undefined || high >= 0n) parts.push(sequence(zeros, upward(low === undefined || low < 0n ? 0n : low, high)));
  if (low === undefined || low < 0n) {
    const least = high === undefined || high >= 0n ? 0n : -high;
    parts.push(sequence(literal('-'), zeros, upward(least, low === undefined ? undefined : -low)));
  }
  return parts.length === 0 ? NOTHING : choice(...parts);
}

/** Natural numbers from `low` to `high` without leading zeros (zero may be left to the zeros before it). Linear in the digits. */
function upward(low: bigint, high: bigint | undefined): Expression {
  if (high !== undefined && low > high) return NOTHING;
  const from = low.toString();
  const n = from.length;
  if (high === undefined) return choice(between(from, '9'.repeat(n)), sequence(span('1', '9'), repeat(digit, n)));
  const to = high.toString();
  if (to.length === n) return between(from, to);
  const options = [between(from, '9'.repeat(n)), between(`1${'0'.repeat(to.length - 1)}`, to)];
  if (to.length > n + 1) options.push(sequence(span('1', '9'), repeat(digit, n, to.length - 2)));
  return choice(...options);
}

/** Digit strings of one length from `low` to `high`. */
function between(low: string, high: string): Expression {
  const n = low.length;
  if (/^0*$/u.test(low) && /^9*$/u.test(high)) return repeat(digit, n, n);
  const [a, b] = [low[0] as string, high[0] as string];
  const [restLow, restHigh] = [low.slice(1), high.slice(1)];
  if (a === b) return sequence(literal(a), between(restLow, restHigh));
  const options = [
    sequence(literal(a), between(restLow, '9'.repeat(n - 1))),
    sequence(literal(b), between('0'.repeat(n - 1), restHigh)),
  ];
  if (Number(b) - Number(a) > 1)
    options.push(sequence(span(String(Number(a) + 1), String(Number(b) - 1)), repeat(digit, n - 1, n - 1)));
  return choice(...options);
}
