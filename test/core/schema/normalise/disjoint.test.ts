import fc from 'fast-check';
import { expect, test } from 'vitest';
import { areClosedBranchesDisjoint, isObviouslyDisjoint } from '../../../../src/core/schema/normalise/disjoint.ts';
import { closeBranch } from '../../../../src/core/schema/normalise/union-view.ts';
import { isValid } from '../../../../src/core/schema/validate/validate.ts';
import { runs, SEED } from '../../../runs.ts';
import { schemaFrom, schemas, values } from '../../schemas.ts';

const tagged = fc
  .tuple(fc.constantFrom('a', 'b', 'c'), fc.boolean(), fc.constantFrom('allOf', 'anyOf', 'oneOf', 'plain'), schemas)
  .map(([kind, required, way, rest]) => {
    const tag = { type: 'object', ...(required ? { required: ['name'] } : {}), properties: { name: { enum: [kind] } } };
    return way === 'plain'
      ? { ...(rest as object), ...tag }
      : { [way]: way === 'allOf' ? [rest, tag] : [tag, { ...tag, properties: { name: { const: `${kind}${kind}` } } }] };
  });
const some = fc.oneof(schemas, tagged, tagged);
/** Names that are declared, some of them required. */
const forms = fc
  .tuple(fc.subarray(['name', 'lockId', 'gates'], { minLength: 1 }), fc.nat(2), schemas)
  .map(([names, required, one]) => ({
    type: 'object',
    required: names.slice(required),
    properties: Object.fromEntries(names.map((name) => [name, one])),
  }));
const objects = fc.record(
  { name: fc.constantFrom('a', 'aa', 'b', 'c', 7, null), lockId: values, gates: values, 'x-1': values },
  { requiredKeys: [], noNullPrototype: true },
);
const SAMPLES = fc.sample(fc.oneof(values, objects), { numRuns: 400, seed: SEED + 5 });

test('what is apart has no value in common', () => {
  let seen = 0;
  fc.assert(
    fc.property(some, some, fc.constantFrom('request', 'response', 'either'), (a, b, side) => {
      const [x, y] = [schemaFrom(a), schemaFrom(b)];
      if (!isObviouslyDisjoint(x, y, side)) return;
      seen += 1;
      expect(isObviouslyDisjoint(y, x, side)).toBe(true);
      expect(SAMPLES.filter((v) => isValid(x, v, side) && isValid(y, v, side))).toEqual([]);
    }),
    { numRuns: runs(300) },
  );
  // It has to see some of them.
  expect(seen).toBeGreaterThan(runs(50));
});

test('what is apart once it is closed has no value in common then', () => {
  let seen = 0;
  fc.assert(
    fc.property(forms, forms, fc.constantFrom('request', 'response'), fc.subarray(['name', 'lockId']), (a, b, side, names) => {
      const [x, y, beside] = [schemaFrom(a), schemaFrom(b), { names: new Set(names), patterns: [], allowsOthers: false }];
      if (!areClosedBranchesDisjoint(x, y, beside, side)) return;
      seen += 1;
      const [p, q] = [closeBranch(x, beside), closeBranch(y, beside)];
      expect(SAMPLES.filter((v) => isValid(p, v, side, 'consumer') && isValid(q, v, side, 'consumer'))).toEqual([]);
    }),
    { numRuns: runs(300) },
  );
  expect(seen).toBeGreaterThan(runs(42));
});

test('tags are seen wherever they stand', () => {
  const tag = (kind: string) => ({ type: 'object', required: ['kind'], properties: { kind: { const: kind } } });
  const deep = (kind: string) => ({
    type: 'object',
    required: ['a'],
    properties: { a: { type: 'object', required: ['b'], properties: { b: { const: kind } } } },
  });
  const ways: readonly ((kind: string) => unknown)[] = [
    tag,
    (kind) => ({ allOf: [tag(kind), { properties: { n: {} } }] }),
    (kind) => ({ oneOf: [tag(kind), tag(`${kind}${kind}`)] }),
    (kind) => ({ type: 'object', anyOf: [{ allOf: [tag(kind)] }] }),
  ];
  for (const one of ways)
    for (const other of ways) expect(isObviouslyDisjoint(schemaFrom(one('x')), schemaFrom(other('y')), 'either')).toBe(true);
  expect(isObviouslyDisjoint(schemaFrom(deep('x')), schemaFrom(deep('y')), 'either')).toBe(true);
  // What is not required may be left out of both.
  expect(
    isObviouslyDisjoint(schemaFrom({ ...tag('x'), required: [] }), schemaFrom({ ...tag('y'), required: [] }), 'either'),
  ).toBe(false);
  // What is never sent in this direction tells nothing.
  const unsent = (kind: string) => schemaFrom({ ...tag(kind), properties: { kind: { const: kind, readOnly: true } } });
  expect([
    isObviouslyDisjoint(unsent('x'), unsent('y'), 'request'),
    isObviouslyDisjoint(unsent('x'), unsent('y'), 'response'),
  ]).toEqual([false, true]);
});

test('a circle of required properties ends', () => {
  const raw = { $ref: '#/raw', $defs: {} };
  const circle = { type: 'object', required: ['next'], properties: { next: { $ref: '#' } } };
  for (const schema of [raw, circle])
    expect(isObviouslyDisjoint(schemaFrom(schema), schemaFrom(structuredClone(schema)), 'either')).toBe(false);
});
