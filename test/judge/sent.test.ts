import fc from 'fast-check';
import { expect, test } from 'vitest';
import { containment, newSession } from '../../src/core/compare/relation/session.ts';
import { isSubschema } from '../../src/core/schema/search/witness.ts';
import { isValid } from '../../src/core/schema/validate/validate.ts';
import { plainSchemas, schemaFrom, values } from '../core/schemas.ts';
import { runs, SEED } from '../runs.ts';

const PAIRS = runs(40);
const unions = fc
  .tuple(fc.constantFrom('oneOf', 'anyOf'), fc.array(plainSchemas, { minLength: 1, maxLength: 3 }), plainSchemas)
  .map(([union, forms, beside]) => ({ ...(typeof beside === 'object' ? beside : {}), [union]: forms }));
const some = fc.oneof(plainSchemas, unions, unions);
/** A sender who says that anything else may come, at every place: then all that fits may be sent. */
const open = (raw: unknown): unknown => {
  if (Array.isArray(raw)) return raw.map(open);
  if (typeof raw !== 'object' || raw === null) return raw;
  const inner = Object.entries(raw).map(([key, value]) => [
    key,
    MAPS.has(key) ? opened(value) : VALUES.has(key) ? value : open(value),
  ]);
  return { additionalProperties: {}, ...Object.fromEntries(inner) };
};
const opened = (map: object): object => Object.fromEntries(Object.entries(map).map(([name, value]) => [name, open(value)]));
const MAPS = new Set(['properties', 'patternProperties', 'dependentSchemas']);
const VALUES = new Set(['type', 'enum', 'required', 'dependentRequired']);
/** Forms, what is said beside them that declares more names, and what a taker says of each form besides. */
const names = fc.constantFrom('lockId', 'name', 'gates', 'x-1');
const objects = fc
  .dictionary(names, fc.constantFrom({}, { type: 'integer' }, { type: 'string' }), { maxKeys: 2, noNullPrototype: true })
  .map((properties) => ({ type: 'object', properties }));
const beside = fc.oneof(
  fc.constantFrom({}, { additionalProperties: {} }, { patternProperties: { '^n': {} } }, { required: ['name'] }),
  objects,
  fc.tuple(fc.constantFrom('allOf', 'anyOf', 'oneOf'), objects).map(([key, form]) => ({ [key]: [form] })),
  fc.tuple(fc.constantFrom('if', 'else'), objects).map(([key, form]) => ({ if: {}, [key]: form })),
  fc.tuple(names, objects).map(([name, form]) => ({ dependentSchemas: { [name]: form } })),
);
const more = fc.oneof(objects, fc.constantFrom({}, { propertyNames: { pattern: '^[a-z]' } }, { maxProperties: 1 }));
const formed = fc
  .tuple(fc.constantFrom('oneOf', 'anyOf'), fc.array(objects, { minLength: 1, maxLength: 2 }), beside, beside, more)
  .map(([key, forms, x, y, also]) => {
    const properties = 'properties' in also ? also.properties : {};
    const taken = forms.map((form) => ({ ...also, ...form, properties: { ...properties, ...form.properties } }));
    return [
      { ...x, [key]: forms },
      { ...y, [key]: taken },
    ] as const;
  });
/** A pair that has much in common: a form more, a form less, something said besides. */
const pairs = fc.oneof(
  formed,
  fc.tuple(some, some),
  fc.tuple(unions, unions).map(([a, b]) => [a, { ...a, ...b }] as const),
  fc.tuple(unions, plainSchemas).map(([a, b]) => [a, { ...a, anyOf: [b, ...(a.anyOf ?? a.oneOf ?? [])] }] as const),
  fc.tuple(unions, some).map(([a, b]) => [{ allOf: [a, b] }, { allOf: [b, a] }] as const),
  fc.tuple(unions, unions).map(([a, b]) => [{ properties: { name: a, gates: b } }, { properties: { name: b } }] as const),
);

/** Some of the properties are never sent in one direction. */
const sided = (raw: unknown, turns: readonly ('readOnly' | 'writeOnly' | '')[]): unknown => {
  let at = 0;
  const walk = (value: unknown, isProperty: boolean): unknown => {
    if (Array.isArray(value)) return value.map((item) => walk(item, false));
    if (typeof value !== 'object' || value === null) return value;
    const turn = isProperty ? turns[at++ % turns.length] : undefined;
    const own = Object.entries(value).map(([key, inner]) => {
      if (VALUES.has(key)) return [key, inner];
      if (key !== 'properties') return [key, walk(inner, false)];
      return [key, Object.fromEntries(Object.entries(inner).map(([name, schema]) => [name, walk(schema, true)]))];
    });
    return { ...Object.fromEntries(own), ...(turn ? { [turn]: true } : {}) };
  };
  return walk(raw, false);
};
const turns = fc.array(fc.constantFrom('readOnly', 'writeOnly', '', '', ''), { minLength: 1, maxLength: 8 });

test('what a sender may send is taken where it is called inside, and refused where it is not', () => {
  const samples = fc.sample(values, { numRuns: 300, seed: SEED + 11 });
  fc.assert(
    fc.property(pairs, fc.constantFrom('request', 'response'), fc.boolean(), turns, ([x, y], side, all, list) => {
      const [a, b] = [sided(x, list as never), sided(y, list as never)];
      const [sent, taken] = [schemaFrom(all ? open(a) : a), schemaFrom(b)];
      // What a sender may send by a schema is handled by it.
      for (const value of samples)
        if (isValid(taken, value, side, 'producer'))
          expect([value, isValid(taken, value, side, 'consumer')]).toEqual([value, true]);
      const breaks = (value: unknown): boolean =>
        isValid(sent, value, side, 'producer') && !isValid(taken, value, side, 'consumer');
      const both = [isSubschema(sent, taken, side), containment(newSession(), sent, taken, side)];
      // What is seen at once, pair by pair, is never other than what the search finds.
      expect(new Set(both.map((v) => v.kind).filter((kind) => kind !== 'undecided')).size).toBeLessThan(2);
      for (const verdict of both) {
        if (verdict.kind === 'counterexample')
          expect([verdict.witness, breaks(verdict.witness)]).toEqual([verdict.witness, true]);
        if (verdict.kind === 'contained' && all) expect(samples.find(breaks)).toBe(undefined);
      }
    }),
    { numRuns: PAIRS },
  );
});
