/** What is no longer returned, held against the search for a value that has it. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { pointerKeys } from '../../../../src/core/base/place.ts';
import { compareContracts } from '../../../../src/core/compare/compare-contracts.ts';
import { readContract } from '../../../../src/core/contract/read/read-contract.ts';
import { TRUE_SCHEMA } from '../../../../src/core/schema/model/schema.ts';
import { collectDeclaredNames } from '../../../../src/core/schema/normalise/declared-names.ts';
import { newSearchCache } from '../../../../src/core/schema/search/cache.ts';
import { findValueWithSubvalue, isSubschema } from '../../../../src/core/schema/search/witness.ts';
import { isValid } from '../../../../src/core/schema/validate/validate.ts';
import { runs } from '../../../runs.ts';
import { answers, compare, object, takes, told } from '../../contracts.ts';
import { schemaFrom } from '../../schemas.ts';

const NAMES = ['lock', 'gates', 'rise', 'note'] as const;
const leaf = fc.constantFrom({ type: 'string' }, { type: 'integer' }, { enum: ['open'] }, {}, false);
/** Objects, lists and unions of them, some with tags, some in parts. */
const schemas: fc.Arbitrary<unknown> = fc.letrec((tie) => {
  const object = fc
    .tuple(
      fc.dictionary(fc.constantFrom(...NAMES), tie('any'), { minKeys: 1, maxKeys: 3, noNullPrototype: true }),
      fc.constantFrom('', 'a', 'b', 'c'),
      fc.boolean(),
    )
    .map(([properties, kind, closed]) => ({
      type: 'object',
      ...(kind === '' ? {} : { required: ['kind'] }),
      properties: kind === '' ? properties : { ...properties, kind: { const: kind } },
      ...(closed ? { additionalProperties: false } : {}),
    }));
  const list = fc.array(object, { minLength: 1, maxLength: 3 });
  return {
    any: fc.oneof(
      { maxDepth: 2, depthSize: 'small' },
      leaf,
      object,
      tie('any').map((items) => ({ type: 'array', items })),
      list.map((anyOf) => ({ anyOf })),
      list.map((oneOf) => ({ type: 'object', oneOf })),
      fc.tuple(object, object).map((allOf) => ({ allOf })),
    ),
  };
}).any as fc.Arbitrary<unknown>;

/** Without one property somewhere, or with one form less, or as something else. */
const changed = (raw: unknown, turns: readonly number[]): unknown => {
  let at = 0;
  const turn = (n: number): number => (turns[at++ % turns.length] ?? 0) % n;
  const walk = (value: unknown): unknown => {
    if (Array.isArray(value)) return value.length > 1 && turn(6) === 0 ? value.slice(1).map(walk) : value.map(walk);
    if (typeof value !== 'object' || value === null) return value;
    return Object.fromEntries(
      Object.entries(value).map(([key, inner]) => {
        if (key === 'required' || key === 'enum') return [key, inner];
        if (key !== 'properties') return [key, walk(inner)];
        const kept = Object.entries(inner as object).filter(([name]) => name === 'kind' || turn(4) > 0);
        return [key, Object.fromEntries(kept.map(([name, schema]) => [name, walk(schema)]))];
      }),
    );
  };
  return walk(raw);
};
const pairs = fc
  .tuple(schemas, fc.array(fc.nat(40), { minLength: 3, maxLength: 9 }))
  .map(([a, turns]) => [a, changed(a, turns)] as const);

function changesOf(a: unknown, b: unknown) {
  const [old, now] = [a, b].map((schema) => {
    const paths = { '/locks': { get: { responses: { 200: { content: { 'application/json': { schema } } } } } } };
    const read = readContract({ openapi: '3.1.0', info: { title: 'Canal', version: '1' }, paths }, 'canal.json');
    if (!read.ok) throw new Error(read.message);
    return read.contract;
  });
  return compareContracts(old as never, now as never, { versions: [] }).changes;
}

