/** Exact arithmetic on decimal numbers, as JSON writes them: no floating-point slips. */

/** `digits` times ten to the power of `exponent`. */
export interface Decimal {
  readonly digits: bigint;
  readonly exponent: number;
}

/** The decimal that a number's shortest text stands for. */
export function decimalOf(value: number): Decimal {
  const [, sign = '', whole = '0', fraction = '', power = '0'] =
    /^(-?)(\d+)(?:\.(\d+))?(?:e([+-]\d+))?$/u.exec(String(value)) ?? [];
  return { digits: BigInt(sign + whole + fraction), exponent: Number(power) - fraction.length };
}

/** Both as whole numbers of one unit. */
function aligned(a: Decimal, b: Decimal): readonly [bigint, bigint] {
  const least = Math.min(a.exponent, b.exponent);
  return [a.digits * 10n ** BigInt(a.exponent - least), b.digits * 10n ** BigInt(b.exponent - least)];
}

/** Is `value` a whole multiple of `unit`? `unit` is above zero. */
export function isMultiple(value: number, unit: number): boolean {
  const [a, b] = aligned(decimalOf(value), decimalOf(unit));
  return b === 0n || a % b === 0n;
}

/** The least number above zero that is a multiple of both, as a number. */
export function commonMultiple(a: number, b: number): number {
  const [x, y] = [decimalOf(a), decimalOf(b)];
  const [m, n] = aligned(x, y);
  return Number(`${(m * n) / gcd(m, n)}e${Math.min(x.exponent, y.exponent)}`);
}

function gcd(a: bigint, b: bigint): bigint {
  return b === 0n ? a : gcd(b, a % b);
}

/** The least multiple of `unit` that is not below `value`, and the greatest that is not above it. */
export function multipleAbove(value: number, unit: number): number {
  const [x, y] = [decimalOf(value), decimalOf(unit)];
  const [a, b] = aligned(x, y);
  const times = a >= 0n ? (a + b - 1n) / b : -(-a / b);
  return Number(`${times * b}e${Math.min(x.exponent, y.exponent)}`);
}

export function multipleBelow(value: number, unit: number): number {
  return -multipleAbove(-value, unit);
}
