/** Small schemas of objects and of lists, held against every small value. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { containment, newSession } from '../../../../src/core/compare/relation/session.ts';
import { isSubschema } from '../../../../src/core/schema/search/witness.ts';
import { isValid } from '../../../../src/core/schema/validate/validate.ts';
import { runs } from '../../../runs.ts';
import { schemaFrom } from '../../schemas.ts';

const RUNS = runs(80);

const SCALARS = ['', 'elm', 0, -5, null];
/** Each of these divides the scalars in another way. */
const leaf = fc.constantFrom<unknown>(
  ...[{ type: 'string' }, { maxLength: 0 }, { minLength: 1 }, { exclusiveMaximum: -4 }, { minimum: 0 }, { const: 0 }],
  ...[{ type: 'number' }, { type: ['number', 'null'] }, { enum: ['', 0] }, { not: { type: 'string' } }, { type: 'boolean' }],
  ...[true, false],
);
const few = fc.integer({ min: 0, max: 3 });
const name = fc.constantFrom('p', 'q', 'x1');
const NAMED = [{ maxLength: 1 }, { pattern: '^x' }, { minLength: 2 }, { enum: ['p', 'x1'] }, { not: { const: 'p' } }];

const KEYWORDS = {
  object: {
    additionalProperties: leaf,
    patternProperties: fc.dictionary(fc.constantFrom('^x', '2$', '^p'), leaf, { minKeys: 1, maxKeys: 1, noNullPrototype: true }),
    properties: fc.dictionary(name, leaf, { minKeys: 1, maxKeys: 1, noNullPrototype: true }),
    propertyNames: fc.constantFrom<unknown>(...NAMED),
    minProperties: few,
    maxProperties: few,
    required: fc.tuple(name),
    dependentRequired: fc.tuple(name, name).map(([a, b]) => ({ [a]: [b] })),
  },
  array: {
    items: leaf,
    prefixItems: fc.array(leaf, { minLength: 1, maxLength: 2 }),
    contains: leaf,
    minContains: few,
    maxContains: few,
    minItems: few,
    maxItems: few,
    uniqueItems: fc.constant(true),
  },
} as const;

/** A few keywords, and schemas with a few that speak of the same value. */
function schemasOf(kind: keyof typeof KEYWORDS): fc.Arbitrary<object> {
  const some = (model: Record<string, fc.Arbitrary<unknown>>): fc.Arbitrary<object> => {
    const one = fc.oneof(...Object.entries(model).map(([key, value]) => value.map((v) => ({ [key]: v }))));
    return fc.tuple(one, one, fc.constantFrom({}, { type: kind })).map((all) => Object.assign({}, ...all) as object);
  };
  const { inner } = fc.letrec<{ inner: object }>((tie) => {
    const part = fc.oneof({ maxDepth: 1 }, some(KEYWORDS[kind]), tie('inner'));
    const both = fc.tuple(part, part);
    const combined = {
      not: part,
      anyOf: both,
      oneOf: both,
      [kind === 'object' ? 'unevaluatedProperties' : 'unevaluatedItems']: leaf,
    };
    // biome-ignore lint/suspicious/noThenProperty: the keyword of JSON Schema
    const conditional = fc.tuple(part, part, part).map(([a, b, c]) => ({ if: a, then: b, else: c }));
    return {
      inner: fc.oneof(
        some(KEYWORDS[kind]),
        some({ ...KEYWORDS[kind], ...combined }),
        some({ ...KEYWORDS[kind], ...combined }),
        conditional,
      ),
    };
  });
  return inner;
}

const LISTS = [0, 1, 2].reduce<readonly unknown[][]>(
  (all) => [...all, ...all.flatMap((v) => SCALARS.map((s) => [...v, s]))],
  [[]],
);
const OBJECTS = ['p', 'q', 'x1', 'x2', 'y']
  .reduce<readonly object[]>((all, key) => all.flatMap((v) => [v, ...SCALARS.map((s) => ({ ...v, [key]: s }))]), [{}])
  .filter((v) => Object.keys(v).length <= 3);

test.each([
  ['object', OBJECTS, 30],
  ['array', [...new Map(LISTS.map((v) => [JSON.stringify(v), v])).values()], 40],
] as const)('what is inside is so for every small %s, and nearly all of it is decided', (kind, values, most) => {
  const found = { contained: 0, counterexample: 0, undecided: 0 };
  const [one, other] = [schemasOf(kind), schemasOf(kind)];
  const pairs = fc.oneof(
    fc.tuple(one, other),
    fc.tuple(one, other).map(([a, b]) => [a, { anyOf: [b, a] }] as const),
    fc.tuple(one, other).map(([a, b]) => [{ ...a, ...b }, a] as const),
  );
  fc.assert(
    fc.property(pairs, ([a, b]) => {
      const [x, y] = [schemaFrom(a), schemaFrom(b)];
      const verdict = isSubschema(x, y, 'either', 'standard');
      found[verdict.kind] += 1;
      // What is seen at once, pair by pair, is never other than what the search finds.
      const seen = [containment(newSession(), x, y, 'response'), isSubschema(x, y, 'response')].map((v) => v.kind);
      expect(['inside,outside', 'outside,inside']).not.toContain(seen.join());
      if (verdict.kind !== 'contained') return;
      for (const value of values) if (isValid(x, value)) expect([value, isValid(y, value)]).toEqual([value, true]);
    }),
    { numRuns: RUNS },
  );
  expect(Math.min(found.contained, found.counterexample)).toBeGreaterThan(RUNS / 6);
  expect(found.undecided).toBeLessThan(runs(most));
});
