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

/** Natural numbers from `low` to `high` without leading zeros (zero may be left to the zeros before it). */
function upward(low: bigint, high: bigint | undefined): Expression {
  const from = low.toString();
  const longest = high === undefined ? undefined : high.toString().length;
  const options: Expression[] = [];
  for (let length = from.length; length <= (longest ?? from.length); length++) {
    const bottom = length === from.length ? from : `1${'0'.repeat(length - 1)}`;
    const top = length === longest ? (high as bigint).toString() : '9'.repeat(length);
    if (BigInt(bottom) <= BigInt(top)) options.push(between(bottom, top));
  }
  if (high === undefined) options.push(sequence(span('1', '9'), repeat(digit, from.length)));
  return options.length === 0 ? NOTHING : choice(...options);
}

/** Digit strings of one length from `low` to `high`. */
function between(low: string, high: string): Expression {
  if (low === '') return { kind: 'empty' };
  const [a, b] = [low[0] as string, high[0] as string];
  const [restLow, restHigh] = [low.slice(1), high.slice(1)];
  const n = restLow.length;
  if (a === b) return sequence(literal(a), between(restLow, restHigh));
  const options = [sequence(literal(a), between(restLow, '9'.repeat(n))), sequence(literal(b), between('0'.repeat(n), restHigh))];
  if (Number(b) - Number(a) > 1) options.push(sequence(span(String(Number(a) + 1), String(Number(b) - 1)), repeat(digit, n, n)));
  return choice(...options);
}
