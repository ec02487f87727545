/** Decimal numbers and ranges of whole ones, against fractions of big integers and plain counting. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { accepts, languageOf } from '../../../../src/core/language/language.ts';
import { integerRange } from '../../../../src/core/paths/integers.ts';
import { commonMultiple, isMultiple, multipleAbove, multipleBelow } from '../../../../src/core/schema/vocabulary/decimals.ts';
import { runs } from '../../../runs.ts';

/** `n` tenths of thousandths, and the number that is written so. */
const SCALE = 10_000;
const steps = fc.integer({ min: -5_000_000, max: 5_000_000 });
const units = fc.oneof(fc.constantFrom(1, 10, 100, 500, 1_000, 3_333, 10_000, 25_000), fc.integer({ min: 1, max: 50_000 }));
const written = (n: number): number => Number(`${n}e-4`);

test('a decimal is a multiple of another where whole numbers of one unit say so, however it is rounded in binary', () => {
  fc.assert(
    fc.property(steps, units, (n, unit) => {
      expect(isMultiple(written(n), written(unit))).toBe(n % unit === 0);
      // A whole number of units is one, whatever floating point makes of the product.
      expect(isMultiple(written(n * unit), written(unit))).toBe(true);
    }),
    { numRuns: runs(2_000) },
  );
  expect([isMultiple(0.3, 0.1), isMultiple(1e21, 7), isMultiple(1.1, 0.01), isMultiple(5e-324, 5e-324)]).toEqual([
    true,
    false,
    true,
    true,
  ]);
});

test('the next multiple above and below is one, and none is nearer', () => {
  fc.assert(
    fc.property(steps, units, (n, unit) => {
      const [above, below] = [Math.ceil(n / unit) * unit, Math.floor(n / unit) * unit];
      expect([multipleAbove(written(n), written(unit)), multipleBelow(written(n), written(unit))].map((m) => m + 0)).toEqual(
        [written(above), written(below)].map((m) => m + 0),
      );
    }),
    { numRuns: runs(2_000) },
  );
});

test('the common multiple is the least of both', () => {
  const gcd = (a: number, b: number): number => (b === 0 ? a : gcd(b, a % b));
  fc.assert(
    fc.property(units, units, (a, b) => {
      expect(commonMultiple(written(a), written(b))).toBe(Number(`${(a / gcd(a, b)) * b}e-4`));
    }),
    { numRuns: runs(2_000) },
  );
  expect(commonMultiple(0.1, 0.25) * SCALE).toBe(5_000);
});

test('a range holds the texts of its numbers, with zeros in front or not, and no others', () => {
  const bound = fc.option(fc.integer({ min: -1_200, max: 1_200 }), { nil: undefined });
  const texts = fc.array(fc.tuple(fc.integer({ min: -1_500, max: 1_500 }), fc.nat(2)), { minLength: 20, maxLength: 20 });
  fc.assert(
    fc.property(bound, bound, texts, (low, high, list) => {
      if (low !== undefined && high !== undefined && low > high) return;
      const range = languageOf(
        integerRange(low === undefined ? undefined : BigInt(low), high === undefined ? undefined : BigInt(high)),
      );
      const around = [low, high].flatMap((b) => (b === undefined ? [] : [b - 1, b, b + 1])).map((n) => [n, 0] as const);
      for (const [n, zeros] of [...list, ...around]) {
        const text = `${n < 0 ? '-' : ''}${'0'.repeat(zeros)}${Math.abs(n)}`;
        const inside = (low ?? -Infinity) <= n && n <= (high ?? Infinity);
        expect([low, high, text, accepts(range, text)]).toEqual([low, high, text, inside]);
      }
      for (const text of ['', '-', '+1', '1.0', ' 1', '1e2']) expect(accepts(range, text)).toBe(false);
    }),
    { numRuns: runs(500) },
  );
});