const at = (value: unknown, pointer: string): unknown =>
  pointerKeys(pointer).reduce<unknown>(
    (v, key) => (typeof v === 'object' && v !== null ? (v as Record<string, unknown>)[key] : undefined),
    value,
  );

/** All that has what this body has, part by part. */
const shapeOf = (value: unknown): object => {
  if (Array.isArray(value)) return { type: 'array', minItems: value.length, prefixItems: value.map(shapeOf) };
  if (typeof value !== 'object' || value === null) return { const: value };
  const parts = Object.entries(value).map(([name, part]) => [name, shapeOf(part)]);
  return { type: 'object', required: Object.keys(value), properties: Object.fromEntries(parts) };
};
const comes = (schema: ReturnType<typeof schemaFrom>, pointer: string): string =>
  findValueWithSubvalue(schema, pointer, TRUE_SCHEMA, 'response', newSearchCache()).kind;

test('what is told as lost could come, and can come no more', () => {
  let lost = 0;
  fc.assert(
    fc.property(pairs, ([a, b]) => {
      for (const { rule, witness } of changesOf(a, b)) {
        if (rule !== 'versions/response-property-lost' || witness?.kind !== 'value') continue;
        const [old, now] = [schemaFrom(a), schemaFrom(b)];
        const under = witness.validUnder === 'old' ? old : now;
        expect(isValid(under, witness.body, 'response', 'producer')).toBe(true);
        if (witness.lost === undefined) continue;
        lost += 1;
        expect(at(witness.body, witness.lost)).not.toBe(undefined);
        // Nobody sends that body any more: the name may still come with another form.
        const other = schemaFrom({ not: shapeOf(witness.body) });
        expect([witness.body, isSubschema(now, other, 'response').kind]).toEqual([witness.body, 'contained']);
      }
    }),
    { numRuns: runs(450) },
  );
  expect(lost).toBeGreaterThan(runs(100));
});

test('a property that could come and can come no more is told', () => {
  let gone = 0;
  fc.assert(
    fc.property(pairs, ([a, b]) => {
      // What declares a name and can have no value with it is found by a search alone.
      if (/false|allOf/u.test(JSON.stringify(b))) return;
      const [old, now] = [schemaFrom(a), schemaFrom(b)];
      if (NAMES.every((n) => comes(now, `/${n}`) === 'none')) return;
      const k = old.keywords();
      const declared = collectDeclaredNames([old, ...((typeof k === 'object' && k.oneOf) || [])]).names;
      const missing = NAMES.filter((n) => declared.has(n) && comes(old, `/${n}`) === 'witness' && comes(now, `/${n}`) === 'none');
      if (missing.length === 0) return;
      gone += 1;
      expect(changesOf(a, b).some((c) => c.effect === 'breaking' || c.effect === 'undecided')).toBe(true);
    }),
    { numRuns: runs(4_000) },
  );
  expect(gone).toBeGreaterThan(runs(50));
});

/** Where a schema may stand in another one. */
const HOLDERS: readonly ((inner: unknown) => unknown)[] = [
  (s) => ({ type: 'object', properties: { lock: s, rise: {} } }),
  (s) => ({ type: 'object', properties: { lock: s, rise: {} }, anyOf: [{ required: ['lock'] }, { required: ['rise'] }] }),
  (s) => ({ type: 'object', additionalProperties: s }),
  (s) => ({ type: 'object', properties: { rise: {} }, patternProperties: { '^x-[a-z]+$': s }, additionalProperties: false }),
  (s) => ({ type: 'array', items: s }),
  (s) => ({ type: 'array', prefixItems: [{}, s], items: false }),
  (s) => ({ type: 'array', prefixItems: [{}], items: s }),
  (s) => ({ allOf: [s, { title: 'more' }] }),
  (s) => ({ anyOf: [s, { type: 'string' }] }),
  (s) => ({ oneOf: [{ type: 'null' }, s] }),
];

