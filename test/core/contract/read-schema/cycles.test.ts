/** A base that lists its forms, each of which takes all of the base, against the same written without the way back. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { compareContracts } from '../../../../src/core/compare/compare-contracts.ts';
import { readContract } from '../../../../src/core/contract/read/read-contract.ts';
import { isValid } from '../../../../src/core/schema/validate/validate.ts';
import { runs } from '../../../runs.ts';
import { told } from '../../contracts.ts';
import { plainSchemas, values } from '../../schemas.ts';

// biome-ignore lint/suspicious/noExplicitAny: schemas are written freely here
type Json = Record<string, any>;

const ref = (name: string): Json => ({ $ref: `#/components/schemas/${name}` });

/** What each of these may be is asked and answered. */
function contractOf(schemas: Json) {
  const body = (name: string): Json => ({ content: { 'application/json': { schema: ref(name) } } });
  const path = (name: string): Json => ({ put: { requestBody: body(name), responses: { 200: body(name) } } });
  const paths = Object.fromEntries(Object.keys(schemas).map((name) => [`/${name}`, path(name)]));
  const read = readContract({ openapi: '3.1.0', info: { title: 'Canal', version: '1' }, paths, components: { schemas } }, 'c');
  if (!read.ok) throw new Error(read.message);
  return read.contract;
}

const changes = (old: Json, now: Json) => compareContracts(contractOf(old), contractOf(now), { versions: [] }).changes;

const scalar = fc.constantFrom<Json>({ type: 'string' }, { type: 'integer' }, { maximum: 3 }, { const: 'a' }, {});
const object = fc
  .tuple(
    fc.dictionary(fc.constantFrom('lockId', 'name', 'gates'), scalar, { maxKeys: 3, noNullPrototype: true }),
    fc.uniqueArray(fc.constantFrom('lockId', 'name'), { maxLength: 1 }),
    fc.constantFrom({}, {}, { minProperties: 1 }, { additionalProperties: false }),
  )
  .map(([properties, required, more]): Json => ({ type: 'object', properties, required, ...more }));

/** The two ways to write it. */
function written(union: 'oneOf' | 'anyOf', base: Json, x: unknown, y: unknown): readonly [Json, Json] {
  const circle = {
    Vessel: { ...base, [union]: [ref('Barge'), ref('Tug')] },
    Barge: { allOf: [ref('Vessel'), x] },
    // Beside other keywords a reference is a part of its own.
    Tug: { ...ref('Vessel'), allOf: [y] },
  };
  const plain = {
    Vessel: { ...base, [union]: [{ allOf: [x] }, { allOf: [y] }] },
    Barge: { allOf: [base, x] },
    Tug: { allOf: [base, y] },
  };
  return [circle, plain];
}

const unions = fc.constantFrom('oneOf' as const, 'anyOf' as const);

test('a circle holds what is left without the way back', () => {
  fc.assert(
    fc.property(unions, object, plainSchemas, plainSchemas, fc.array(values, { maxLength: 20 }), (union, base, x, y, all) => {
      const [a, b] = written(union, base, x, y).map((schemas) => contractOf(schemas).schemas) as [
        Map<string, never>,
        Map<string, never>,
      ];
      for (const name of ['Vessel', 'Barge', 'Tug'])
        for (const count of ['standard', 'producer', 'consumer'] as const)
          for (const v of all)
            expect([name, v, isValid(a.get(name) as never, v, 'either', count)]).toEqual([
              name,
              v,
              isValid(b.get(name) as never, v, 'either', count),
            ]);
    }),
    { numRuns: runs(40) },
  );
});

test('writing a circle without its way back changes nothing, and what changes in it is told as it is there', () => {
  let broken = 0;
  fc.assert(
    fc.property(unions, object, object, object, object, (union, base, x, y, z) => {
      const [circle, plain] = written(union, base, x, y);
      for (const [old, now] of [
        [circle, plain],
        [plain, circle],
      ] as const)
        expect(told(changes(old, now)).filter((c) => /^(breaking|undecided|risky)/u.test(c))).toEqual([]);
      const [later, plainly] = written(union, base, z, y);
      const paths = (list: ReturnType<typeof changes>): readonly string[] =>
        [
          ...new Set(
            list.filter((c) => c.effect === 'breaking').flatMap((c) => c.touches.flat().map((t) => `${t.path} ${t.part}`)),
          ),
        ].sort();
      const found = paths(changes(circle, later));
      broken += found.length;
      expect(found).toEqual(paths(changes(plain, plainly)));
    }),
    { numRuns: runs(40) },
  );
  expect(broken).toBeGreaterThan(runs(65));
});

test('what is one of itself is what its other forms are; what is itself and more is the more', () => {
  const text = { type: 'string' };
  const whole = { type: 'integer' };
  const { schemas } = contractOf({
    A: { anyOf: [ref('B'), text] },
    B: { anyOf: [ref('A'), whole] },
    C: { allOf: [ref('C'), whole] },
    D: { if: ref('D'), else: text, not: ref('D'), allOf: [whole] },
  });
  const held = (name: string) => ['elm', 7, true].filter((v) => isValid(schemas.get(name) as never, v));
  expect(['A', 'B', 'C', 'D'].map(held)).toEqual([['elm', 7], ['elm', 7], [7], [7]]);
});

test('forms of forms of one circle are gone through once on each way', () => {
  const names = Array.from({ length: 12 }, (_, i) => `Form${i}`);
  const circle = (maximum: number): Json =>
    Object.fromEntries(
      names.map((name, i) => [
        name,
        { type: 'object', properties: { [name]: { type: 'integer', maximum: i === 7 ? maximum : 9 } }, oneOf: names.map(ref) },
      ]),
    );
  expect(changes(circle(9), circle(9))).toEqual([]);
  expect(told(changes(circle(9), circle(8)))).not.toEqual([]);
});

test('a base of many forms is decided as one without a way back is', () => {
  const names = Array.from({ length: 60 }, (_, i) => `Form${i}`);
  const base = { type: 'object', required: ['kind'], properties: { kind: { type: 'string' } }, oneOf: names.map(ref) };
  const circle = (maximum: number): Json => ({
    Vessel: base,
    ...Object.fromEntries(
      names.map((name, i) => {
        const own = { kind: { enum: [name] }, [name]: { type: 'integer', maximum: i === 40 ? maximum : 9 } };
        return [name, { allOf: [ref('Vessel'), { type: 'object', required: [name], properties: own }] }];
      }),
    ),
  });
  const found = changes(circle(9), circle(8)).filter((c) => c.at.part === 'request' && c.effect !== 'compatible');
  expect(told(found)).toEqual(['breaking request-narrowed /Form40']);
});
