/** Forms of unions that come, go, change and move. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { compareContracts } from '../../../src/core/compare/compare-contracts.ts';
import { readContract } from '../../../src/core/contract/read/read-contract.ts';
import { runs } from '../../runs.ts';

interface Form {
  readonly kind: string;
  readonly most: number;
}

/** How a union of tagged forms is written: what tells them apart may stand in a part, behind a reference, in a nested union. */
interface Writing {
  readonly union: 'oneOf' | 'anyOf';
  readonly typed: boolean;
  /** Anything may come beside what the forms declare. */
  readonly open: boolean;
  readonly named: boolean;
  readonly parted: boolean;
  readonly nested: boolean;
}

function document(forms: readonly Form[], way: Writing, part: 'request' | 'response') {
  const written = forms.map(({ kind, most }) => {
    const tag = { type: 'object', required: ['kind'], properties: { kind: { enum: [kind] } } };
    const rest = { type: 'object', properties: { n: { type: 'integer', maximum: most }, note: { type: 'string' } } };
    const whole = way.parted
      ? { allOf: [tag, rest] }
      : { type: 'object', required: ['kind'], properties: { ...tag.properties, ...rest.properties } };
    return [
      `Form${kind}`,
      way.nested ? { [way.union]: [whole, { ...tag, properties: { ...tag.properties, n: { enum: [null] } } }] } : whole,
    ] as const;
  });
  const schema = {
    ...(way.typed ? { type: 'object' } : {}),
    ...(way.open ? { additionalProperties: true } : {}),
    [way.union]: written.map(([name, form]) => (way.named ? { $ref: `#/components/schemas/${name}` } : form)),
  };
  const content = { 'application/json': { schema } };
  const post = part === 'request' ? { requestBody: { content } } : { responses: { 200: { content } } };
  const value = {
    openapi: '3.1.0',
    info: { title: 'Canal', version: '1.0.0' },
    paths: { '/notices': { post } },
    components: { schemas: way.named ? Object.fromEntries(written) : {} },
  };
  const result = readContract(value, 'canal.json');
  if (!result.ok) throw new Error(result.message);
  return result.contract;
}

const LETTERS = 'abcdefgh'.split('');
const ways = fc.record({
  union: fc.constantFrom('oneOf', 'anyOf'),
  typed: fc.boolean(),
  open: fc.boolean(),
  named: fc.boolean(),
  parted: fc.boolean(),
  nested: fc.boolean(),
});
const shuffled = (forms: readonly Form[]): fc.Arbitrary<readonly Form[]> =>
  fc.shuffledSubarray([...forms], { minLength: forms.length });
const cases = fc
  .record({
    kept: fc.subarray(LETTERS, { minLength: 1 }),
    changed: fc.subarray(LETTERS),
    extra: fc.subarray(['v', 'w', 'x', 'y']),
  })
  .chain(({ kept, changed, extra }) => {
    const wide = [...kept, ...extra].map((kind) => ({ kind, most: 9 }));
    const narrow = kept.map((kind) => ({ kind, most: changed.includes(kind) ? 8 : 9 }));
    return fc.record({
      way: ways as fc.Arbitrary<Writing>,
      wide: shuffled(wide),
      narrow: shuffled(narrow),
      broken: fc.constant([...kept.filter((k) => changed.includes(k)), ...extra].sort()),
    });
  });

test.each([
  'request',
  'response',
] as const)('%s: each form that goes or is narrowed is a change of its own, wherever it stands', (part) => {
  fc.assert(
    fc.property(cases, ({ way, wide, narrow, broken }) => {
      const [old, now] = part === 'request' ? [wide, narrow] : [narrow, wide];
      const { changes } = compareContracts(document(old, way, part), document(now, way, part), { versions: [] });
      expect(changes.filter((c) => c.effect === 'undecided')).toEqual([]);
      const kinds = changes
        .filter((c) => c.effect === 'breaking')
        .map((c) => (c.witness?.kind === 'value' ? (c.witness.body as Form).kind : c.message));
      expect(kinds.sort()).toEqual(broken);
    }),
    { numRuns: runs(70) },
  );
});

/** What is told of an answer that becomes another one. */
function told(old: object, now: object): readonly string[] {
  const [a, b] = [old, now].map((schema) =>
    readContract(
      {
        openapi: '3.1.0',
        info: { title: 'Canal', version: '1.0.0' },
        paths: { '/notices': { get: { responses: { 200: { content: { 'application/json': { schema } } } } } } },
      },
      'canal.json',
    ),
  );
  if (!a?.ok || !b?.ok) throw new Error('not read');
  return compareContracts(a.contract, b.contract, { versions: [] }).changes.map((c) => `${c.effect} ${c.message}`);
}

test('what a form may send with it is what others declare, as they declare it, where a value may be both', () => {
  const of = (properties: object, more: object = {}): object => ({ type: 'object', properties, ...more });
  const [boat, barge] = [of({ name: { type: 'string' } }), of({ tow: { type: 'integer' } })];
  const [shut, dry] = [boat, barge].map((form) => ({ ...form, additionalProperties: false }));
  const raft = of({ name: { type: 'string' }, logs: { type: 'integer' } }, { required: ['logs'] });
  // An open form takes all that a new one sends.
  expect(told({ anyOf: [boat, barge] }, { anyOf: [boat, barge, raft] })).toEqual(['compatible logs may now be returned']);
  expect(told({ anyOf: [shut, dry] }, { anyOf: [shut, dry, raft] })).toEqual([
    'breaking the body: {"logs":7} is now possible in the response; clients were not told (none of the 2 forms)',
  ]);
  // A form that is closed takes nothing that others declare, and one that says so itself may come with anything.
  const tagged = (kind: string, own: object): object => of({ kind: { const: kind }, ...own }, { required: ['kind'] });
  const [b, r] = [tagged('boat', { rise: { type: 'string' } }), tagged('raft', { logs: { type: 'integer' } })];
  expect(told({ anyOf: [b, r] }, { anyOf: [tagged('boat', {}), r] })).toEqual(['breaking rise is no longer returned']);
  expect(told({ anyOf: [b, r] }, { anyOf: [b, tagged('raft', { logs: { type: 'string' } })] })).toEqual([
    'breaking /logs: "abc" is now possible in the response; clients were not told',
  ]);
  expect(told({ oneOf: [b, r] }, { oneOf: [b, r], additionalProperties: true })).toEqual([]);
});

test('what one of many forms sends is not lost, in whatever order they stand', () => {
  const form = (i: number, more: readonly string[]): object => ({
    type: 'object',
    required: ['kind'],
    properties: Object.fromEntries([
      ['kind', { const: `k${i}` }],
      ...[`own${i}`, ...more].map((name) => [name, { type: 'string' }]),
    ]),
  });
  const lists = (forms: readonly object[]): object => ({ anyOf: forms.map((items) => ({ type: 'array', items })) });
  for (const of of [2, 17, 70]) {
    const forms = Array.from({ length: of }, (_, i) => form(i, []));
    const turned = [...forms].reverse();
    for (const [old, now] of [
      [{ oneOf: forms }, { oneOf: turned }],
      [{ anyOf: forms }, { anyOf: turned }],
      [lists(forms), lists(turned)],
    ] as const)
      expect(told(old, now)).toEqual([]);
    const with2 = [form(0, ['rise']), ...forms.slice(1)];
    expect(told({ anyOf: with2 }, { anyOf: turned })).toEqual(['breaking rise is no longer returned']);
    expect(told(lists(with2), lists(turned))).toEqual(['breaking rise is no longer returned']);
  }
});