test('a property that is gone is told wherever it stood', () => {
  const holder = fc.nat(HOLDERS.length - 1);
  fc.assert(
    fc.property(fc.array(holder, { maxLength: 4 }), fc.array(holder, { maxLength: 1 }), (around, other) => {
      const within = (inner: unknown): unknown => around.reduce((s, n) => HOLDERS[n]?.(s), inner);
      const lock = (names: readonly string[]): unknown => ({
        type: 'object',
        properties: Object.fromEntries(names.map((name) => [name, other.reduce<unknown>((s, n) => HOLDERS[n]?.(s), {})])),
      });
      const changes = changesOf(within(lock(['id', 'note'])), within(lock(['id'])));
      expect(told(changes).map((t) => t.replace(/ \/.*/u, ''))).toEqual(['breaking response-property-lost']);
      const [{ witness } = {}] = changes;
      if (witness?.kind !== 'value') throw new Error('it has to be shown');
      expect([witness.lost?.split('/').at(-1), at(witness.body, witness.lost ?? '') !== undefined]).toEqual(['note', true]);
    }),
    { numRuns: runs(400) },
  );
});

test('another default is told wherever it stands, once in each direction', () => {
  fc.assert(
    fc.property(fc.array(fc.nat(HOLDERS.length - 1), { maxLength: 4 }), (around) => {
      const [old, now] = [5, 6].map((value) => {
        const lock = { type: 'object', properties: { rise: { type: 'integer', default: value } } };
        return JSON.stringify(around.reduce<unknown>((s, n) => HOLDERS[n]?.(s), lock)).slice(1, -1);
      }) as [string, string];
      for (const write of [answers, takes])
        expect(told(compare(write(old), write(now)).changes).map((t) => t.replace(/ \/.*(?=\/rise)/u, ' '))).toEqual([
          'risky default-changed /rise',
        ]);
    }),
    { numRuns: runs(300) },
  );
});

/** what | old | new | what is lost */
const NEVER: readonly (readonly [string, string, string, string])[] = [
  ['items of a list that stays empty', 'rise: { type: array, items: {} }', 'rise: { type: array, maxItems: 0 }', '/rise/0'],
  ['items that fit nothing', 'rise: { type: array, items: {} }', 'rise: { type: array, items: { enum: [] } }', '/rise/0'],
  [
    'what an empty object has',
    `rise: { ${object('id: {}')} }`,
    'rise: { type: object, additionalProperties: false }',
    '/rise/id',
  ],
  ['what is nothing', 'rise: { type: string }', 'rise: { type: string, not: {} }', '/rise'],
  ['what excludes itself', 'rise: { type: object }', 'rise: { allOf: [{ type: object }, { type: string }] }', '/rise'],
  [
    'what needs itself without end',
    `rise: { ${object('rise: { type: integer }')} }`,
    `rise: { ${object('rise: { $ref: "#/paths/~1locks/get/responses/200/content/application~1json/schema/properties/rise" }', ', required: [rise]')} }`,
    '/rise',
  ],
];

test.each(NEVER)('what can have no value is lost: %s', (_, old, now, lost) => {
  const note = ', note: {}';
  expect(told(compare(answers(object(old + note)), answers(object(now + note))).changes)).toEqual([
    `breaking response-property-lost ${lost}`,
  ]);
});

test('what might be lost is undecided where no body that has it could be put together', () => {
  // No example of such a pattern is known, and none can be made.
  const documents = [
    'code: { type: string, pattern: "^(a|b)\\\\1$" }, note: { type: string }',
    'code: { type: string, pattern: "^(a|b)\\\\1$" }',
  ];
  const [old, now] = documents.map((properties) => answers(object(properties, ', required: [code]')));
  const { changes, verdict } = compare(old as string, now as string);
  expect(told(changes)).toEqual(['undecided response-property-lost /note']);
  expect([changes[0]?.undecided, verdict]).toEqual(['pattern, while a whole body was put together,', 'minor']);
});
