import Ajv2020 from 'ajv/dist/2020.js';
import addFormats from 'ajv-formats';
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { fits } from '../../src/core/schema/fits.ts';
import { schemaFrom, schemas, values } from '../core/schemas.ts';

const RUNS = Number(process.env.REQUESTS ?? 20_000) / 20;

test('a value fits where another validator says so', () => {
  const ajv = new Ajv2020.default({ strict: false, validateFormats: true, logger: false, multipleOfPrecision: 9 });
  addFormats.default(ajv);
  fc.assert(
    fc.property(schemas, fc.array(values, { minLength: 20, maxLength: 20 }), (raw, list) => {
      const judge = ajv.compile(raw as object);
      const schema = schemaFrom(raw);
      for (const value of list) {
        const verdict = ask(judge, value);
        if (verdict !== undefined) expect([value, fits(schema, value)]).toEqual([value, verdict]);
      }
    }),
    { numRuns: RUNS },
  );
});

/** The other validator fails by itself on a few schemas that nest unevaluated keywords; then it has no verdict. */
function ask(judge: (value: unknown) => unknown, value: unknown): boolean | undefined {
  try {
    return judge(value) === true;
  } catch (error) {
    if (error instanceof TypeError) return undefined;
    throw error;
  }
}
