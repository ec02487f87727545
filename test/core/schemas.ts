/** Random schemas over few names and values, so that keywords meet, and values that nearly fit them. */
import fc from 'fast-check';
import { newReader } from '../../src/core/contract/document/document.ts';
import { schemaAt } from '../../src/core/contract/read-schema/read-schema.ts';
import type { Schema } from '../../src/core/schema/model/schema.ts';

const NAMES = ['lockId', 'name', 'gates', 'x-1'];
const scalar = fc.oneof(
  fc.constantFrom(0, 1, 2, 3.5, 0.3, -4, 7, 100),
  fc.constantFrom('', 'a', 'elm', 'TE-4821', '2027-03-14', '7'),
  fc.boolean(),
  fc.constant(null),
);

export const values: fc.Arbitrary<unknown> = fc.letrec((tie) => ({
  any: fc.oneof(
    { maxDepth: 3, depthSize: 'small' },
    scalar,
    fc.array(tie('any'), { maxLength: 4 }),
    fc.dictionary(fc.constantFrom(...NAMES), tie('any'), { maxKeys: 4, noNullPrototype: true }),
  ),
})).any as fc.Arbitrary<unknown>;

const small = fc.integer({ min: 0, max: 3 });
const number = fc.constantFrom(-4, 0, 0.1, 0.3, 1, 2, 3, 7);
const optional = <T>(model: { [K in keyof T]: fc.Arbitrary<T[K]> }): fc.Arbitrary<Partial<T>> =>
  fc.record(model, { requiredKeys: [] }) as never;
const TYPES = ['null', 'boolean', 'integer', 'number', 'string', 'array', 'object'] as const;

/** `deep` adds the keywords that combine schemas. */
const rawSchemas = (without: readonly string[]): fc.Arbitrary<unknown> =>
  fc.letrec((tie) => {
    const sub = tie('any');
    const list = fc.array(sub, { minLength: 1, maxLength: 3 });
    const names = fc.uniqueArray(fc.constantFrom(...NAMES), { maxLength: 2 });
    const all = {
      properties: fc.dictionary(fc.constantFrom(...NAMES), sub, { maxKeys: 3, noNullPrototype: true }),
      required: names,
      additionalProperties: sub,
      patternProperties: fc.dictionary(fc.constantFrom('^n', 'e', '^x-'), sub, { maxKeys: 2, noNullPrototype: true }),
      propertyNames: fc.record({ pattern: fc.constantFrom('^[a-z]', 'e') }),
      minProperties: small,
      maxProperties: small,
      dependentRequired: fc.dictionary(fc.constantFrom(...NAMES), names, { maxKeys: 1, noNullPrototype: true }),
      dependentSchemas: fc.dictionary(fc.constantFrom(...NAMES), sub, { maxKeys: 1, noNullPrototype: true }),
      items: sub,
      prefixItems: list,
      contains: sub,
      minContains: small,
      maxContains: small,
      minItems: small,
      maxItems: small,
      uniqueItems: fc.boolean(),
      unevaluatedProperties: sub,
      unevaluatedItems: sub,
      allOf: list,
      anyOf: list,
      oneOf: list,
      not: sub,
      if: sub,
      // biome-ignore lint/suspicious/noThenProperty: the keyword of JSON Schema
      then: sub,
      else: sub,
    };
    const used = Object.fromEntries(Object.entries(all).filter(([key]) => !without.includes(key))) as unknown as typeof all;
    const scalars = optional({
      type: fc.oneof(fc.constantFrom(...TYPES), fc.uniqueArray(fc.constantFrom(...TYPES), { minLength: 1, maxLength: 3 })),
      enum: fc.array(scalar, { minLength: 1, maxLength: 4 }),
      minimum: number,
      maximum: number,
      exclusiveMinimum: number,
      exclusiveMaximum: number,
      multipleOf: fc.constantFrom(0.1, 0.5, 1, 2, 3),
      minLength: small,
      maxLength: small,
      pattern: fc.constantFrom('^[a-z]+$', '[0-9]', '^TE-', 'e|m'),
      format: fc.constantFrom('date', 'uuid', 'email', 'x-unknown'),
    });
    const few = <T extends object>(record: fc.Arbitrary<T>, most: number): fc.Arbitrary<Partial<T>> =>
      fc.tuple(record, fc.array(fc.nat(), { minLength: 30, maxLength: 30 })).map(([r, turns]) => {
        const keys = Object.keys(r);
        for (const turn of turns) if (keys.length > most) keys.splice(turn % keys.length, 1);
        return Object.fromEntries(keys.map((k) => [k, r[k as keyof T]])) as Partial<T>;
      });
    const deep = few(optional(used), 3);
    return {
      any: fc.oneof(
        { maxDepth: 2, depthSize: 'small' },
        few(scalars, 2),
        fc.boolean(),
        fc.tuple(few(scalars, 1), deep).map(([a, b]) => ({ ...a, ...b })),
        fc.tuple(fc.constantFrom('object', 'array'), deep).map(([type, b]) => ({ type, ...b })),
      ),
    };
  }).any as fc.Arbitrary<unknown>;

/**
 * Unevaluated keywords, and `contains` beside `prefixItems`, are left out: there the other validator counts what failing
 * alternatives looked at, and lets an empty list pass (against Core 11.3 and 10.3.1.3).
 */
export const schemas = fc.oneof(
  rawSchemas(['unevaluatedProperties', 'unevaluatedItems', 'prefixItems']),
  rawSchemas(['unevaluatedProperties', 'unevaluatedItems', 'contains', 'minContains', 'maxContains']),
);
/** With every keyword. */
export const allSchemas = rawSchemas([]);
/** Without the keywords that may be undecided. */
export const plainSchemas = rawSchemas(['contains', 'minContains', 'maxContains', 'unevaluatedItems', 'unevaluatedProperties']);

/** A raw schema of 3.1 as a node. */
export function schemaFrom(raw: unknown, file = 'canal.openapi.yaml'): Schema {
  const reader = newReader({ openapi: '3.1.0', raw }, file, '3.1', () => 'no other file');
  return schemaAt(reader, { value: raw, file, pointer: '/raw' }) as Schema;
}
