import Ajv2020 from 'ajv/dist/2020.js';
import addFormats from 'ajv-formats';
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { containment, newSession } from '../../src/core/compare/relation/session.ts';
import { isSubschema } from '../../src/core/schema/search/witness.ts';
import { isValid } from '../../src/core/schema/validate/validate.ts';
import { allSchemas, plainSchemas, schemaFrom, schemas, values } from '../core/schemas.ts';
import { runs, SEED } from '../runs.ts';
import { evaluates } from './evaluate.ts';

const RUNS = runs(350);
const PAIRS = runs(200);

/** All errors, because where it stops at the first it leaves out what stands beside items that are not there. */
const options = { strict: false, allErrors: true, validateFormats: true, logger: false, multipleOfPrecision: 9 } as const;

type Judge = (value: unknown) => unknown;

/** Another validator, made anew now and then: it keeps all that it has compiled, 60 kB a pair, even what is removed. */
function newJudge(): (raw: unknown) => Judge {
  let [made, ajv] = [0, new Ajv2020.default(options)];
  return (raw) => {
    if (made % 1_000 === 0) ajv = addFormats.default(new Ajv2020.default(options)) as typeof ajv;
    made += 1;
    return ajv.compile(raw as object);
  };
}

test('a value fits where another validator says so', () => {
  const judgeOf = newJudge();
  fc.assert(
    fc.property(schemas, fc.array(values, { minLength: 20, maxLength: 20 }), (raw, list) => {
      const judge = judgeOf(raw);
      const schema = schemaFrom(raw);
      const own = typeof raw === 'object' && raw !== null && 'contains' in raw ? 1 : 0;
      const nested = (JSON.stringify(raw).match(/"contains"/gu) ?? []).length > own;
      const isPlain = !JSON.stringify(raw).includes('"format"');
      for (const value of list) {
        if (isPlain) expect([value, isValid(schema, value)]).toEqual([value, evaluates(raw, value)]);
        // Inside another list it takes what it found of the list before for what an empty one contains.
        if (nested && JSON.stringify(value).includes('[]')) continue;
        const verdict = ask(judge, value);
        if (verdict !== undefined) expect([value, isValid(schema, value)]).toEqual([value, verdict]);
      }
    }),
    { numRuns: RUNS },
  );
});

test('with every keyword a value fits, and a witness shows, what a plain reading of the standard says', () => {
  fc.assert(
    fc.property(allSchemas, allSchemas, fc.array(values, { minLength: 10, maxLength: 10 }), (a, b, list) => {
      fc.pre(!JSON.stringify([a, b]).includes('"format"'));
      const [x, y] = [schemaFrom(a), schemaFrom(b)];
      for (const value of list) expect([value, isValid(x, value)]).toEqual([value, evaluates(a, value)]);
      const verdict = isSubschema(x, y, 'either', 'standard');
      if (verdict.kind === 'counterexample')
        expect([verdict.witness, evaluates(a, verdict.witness), evaluates(b, verdict.witness)]).toEqual([
          verdict.witness,
          true,
          false,
        ]);
      if (verdict.kind === 'contained')
        for (const value of list) expect([value, evaluates(a, value) && !evaluates(b, value)]).toEqual([value, false]);
    }),
    { numRuns: PAIRS / 5 },
  );
});

/** The other validator fails by itself on a few schemas that nest unevaluated keywords; then it has no verdict. */
function ask(judge: Judge, value: unknown): boolean | undefined {
  try {
    return judge(value) === true;
  } catch (error) {
    if (error instanceof TypeError || error instanceof ReferenceError) return undefined;
    throw error;
  }
}

test('inside and outside are as another validator sees them', () => {
  const judgeOf = newJudge();
  const samples = fc.sample(values, { numRuns: 1_000, seed: SEED + 7 });
  let undecided = 0;
  const pairs = fc.oneof(
    fc.tuple(plainSchemas, plainSchemas),
    fc.tuple(plainSchemas, plainSchemas).map(([a, b]) => [{ allOf: [a, b] }, b] as const),
    fc.tuple(plainSchemas, plainSchemas).map(([a, b]) => [a, { anyOf: [b, a] }] as const),
    fc.tuple(plainSchemas, plainSchemas).map(([a, b]) => [Object.assign({}, a, b), a] as const),
  );
  fc.assert(
    fc.property(pairs, ([a, b]) => {
      const [inA, inB] = [judgeOf(a), judgeOf(b)];
      const verdict = isSubschema(schemaFrom(a), schemaFrom(b), 'either', 'standard');
      if (verdict.kind === 'undecided') undecided += 1;
      // What is seen at once, pair by pair, is never other than what the search finds.
      const [seen, found] = [
        containment(newSession(), schemaFrom(a), schemaFrom(b), 'response'),
        isSubschema(schemaFrom(a), schemaFrom(b), 'response'),
      ];
      expect([seen.kind, found.kind]).not.toEqual(['contained', 'counterexample']);
      expect([seen.kind, found.kind]).not.toEqual(['counterexample', 'contained']);
      if (verdict.kind === 'counterexample')
        // Where the judge itself fails it has no opinion.
        expect([verdict.witness, ask(inA, verdict.witness) ?? true, ask(inB, verdict.witness) ?? false]).toEqual([
          verdict.witness,
          true,
          false,
        ]);
      if (verdict.kind === 'contained')
        for (const value of samples)
          if (ask(inA, value) === true && ask(inB, value) === false)
            throw new Error(`${JSON.stringify(value)} is held by the first alone`);
    }),
    { numRuns: PAIRS },
  );
  expect(undecided / PAIRS).toBeLessThan(0.02);
});
