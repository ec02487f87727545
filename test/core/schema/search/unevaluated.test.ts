/** `unevaluatedProperties` beside parts, forms and conditions, held against what a value is judged by. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { isSubschema } from '../../../../src/core/schema/search/witness.ts';
import { isValid } from '../../../../src/core/schema/validate/validate.ts';
import { runs } from '../../../runs.ts';
import { schemaFrom } from '../../schemas.ts';

const NAMES = ['lock', 'rise', 'x-1', 'note'] as const;
const leaf = fc.constantFrom<unknown>({}, { type: 'integer' }, { type: 'string' });
const object = fc.record(
  {
    type: fc.constant('object'),
    properties: fc.dictionary(fc.constantFrom(...NAMES), leaf, { maxKeys: 2, noNullPrototype: true }),
    required: fc.uniqueArray(fc.constantFrom(...NAMES), { maxLength: 1 }),
    additionalProperties: fc.constantFrom<unknown>({ type: 'integer' }, false),
  },
  { requiredKeys: ['properties'] },
);
const list = fc.array(object, { minLength: 1, maxLength: 2 });
const combined = {
  allOf: list.map((allOf) => ({ allOf })),
  anyOf: list.map((anyOf) => ({ anyOf })),
  oneOf: list.map((oneOf) => ({ oneOf })),
  // biome-ignore lint/suspicious/noThenProperty: the keyword of JSON Schema
  if: fc.tuple(object, object, object).map(([test, yes, no]) => ({ if: test, then: yes, else: no })),
  dependentSchemas: fc.tuple(fc.constantFrom(...NAMES), object).map(([name, s]) => ({ dependentSchemas: { [name]: s } })),
};
const two = fc.array(fc.oneof(...Object.values(combined)), { maxLength: 2 }).map((all) => Object.assign({}, ...all));
const whole = fc
  .tuple(
    fc.dictionary(fc.constantFrom(...NAMES), leaf, { maxKeys: 1, noNullPrototype: true }),
    fc.constantFrom({}, {}, { patternProperties: { '^x-': { type: 'integer' } } }),
    fc.constantFrom<unknown>(false, false, { type: 'integer' }),
    two,
  )
  .map(([properties, patterns, rest, more]) => ({
    type: 'object',
    properties,
    ...patterns,
    ...more,
    unevaluatedProperties: rest,
  }));
/** Every object of up to two of these names and one more, each whole, text or nothing of both. */
const SAMPLES = [...NAMES, 'other']
  .reduce<readonly Record<string, unknown>[]>(
    (all, name) => all.flatMap((v) => [v, ...[7, 'elm', true].map((value) => ({ ...v, [name]: value }))]),
    [{}],
  )
  .filter((v) => Object.keys(v).length <= 2);

test('what is inside is so for every small object, and most is decided', () => {
  const found = { contained: 0, counterexample: 0, undecided: 0 };
  const pairs = fc.oneof(
    fc.tuple(whole, whole),
    fc.tuple(object, whole),
    fc.tuple(whole, object),
    fc.tuple(whole, whole).map(([a, b]) => [{ allOf: [a, b] }, b] as const),
  );
  fc.assert(
    fc.property(pairs, ([a, b]) => {
      const [x, y] = [schemaFrom(a), schemaFrom(b)];
      const verdict = isSubschema(x, y, 'either', 'standard');
      found[verdict.kind] += 1;
      if (verdict.kind !== 'contained') return;
      for (const value of SAMPLES) if (isValid(x, value)) expect([value, isValid(y, value)]).toEqual([value, true]);
    }),
    { numRuns: runs(400) },
  );
  expect(Math.min(found.contained, found.counterexample)).toBeGreaterThan(runs(150));
  expect(found.undecided).toBeLessThan(runs(40));
});
