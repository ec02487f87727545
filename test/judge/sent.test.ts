import fc from 'fast-check';
import { expect, test } from 'vitest';
import { decided, newMemory } from '../../src/core/compare/memory.ts';
import { fits } from '../../src/core/schema/fits.ts';
import { inside } from '../../src/core/schema/inside.ts';
import { plainSchemas, schemaFrom, values } from '../core/schemas.ts';

const PAIRS = Math.floor(Number(process.env.REQUESTS ?? 20_000) / 20);
const unions = fc
  .tuple(fc.constantFrom('oneOf', 'anyOf'), fc.array(plainSchemas, { minLength: 1, maxLength: 3 }), plainSchemas)
  .map(([union, forms, beside]) => ({ ...(typeof beside === 'object' ? beside : {}), [union]: forms }));
const some = fc.oneof(plainSchemas, unions, unions);
/** A sender who says that anything else may come, at every place: then all that fits may be sent. */
const open = (raw: unknown): unknown => {
  if (Array.isArray(raw)) return raw.map(open);
  if (typeof raw !== 'object' || raw === null) return raw;
  const inner = Object.entries(raw).map(([key, value]) => [
    key,
    MAPS.has(key) ? opened(value) : VALUES.has(key) ? value : open(value),
  ]);
  return { additionalProperties: {}, ...Object.fromEntries(inner) };
};
const opened = (map: object): object => Object.fromEntries(Object.entries(map).map(([name, value]) => [name, open(value)]));
const MAPS = new Set(['properties', 'patternProperties', 'dependentSchemas']);
const VALUES = new Set(['type', 'enum', 'required', 'dependentRequired']);
/** A pair that has much in common: a form more, a form less, something said besides. */
const pairs = fc.oneof(
  fc.tuple(some, some),
  fc.tuple(unions, unions).map(([a, b]) => [a, { ...a, ...b }] as const),
  fc.tuple(unions, plainSchemas).map(([a, b]) => [a, { ...a, anyOf: [b, ...(a.anyOf ?? a.oneOf ?? [])] }] as const),
  fc.tuple(unions, some).map(([a, b]) => [{ allOf: [a, b] }, { allOf: [b, a] }] as const),
  fc.tuple(unions, unions).map(([a, b]) => [{ properties: { name: a, gates: b } }, { properties: { name: b } }] as const),
);

test('what a sender may send is taken where it is called inside, and refused where it is not', () => {
  const samples = fc.sample(values, { numRuns: 300, seed: 11 });
  fc.assert(
    fc.property(pairs, fc.constantFrom('request', 'response'), fc.boolean(), ([a, b], side, all) => {
      const [sent, taken] = [schemaFrom(all ? open(a) : a), schemaFrom(b)];
      const breaks = (value: unknown): boolean => fits(sent, value, side, 'sent') && !fits(taken, value, side, 'taken');
      for (const verdict of [inside(sent, taken, side), decided(newMemory(), sent, taken, side)]) {
        if (verdict.kind === 'outside') expect([verdict.witness, breaks(verdict.witness)]).toEqual([verdict.witness, true]);
        if (verdict.kind === 'inside' && all) expect(samples.find(breaks)).toBe(undefined);
      }
    }),
    { numRuns: PAIRS },
  );
});
