/** What one body is told of another: as a search for a value finds it, for bodies as people write them. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { compareContracts } from '../../../../src/core/compare/compare-contracts.ts';
import { containment, newSession } from '../../../../src/core/compare/relation/session.ts';
import { readContract } from '../../../../src/core/contract/read/read-contract.ts';
import { isSubschema } from '../../../../src/core/schema/search/witness.ts';
import { isValid } from '../../../../src/core/schema/validate/validate.ts';
import { runs } from '../../../runs.ts';
import { schemaFrom } from '../../schemas.ts';

const RUNS = runs(200);

// biome-ignore lint/suspicious/noExplicitAny: schemas are written and changed freely here
type Json = Record<string, any>;

const names = fc.constantFrom('id', 'kind', 'name', 'rise', 'note', 'gate');
const scalar = fc.constantFrom<Json>(
  ...[{ type: 'string' }, { type: 'integer' }, { type: 'integer', maximum: 9 }, { enum: ['a', 'b'] }, { type: 'boolean' }, {}],
  ...[{ type: ['string', 'null'] }, { maxLength: 3 }, { const: 'a' }, { type: 'string', readOnly: true }, { writeOnly: true }],
);
const { schema, object } = fc.letrec<{ schema: Json; object: Json }>((tie) => {
  const inner = fc.oneof({ maxDepth: 2, depthSize: 'small' }, scalar, tie('schema'));
  const rest = fc.constantFrom<Json>(
    ...[{}, {}, {}, {}, { additionalProperties: false }, { additionalProperties: { type: 'string' } }, { minProperties: 1 }],
    ...[{ additionalProperties: { type: 'string', readOnly: true } }, { patternProperties: { '^n': { type: 'integer' } } }],
  );
  const objects = fc
    .tuple(fc.dictionary(names, inner, { maxKeys: 3, noNullPrototype: true }), fc.uniqueArray(names, { maxLength: 2 }), rest)
    .map(([properties, required, more]) => ({ type: 'object', properties, required, ...more }));
  const two = fc.tuple(tie('object'), inner);
  const whole = fc.oneof(
    { maxDepth: 2 },
    tie('object'),
    inner.map((items) => ({ type: 'array', items })),
    two.map((oneOf) => ({ oneOf })),
    two.map((anyOf) => ({ anyOf })),
    fc.tuple(tie('object'), tie('object')).map((allOf) => ({ allOf })),
    fc.tuple(tie('object'), two).map(([base, oneOf]) => ({ allOf: [base, { oneOf }] })),
  );
  return { schema: whole, object: objects };
});

/** All places of a schema that hold one. */
function placesIn(raw: Json): readonly Json[] {
  const inside = [raw.items, ...Object.values(raw.properties ?? {}), ...(raw.oneOf ?? raw.anyOf ?? raw.allOf ?? [])];
  return [raw, ...inside.filter((s) => s !== undefined).flatMap((s) => placesIn(s as Json))];
}

/** One place is another schema, has another property, or needs one. */
const pairs = fc
  .tuple(
    schema,
    fc.nat(),
    fc.constantFrom('other', 'property', 'gone', 'required', 'form'),
    names,
    fc.oneof(schema, scalar),
    object,
  )
  .map(([old, n, how, name, other, form]) => {
    const now = structuredClone(old);
    const all = placesIn(now);
    const place = all[n % all.length] as Json;
    const forms = place.oneOf ?? place.anyOf;
    if (how === 'form' && forms !== undefined) forms.push(form);
    else if (how === 'other' || place.properties === undefined) {
      for (const key of Object.keys(place)) delete place[key];
      Object.assign(place, other);
    } else if (how === 'gone') delete place.properties[name];
    else if (how === 'required') place.required = [...new Set([...place.required, name])];
    else place.properties[name] = other;
    return [old, now] as const;
  });

function changes(old: Json, now: Json, side: 'request' | 'response', was: Json = {}, is: Json = {}) {
  const [a, b] = [
    [old, was],
    [now, is],
  ].map(([s, schemas]) => {
    const content = { 'application/json': { schema: s } };
    const body = side === 'request' ? { requestBody: { content }, responses: { 204: {} } } : { responses: { 200: { content } } };
    const read = readContract(
      { openapi: '3.1.0', info: { title: 'Canal', version: '1' }, paths: { '/locks': { put: body } }, components: { schemas } },
      'c',
    );
    if (!read.ok) throw new Error(read.message);
    return read.contract;
  });
  return compareContracts(a as never, b as never, { versions: [] }).changes;
}

