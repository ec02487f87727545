/** The texts of a parameter against another validator: a text is taken when some value that it stands for is. */
import Ajv2020 from 'ajv/dist/2020.js';
import addFormats from 'ajv-formats';
import fc from 'fast-check';
import { expect, test } from 'vitest';
import type { Parameter } from '../../src/core/contract/model/contract.ts';
import { deserialize } from '../../src/core/contract/request/parse-values.ts';
import { accepts } from '../../src/core/language/language.ts';
import { isValid } from '../../src/core/schema/validate/validate.ts';
import { languageOfSchema } from '../../src/core/schema/wire/text-language.ts';
import { schemaFrom } from '../core/schemas.ts';
import { runs } from '../runs.ts';

const RUNS = runs(600);

const some = <T>(model: { [K in keyof T]: fc.Arbitrary<T[K]> }): fc.Arbitrary<object> => fc.record(model, { requiredKeys: [] });
const bound = fc.integer({ min: -3, max: 30 });
const integer = fc
  .tuple(some({ minimum: bound, maximum: bound, exclusiveMinimum: bound, exclusiveMaximum: bound }))
  .map(([k]) => ({ type: 'integer', ...k }));
const string = some({
  minLength: fc.nat(3),
  maxLength: fc.nat(6),
  pattern: fc.constantFrom('^[A-Z]{2}-[0-9]{4}$', 'elm', '^[0-9]+$', '^(a|b)*$'),
  format: fc.constantFrom('uuid', 'date', 'ipv4', 'email', 'date-time'),
}).map((k) => ({ type: 'string', ...k }));
const listed = fc
  .uniqueArray(fc.constantFrom('elm', 'tarn', 'a', '7'), { minLength: 1 })
  .map((members) => ({ type: 'string', enum: members }));
const plain = fc.oneof(
  integer,
  string,
  listed,
  fc.constant({ type: 'number' }),
  fc.constant({ type: 'boolean' }),
  fc.constant({ type: ['integer', 'null'] }),
  fc.uniqueArray(fc.constantFrom(1, 2, 7), { minLength: 1 }).map((members) => ({ type: 'integer', enum: members })),
);
const combined = fc.oneof(
  { weight: 4, arbitrary: plain },
  fc.tuple(plain, plain).map((anyOf) => ({ anyOf })),
  fc.tuple(string, string).map((allOf) => ({ allOf })),
  fc.tuple(string, listed).map(([k, not]) => ({ ...k, not })),
  fc.tuple(integer, string).map(([k, not]) => ({ ...k, not })),
  fc.tuple(integer, some({ minItems: fc.nat(2), maxItems: fc.nat(3) })).map(([items, k]) => ({ type: 'array', items, ...k })),
  fc.tuple(listed, some({ minItems: fc.nat(2), maxItems: fc.nat(3) })).map(([items, k]) => ({ type: 'array', items, ...k })),
);
const word = fc.constantFrom(
  '',
  '7',
  '0',
  '-3',
  '12',
  '7.5',
  '1.50',
  'true',
  'null',
  'elm',
  'tarn',
  'a',
  'ab',
  'TE-4821',
  '2027-03-14',
  '2027-02-30',
);
const longer = fc.constantFrom(
  '2027-03-14T09:30:00Z',
  '10.0.0.1',
  '3f2b8c1e-5a4d-4e6f-9b7a-0c1d2e3f4a5b',
  'keeper@canal.example',
  'elm-and-tarn',
);
const text = fc.oneof(
  word,
  longer,
  fc.array(word, { minLength: 2, maxLength: 4 }).map((l) => l.join(',')),
);

/** Each value that a text may stand for. */
function valuesOf(t: string): readonly unknown[] {
  const scalars = (s: string): readonly unknown[] => [
    s,
    ...(/^-?\d+(?:\.\d+)?$/u.test(s) ? [Number(s)] : []),
    ...(s === 'true' ? [true] : []),
    ...(s === '' || s === 'null' ? [null] : []),
  ];
  const items = t === '' ? [] : t.split(',');
  const lists = [items, items.map((i) => scalars(i)[1] ?? i)];
  return [...scalars(t), ...lists];
}

test('a text is held where a value that it stands for is valid', () => {
  const ajv = new Ajv2020.default({ strict: false, validateFormats: true, logger: false });
  addFormats.default(ajv);
  let undecided = 0;
  fc.assert(
    fc.property(combined, fc.array(text, { minLength: 20, maxLength: 20 }), (raw, texts) => {
      const judge = ajv.compile(raw as object);
      ajv.removeSchema();
      const schema = schemaFrom(raw);
      const language = languageOfSchema(schema, ',');
      if (!language.decided) undecided += 1;
      const parameter = { name: 'p', in: 'query', style: 'form', explode: false, schema } as Parameter;
      for (const t of texts) {
        const valid = valuesOf(t).some((v) => judge(v) === true);
        if (language.decided) expect([raw, t, accepts(language.value, t)]).toEqual([raw, t, valid]);
        const read = deserialize(parameter, [t]);
        expect([raw, t, read !== undefined && isValid(schema, read.value)]).toEqual([raw, t, valid]);
      }
    }),
    { numRuns: RUNS },
  );
  expect(undecided).toBe(0);
});
