/** Laws of sets, held by what is decided about schemas: no other validator is needed for these. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { sampleOf } from '../../../../src/core/schema/search/sample.ts';
import { type Containment, isSubschema } from '../../../../src/core/schema/search/witness.ts';
import { isValid } from '../../../../src/core/schema/validate/validate.ts';
import { runs } from '../../../runs.ts';
import { plainSchemas, schemaFrom, schemas, values } from '../../schemas.ts';

const RUNS = runs(70);

type Law = (a: unknown, b: unknown, c: unknown) => readonly [smaller: unknown, larger: unknown];

/** The first is held by the second, whatever the three say. */
const LAWS: Record<string, Law> = {
  'a part of both is part of each': (a, b) => [{ allOf: [a, b] }, b],
  'each is part of either': (a, b) => [a, { anyOf: [b, a] }],
  'exactly one is one of them': (a, b) => [{ oneOf: [a, b] }, { anyOf: [a, b] }],
  'not both is not the one or not the other': (a, b) => [{ not: { allOf: [a, b] } }, { anyOf: [{ not: a }, { not: b }] }],
  'neither is not the one and not the other': (a, b) => [{ allOf: [{ not: a }, { not: b }] }, { not: { anyOf: [a, b] } }],
  'twice not is itself': (a) => [{ not: { not: a } }, a],
  'a condition is its two branches': (a, b, c) => [
    {
      if: a, // biome-ignore lint/suspicious/noThenProperty: the keyword of JSON Schema
      then: b,
      else: c,
    },
    { anyOf: [{ allOf: [a, b] }, { allOf: [{ not: a }, c] }] },
  ],
  'both branches are a condition': (a, b, c) => [
    { anyOf: [{ allOf: [a, b] }, { allOf: [{ not: a }, c] }] },
    {
      if: a, // biome-ignore lint/suspicious/noThenProperty: the keyword of JSON Schema
      then: b,
      else: c,
    },
  ],
  'all of a union is a union of all': (a, b, c) => [
    { allOf: [{ anyOf: [a, b] }, c] },
    { anyOf: [{ allOf: [a, c] }, { allOf: [b, c] }] },
  ],
  'a list of the smaller is a list of the larger': (a, b) => [{ items: { allOf: [a, b] } }, { items: a }],
  'an object of the smaller is one of the larger': (a, b, c) => [
    { properties: { name: { allOf: [a, b] } }, additionalProperties: c },
    { properties: { name: a }, additionalProperties: c },
  ],
  'nothing is part of everything': (a) => [{ allOf: [a, { not: a }] }, false],
  'everything is the one or not the one': (a) => [true, { anyOf: [a, { not: a }] }],
};

test.each(Object.keys(LAWS))('%s', (name) => {
  let undecided = 0;
  fc.assert(
    fc.property(plainSchemas, plainSchemas, plainSchemas, (a, b, c) => {
      const [smaller, larger] = (LAWS[name] as Law)(a, b, c);
      const verdict = isSubschema(schemaFrom(smaller), schemaFrom(larger), 'either', 'standard');
      if (verdict.kind === 'undecided') undecided += 1;
      expect(verdict.kind).not.toBe('counterexample');
    }),
    { numRuns: RUNS },
  );
  expect(undecided / RUNS).toBeLessThan(0.1);
});

test('what is inside of what is inside is inside', () => {
  const kind = (a: unknown, b: unknown): Containment => isSubschema(schemaFrom(a), schemaFrom(b), 'either', 'standard');
  let chains = 0;
  const grown = fc
    .tuple(plainSchemas, plainSchemas, plainSchemas)
    .map(([a, b, c]) => [{ allOf: [a, b] }, b, { anyOf: [c, b] }] as const);
  fc.assert(
    fc.property(fc.oneof(grown, fc.tuple(plainSchemas, plainSchemas, plainSchemas)), ([a, b, c]) => {
      if (kind(a, b).kind !== 'contained' || kind(b, c).kind !== 'contained') return;
      chains += 1;
      expect(kind(a, c).kind).not.toBe('counterexample');
    }),
    { numRuns: RUNS },
  );
  expect(chains).toBeGreaterThan(RUNS / 10);
});

test('a value that is made for a schema fits it, and one that fits is no proof against it', () => {
  let made = 0;
  fc.assert(
    fc.property(schemas, fc.array(values, { maxLength: 10 }), (raw, list) => {
      const schema = schemaFrom(raw);
      const empty = isSubschema(schema, schemaFrom(false), 'either', 'standard');
      const sample = sampleOf(schema, 'either');
      if (sample !== undefined) {
        made += 1;
        expect([sample.value, isValid(schema, sample.value)]).toEqual([sample.value, true]);
        expect(empty.kind).not.toBe('contained');
      }
      for (const value of list) if (isValid(schema, value)) expect([value, empty.kind]).not.toEqual([value, 'contained']);
      // One value is a set too: held by the schema where it fits, and by what the schema leaves out where it doesn't.
      for (const value of list.slice(0, 3)) {
        const one = schemaFrom({ const: value });
        const [holds, refuses] = [schema, schemaFrom({ not: raw })].map((s) => isSubschema(one, s, 'either', 'standard').kind);
        const fitting = isValid(schema, value);
        expect([value, holds]).not.toEqual([value, fitting ? 'counterexample' : 'contained']);
        expect([value, refuses]).not.toEqual([value, fitting ? 'contained' : 'counterexample']);
      }
    }),
    { numRuns: RUNS },
  );
  expect(made).toBeGreaterThan(RUNS / 2);
});