/** What is told of what can come no more, and where it went, is no question of what may come now. */
const OTHER = /response-(?:property-lost|unsendable|paged|wrapped|unwrapped|letter-case)$/u;

test.each(['request', 'response'] as const)('what a %s breaks is told where a value shows it, and nowhere else', (side) => {
  const found = { contained: 0, counterexample: 0, undecided: 0 };
  fc.assert(
    fc.property(pairs, ([old, now]) => {
      const [sent, taken] = side === 'request' ? [old, now] : [now, old];
      const verdict = isSubschema(schemaFrom(sent), schemaFrom(taken), side);
      found[verdict.kind] += 1;
      const told = changes(old, now, side);
      const broken = told.filter((c) => c.effect === 'breaking');
      if (verdict.kind === 'contained') expect(broken.filter((c) => !OTHER.test(c.rule)).map((c) => c.message)).toEqual([]);
      if (verdict.kind === 'counterexample')
        expect(told.some((c) => c.effect === 'breaking' || c.effect === 'undecided' || OTHER.test(c.rule))).toBe(true);
      for (const { witness } of broken) {
        if (witness?.kind !== 'value' || witness.lost !== undefined) continue;
        const [from, to] = (witness.validUnder === 'old' ? [old, now] : [now, old]).map((s) => schemaFrom(s));
        const held = [
          isValid(from as never, witness.body, side, 'producer'),
          isValid(to as never, witness.body, side, 'consumer'),
        ];
        expect([witness.body, ...held]).toEqual([witness.body, true, false]);
      }
    }),
    { numRuns: RUNS },
  );
  expect(Math.min(found.contained, found.counterexample)).toBeGreaterThan(RUNS / 5);
  expect(found.undecided).toBeLessThan(RUNS / 12);
});

const text = { type: 'string' };
const whole = { type: 'integer' };
/** Two forms that a value may both be. */
const alike = { oneOf: [{ required: ['id'] }, { required: ['id'], properties: { kind: {} } }] };
const noted = { type: 'object', required: ['id', 'note'], properties: { id: {}, note: {} } };
const needy = { type: 'object', required: ['gate'], properties: { id: whole } };

test.each([
  [
    'two undeclared names',
    { not: { additionalProperties: { maxLength: 0 } } },
    { additionalProperties: { exclusiveMaximum: -4 } },
  ],
  [
    'a form that declares nothing',
    { type: 'object', oneOf: [{ properties: { id: whole } }, { propertyNames: { not: { const: 'id' } } }] },
    { properties: { note: false } },
  ],
  ['two forms with what another part declares', noted, { allOf: [{ properties: { note: {} } }, alike] }],
  ['two forms with what stands beside the parts', noted, { properties: { note: {} }, allOf: [alike] }],
  [
    'two forms where anything may come',
    { ...needy, required: ['id', 'note'], additionalProperties: {} },
    { additionalProperties: {}, oneOf: [{ required: ['id'] }, { required: ['note'] }] },
  ],
  [
    'a form within a form',
    { anyOf: [needy, { oneOf: [{ type: 'object', required: ['rise'], properties: { id: { type: 'object' } } }, text] }] },
    { anyOf: [needy, { oneOf: [{ type: 'object', required: ['rise'], properties: { id: whole } }, text] }] },
  ],
  [
    'a name that a form within a form declares',
    {
      allOf: [
        { anyOf: [{ type: 'object' }, { oneOf: [{ type: 'object', properties: { kind: { type: 'boolean' } } }, text] }] },
        { type: 'object', properties: { id: text } },
      ],
    },
    { properties: { kind: text } },
  ],
  [
    'a form that explains it and is met by nobody',
    {
      oneOf: [
        { type: 'array', contains: false, minContains: 2 },
        { anyOf: [{ uniqueItems: true }, { prefixItems: [{}, { minLength: 1 }] }] },
      ],
    },
    {
      type: 'array',
      oneOf: [
        { uniqueItems: true, items: { enum: ['', 0] } },
        { anyOf: [{ items: {} }, { contains: { exclusiveMaximum: -4 } }] },
      ],
    },
  ],
  [
    'one value at two places',
    { type: 'array', maxItems: 2 },
    { anyOf: [{ uniqueItems: true }, { prefixItems: [{}], contains: {}, items: { maxLength: 0 } }] },
  ],
])('%s: a value shows it, both ways', (_, sent, taken) => {
  const [a, b] = [schemaFrom(sent), schemaFrom(taken)];
  expect([isSubschema(a, b, 'response').kind, containment(newSession(), a, b, 'response').kind]).toEqual([
    'counterexample',
    'counterexample',
  ]);
});

const ref = (name: string) => ({ $ref: `#/components/schemas/${name}` });
const made = { type: 'string', readOnly: true };
const closed = { additionalProperties: false };
const lock = { properties: { id: { oneOf: [ref('Lock'), ref('Gate')] } } };
const rising = (...forms: string[]) => ({ properties: { rise: { type: 'array' } }, oneOf: forms.map(ref) });
const keeping = (keeper: Json) => ({ properties: { kind: { properties: { keeper } } } });
const never = { allOf: [ref('Lock'), { properties: { rise: { type: 'boolean' } }, required: ['rise'] }] };

function schemasOf(schemas: Json) {
  const read = readContract(
    { openapi: '3.1.0', info: { title: 'Canal', version: '1' }, paths: {}, components: { schemas } },
    'c',
  );
  if (!read.ok) throw new Error(read.message);
  return read.contract.schemas;
}

/** Documents whose bodies refer to each other, in which something is wrong with `Lock`. */
test.each<readonly ['request' | 'response', string, Json, Json]>([
  [
    'request',
    'a reference to a reference is sent now',
    { Lock: { properties: { name: ref('Name') }, required: ['name'] }, Name: ref('Id'), Id: made },
    { Lock: { properties: { name: ref('Name') }, required: ['name'] }, Name: ref('Id'), Id: text },
  ],
  [
    'response',
    'a form leads back to what it would explain',
    { Lock: lock, Gate: closed },
    { Lock: lock, Gate: { ...closed, oneOf: [{}, {}] } },
  ],
  [
    'response',
    'what is lost could never come',
    { Lock: rising('Vessel'), Gate: never, Vessel: { type: 'object', ...keeping({ allOf: [ref('Gate')] }) } },
    {
      Lock: rising('Basin', 'Vessel'),
      Basin: { allOf: [{ required: ['at'] }] },
      Vessel: keeping(ref('Toll')),
      Toll: { properties: { at: { oneOf: [ref('Lock')] } }, required: ['at'] },
    },
  ],
  [
    'request',
    'two forms may come together, each of which another takes',
    { Lock: { anyOf: [{ properties: { gate: ref('Toll') } }, { properties: { note: { items: ref('Toll') } } }] }, Toll: {} },
    { Lock: { anyOf: [{ properties: { gate: ref('Toll') } }, { properties: { note: { items: ref('Toll') } } }] }, Toll: text },
  ],
])('of a %s it is told when %s', (side, _, old, now) => {
  const told = changes(ref('Lock'), ref('Lock'), side, old, now);
  expect(told.some((c) => c.effect === 'breaking' || c.effect === 'undecided')).toBe(true);
});

test('what is said of lists touches no object, and what is said of properties no list', () => {
  const object = { type: 'object', items: ref('Gate') };
  const list = { type: ['array', 'null'], properties: { id: ref('Gate') } };
  for (const one of [object, list])
    for (const more of [{}, { maxLength: 3, maxItems: 3 }]) {
      const [old, now] = [
        { Lock: { ...one, ...more }, Gate: text },
        { Lock: one, Gate: whole },
      ].map(schemasOf);
      const pair = newSession().directions.request.web.nodeFor(old?.get('Lock') as never, now?.get('Lock') as never);
      expect([one, more, pair.isRefuted]).toEqual([one, more, false]);
    }
});

test('a body that nobody can send is touched by nothing', () => {
  const takes = (name: string) => ({ put: { requestBody: { content: { 'application/json': { schema: ref(name) } } } } });
  const lock = { type: 'object', properties: { at: ref('Lock'), gate: ref('Gate') }, required: ['at'] };
  const [old, now] = [{}, text].map((gate) => {
    const paths = { '/gates': takes('Gate'), '/locks': takes('Lock') };
    const schemas = { Lock: lock, Gate: gate };
    const read = readContract({ openapi: '3.1.0', info: { title: 'Canal', version: '1' }, paths, components: { schemas } }, 'c');
    return read.ok ? read.contract : undefined;
  });
  const [only, ...more] = compareContracts(old as never, now as never, { versions: [] }).changes;
  expect([only?.touches.flat().map((t) => t.path), more]).toEqual([['/gates'], []]);
});
