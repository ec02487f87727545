/** Whole documents: written in another way nothing changes, and every change that breaks is found. */

import Ajv2020 from 'ajv/dist/2020.js';
import addFormats from 'ajv-formats';
import fc from 'fast-check';
import { dump, load } from 'js-yaml';
import { expect, test } from 'vitest';
import type { Change } from '../../../src/core/compare/changes/change.ts';
import { compareContracts } from '../../../src/core/compare/compare-contracts.ts';
import type { Contract } from '../../../src/core/contract/model/contract.ts';
import { readContract } from '../../../src/core/contract/read/read-contract.ts';
import { runs } from '../../runs.ts';

// biome-ignore lint/suspicious/noExplicitAny: documents are written and rewritten freely here
type Json = Record<string, any>;
type Random = (n: number) => number;

const RUNS = runs(40);
const copy = <T>(value: T): T => JSON.parse(JSON.stringify(value));

/** A document of 3.0 in which every component is sent and answered. */
function documentOf(random: Random): Json {
  const names = Array.from({ length: 3 + random(4) }, (_, i) => `Thing${i}`);
  const property = (i: number): Json => {
    const kind = random(10);
    if (kind === 0) return { type: 'integer', minimum: random(5), maximum: 10 + random(90) };
    if (kind === 1) return { type: 'string', maxLength: 4 + random(20), nullable: random(2) === 0 };
    if (kind === 2) return { type: 'string', enum: ['open', 'closed', `mode${random(3)}`] };
    if (kind === 3)
      return {
        type: 'array',
        items: random(2) === 0 ? { type: 'number' } : { $ref: `#/components/schemas/${names[random(names.length)]}` },
      };
    if (kind === 4)
      return { type: 'object', required: ['at'], properties: { at: { type: 'string', format: 'date' }, by: { type: 'string' } } };
    // Only to later ones, so that every value ends.
    if (kind === 5 && i + 1 < names.length)
      return { $ref: `#/components/schemas/${names[i + 1 + random(names.length - i - 1)]}` };
    if (kind === 6)
      return {
        oneOf: [
          { type: 'object', required: ['a'], properties: { a: { type: 'integer' } } },
          { type: 'object', required: ['b'], properties: { b: { type: 'string' } } },
        ],
      };
    if (kind === 7) return { type: 'object', additionalProperties: property(i) };
    const part = (name: string): Json => ({ type: 'object', required: [], properties: { [name]: property(i) } });
    if (kind === 8) return { allOf: [part('at'), part('by')] };
    return { type: 'number', minimum: 0, exclusiveMinimum: random(2) === 0 };
  };
  const schemas: Json = {};
  names.forEach((name, i) => {
    const properties: Json = {};
    for (const p of ['state', 'name', 'rise', 'note'].slice(0, 2 + random(3))) properties[p] = property(i);
    schemas[name] = { type: 'object', required: Object.keys(properties).slice(0, 1 + random(2)), properties };
  });
  const body = (name: string): Json => ({ 'application/json': { schema: { $ref: `#/components/schemas/${name}` } } });
  const paths: Json = {};
  for (const name of names)
    paths[`/canal/${name.toLowerCase()}/{id}`] = {
      parameters: [{ name: 'id', in: 'path', required: true, schema: { type: 'integer', minimum: 1 } }],
      put: {
        parameters: [{ name: 'limit', in: 'query', schema: { type: 'integer', maximum: 50 } }],
        requestBody: { required: true, content: body(name) },
        responses: { 200: { description: 'Done', content: body(name) }, 404: { description: 'None' } },
      },
    };
  return { openapi: '3.0.3', info: { title: 'Canal', version: '1.0.0' }, paths, components: { schemas } };
}

/** Every schema of a document, outermost first, with what holds it. */
function* schemasIn(node: unknown, inSchema = false): Generator<{ holder: Json; key: string }> {
  if (typeof node !== 'object' || node === null) return;
  for (const [key, value] of Object.entries(node)) {
    const named = ['schema', 'items', 'additionalProperties'].includes(key) || inSchema;
    if (named && typeof value === 'object' && !Array.isArray(value)) yield { holder: node as Json, key };
    yield* schemasIn(value, ['properties', 'schemas', 'oneOf', 'allOf'].includes(key));
  }
}

const pick = <T>(list: readonly T[], random: Random): T => list[random(list.length)] as T;
const anySchema = (d: Json, random: Random, fits: (s: Json) => boolean): { holder: Json; key: string } | undefined => {
  const all = [...schemasIn(d)].filter(({ holder, key }) => fits(holder[key]));
  return all.length === 0 ? undefined : pick(all, random);
};
const shuffled = (value: unknown, random: Random): unknown => {
  if (Array.isArray(value)) return value.map((v) => shuffled(v, random));
  if (typeof value !== 'object' || value === null) return value;
  const keys = Object.entries(value).map(([k, v]) => [random(1000), k, shuffled(v, random)] as const);
  return Object.fromEntries(keys.sort((a, b) => a[0] - b[0]).map(([, k, v]) => [k, v]));
};

/** The same, said in another way. Each changes the document in place, or returns another. */
const REWRITES: Readonly<Record<string, (d: Json, random: Random) => Json | undefined>> = {
  inlined: (d, random) => {
    const at = anySchema(d, random, (s) => s.$ref !== undefined);
    if (at !== undefined) at.holder[at.key] = copy(d.components.schemas[at.holder[at.key].$ref.split('/').pop()]);
    return undefined;
  },
  extracted: (d, random) => {
    const at = anySchema(d, random, (s) => s.$ref === undefined);
    if (at === undefined) return undefined;
    d.components.schemas.Extracted = at.holder[at.key];
    at.holder[at.key] = { $ref: '#/components/schemas/Extracted' };
    return undefined;
  },
  split: (d, random) => {
    const at = anySchema(d, random, (s) => s.properties !== undefined);
    if (at === undefined) return undefined;
    const { properties, required, ...rest } = at.holder[at.key];
    const names = Object.keys(properties);
    const part = (keep: readonly string[]): Json => ({
      type: 'object',
      properties: Object.fromEntries(keep.map((n) => [n, properties[n]])),
    });
    at.holder[at.key] = { ...rest, allOf: [part(names.slice(0, 1)), { ...part(names.slice(1)), required }] };
    return undefined;
  },
  wrapped: (d, random) => {
    const at = anySchema(d, random, () => true);
    if (at !== undefined)
      at.holder[at.key] = { [pick(['allOf', 'anyOf', 'oneOf'], random)]: [at.holder[at.key]], description: 'The same.' };
    return undefined;
  },
  reordered: (d, random) => shuffled(d, random) as Json,
  'components renamed': (d) => JSON.parse(JSON.stringify(d).replaceAll(/Thing(?=\d+")/gu, 'Item')),
  'parameters renamed': (d) =>
    JSON.parse(JSON.stringify(d).replaceAll('{id}', '{thingId}').replaceAll('"name":"id"', '"name":"thingId"')),
  'as 3.1': (d) => {
    const newer = copy(d);
    newer.openapi = '3.1.0';
    for (const { holder, key } of schemasIn(newer)) {
      const s = holder[key];
      const { nullable, exclusiveMinimum } = s;
      delete s.nullable;
      delete s.exclusiveMinimum;
      if (nullable === true) s.type = [s.type, 'null'];
      if (exclusiveMinimum === true) {
        s.exclusiveMinimum = s.minimum;
        delete s.minimum;
      }
      if (s.enum?.length === 1) {
        s.const = s.enum[0];
        delete s.enum;
      }
    }
    return newer;
  },
  'as YAML': (d) => load(dump(d)) as Json,
  'in files': (d) => JSON.parse(JSON.stringify(d).replaceAll('"#/components/schemas/', '"parts.yaml#/components/schemas/')),
};

/** What breaks clients. */
const BREAKS: Readonly<Record<string, (d: Json, random: Random) => boolean>> = {
  'a property is required': (d, random) => {
    const at = anySchema(d, random, (s) => s.properties !== undefined);
    at?.holder[at.key].required.push('fresh');
    if (at !== undefined) at.holder[at.key].properties.fresh = { type: 'string' };
    return at !== undefined;
  },
  'a property is gone': (d, random) => {
    const at = anySchema(d, random, (s) => Object.keys(s.properties ?? {}).length > 1);
    if (at === undefined) return false;
    const s = at.holder[at.key];
    const [name] = Object.keys(s.properties) as [string];
    delete s.properties[name];
    s.required = s.required.filter((n: string) => n !== name);
    return true;
  },
  'a type is another': (d, random) => {
    const at = anySchema(d, random, (s) => s.type === 'number' || s.type === 'string');
    if (at !== undefined) at.holder[at.key] = { type: 'boolean' };
    return at !== undefined;
  },
  'a member is gone': (d, random) => {
    const at = anySchema(d, random, (s) => s.enum?.length > 1);
    at?.holder[at.key].enum.shift();
    return at !== undefined;
  },
  'a member is new': (d, random) => {
    const at = anySchema(d, random, (s) => s.enum !== undefined);
    at?.holder[at.key].enum.push('seized');
    return at !== undefined;
  },
  'a bound is tighter': (d, random) => {
    const at = anySchema(d, random, (s) => s.maximum !== undefined);
    if (at !== undefined) at.holder[at.key].maximum -= 1;
    return at !== undefined;
  },
  'an operation is gone': (d, random) => {
    delete d.paths[pick(Object.keys(d.paths), random)];
    return true;
  },
  'a status is gone': (d, random) => {
    const { put } = d.paths[pick(Object.keys(d.paths), random)];
    put.responses = { 202: { description: 'Later' } };
    return true;
  },
  'a media type is gone': (d, random) => {
    const { put } = d.paths[pick(Object.keys(d.paths), random)];
    put.requestBody.content = { 'application/xml': put.requestBody.content['application/json'] };
    return true;
  },
  'a parameter is required': (d, random) => {
    d.paths[pick(Object.keys(d.paths), random)].put.parameters[0].required = true;
    return true;
  },
  'security is needed': (d, random) => {
    d.components.securitySchemes = { login: { type: 'http', scheme: 'bearer' } };
    d.paths[pick(Object.keys(d.paths), random)].put.security = [{ login: [] }];
    return true;
  },
};

function contractOf(value: Json, parts: Json): Contract {
  const read = readContract(copy(value), 'canal.json', (name) =>
    name === 'parts.yaml' ? { file: name, value: copy(parts) } : 'no such file',
  );
  if (!read.ok) throw new Error(read.message);
  return read.contract;
}

const random = fc.infiniteStream(fc.nat(1 << 20)).map(
  (stream): Random =>
    (n) =>
      Number(stream.next().value) % n,
);

test.each(Object.keys(REWRITES))('%s: nothing changed', (name) => {
  fc.assert(
    fc.property(random, (next) => {
      const old = documentOf(next);
      const now = copy(old);
      const rewritten = REWRITES[name]?.(now, next) ?? now;
      const { changes, verdict } = compareContracts(contractOf(old, old), contractOf(rewritten, old), { versions: [] });
      expect(changes.map((c) => `${c.effect} ${c.rule} ${c.value} ${c.undecided}`)).toEqual([]);
      expect(['none', 'patch']).toContain(verdict);
    }),
    { numRuns: RUNS },
  );
});

test.each(Object.keys(BREAKS))('%s: it is found', (name) => {
  fc.assert(
    fc.property(random, (next) => {
      const old = documentOf(next);
      const now = copy(old);
      fc.pre(BREAKS[name]?.(now, next) === true);
      const { changes, verdict } = compareContracts(contractOf(old, old), contractOf(now, old), { versions: [] });
      expect(verdict).toBe('major');
      expect(changes.filter((c) => c.effect === 'breaking').every((c) => c.witness !== undefined)).toBe(true);
      expect(changes.filter((c) => c.effect === 'undecided')).toEqual([]);
    }),
    { numRuns: RUNS },
  );
});

test('every property that is gone is told by its name', () => {
  fc.assert(
    fc.property(random, (next) => {
      const old = documentOf(next);
      const now = copy(old);
      const at = anySchema(now, next, (s) => Object.keys(s.properties ?? {}).length > 2);
      fc.pre(at !== undefined);
      const schema = at?.holder[at.key];
      const gone = Object.keys(schema.properties).slice(0, 2);
      for (const name of gone) delete schema.properties[name];
      schema.required = schema.required.filter((n: string) => !gone.includes(n));
      const { changes } = compareContracts(contractOf(old, old), contractOf(now, old), { versions: [] });
      const lost = changes.filter((c) => c.rule === 'versions/response-property-lost').map((c) => c.value?.split('/').at(-1));
      expect(lost).toEqual(expect.arrayContaining(gone));
    }),
    { numRuns: RUNS },
  );
});

/** The same schemas, but inside a list inside an object, wherever a body is described. */
function buried(d: Json): Json {
  const out = copy(d);
  for (const { put } of Object.values<Json>(out.paths)) {
    for (const { content } of [put.requestBody, put.responses[200]]) {
      const deep = { type: 'object', properties: { inner: content['application/json'].schema } };
      content['application/json'].schema = { type: 'object', properties: { kept: { type: 'array', items: deep } } };
    }
  }
  return out;
}

/** Components lead back to those that they stand in; where that has to be there, and in circles, nothing can be sent at all. */
function circular(d: Json, random: Random): Json {
  const out = copy(d);
  const names = Object.keys(out.components.schemas);
  for (const name of names) {
    const back = { $ref: `#/components/schemas/${pick(names, random)}` };
    out.components.schemas[name].properties.back = random(2) === 0 ? back : { type: 'array', items: back };
    if (random(4) === 0) out.components.schemas[name].required.push('back');
  }
  return out;
}

const BODY_BREAKS = Object.keys(BREAKS).slice(0, 6);
const changed = fc
  .tuple(random, fc.array(fc.constantFrom(...BODY_BREAKS), { minLength: 1, maxLength: 4 }))
  .map(([next, names]) => {
    const old = circular(REWRITES['as 3.1']?.(documentOf(next), next) as Json, next);
    const now = copy(old);
    for (const name of names) BREAKS[name]?.(now, next);
    return { old, now };
  });
const compared = (old: Json, now: Json): readonly Change[] =>
  compareContracts(contractOf(old, old), contractOf(now, now), { versions: [] }).changes.filter((c) => c.at.part !== 'parameter');
/** What changed and whom it touches; `more` is what stands around a body. */
const told = (changes: readonly Change[], more = ''): readonly string[] =>
  changes
    .map((c) => {
      const where = c.touches
        .flat()
        .map((a) => `${a.method} ${a.path} ${a.part}`)
        .sort();
      const inner = more === '' ? '' : c.value?.startsWith(more);
      return JSON.stringify([c.effect, c.rule, c.old?.pointer, c.new?.pointer, where, inner]);
    })
    .sort();

test('a change is found wherever it stands, and told of all that it touches', () => {
  fc.assert(
    fc.property(changed, ({ old, now }) => {
      const plain = compared(old, now);
      expect(told(compared(buried(old), buried(now)), '/kept/0/inner')).toEqual(
        told(plain).map((t) => t.replace(/""\]$/u, 'true]')),
      );
      // Where texts can't be held against each other as they stand every pair is looked at by itself.
      expect(told(compared({ ...old, openapi: '3.0.3' }, now))).toEqual(told(plain));
    }),
    { numRuns: RUNS / 2 },
  );
});

test('a body that shows a change fits one version and not the other, as another validator sees them', () => {
  const ajv = new Ajv2020.default({ strict: false, logger: false });
  addFormats.default(ajv);
  fc.assert(
    fc.property(changed, ({ old, now }) => {
      for (const { at, witness } of compared(old, now)) {
        if (witness?.kind !== 'value' || witness.lost !== undefined) continue;
        const judge = (d: Json): boolean => {
          const { put } = d.paths[at.path];
          const { content } = at.part === 'request' ? put.requestBody : put.responses[at.status as string];
          ajv.removeSchema();
          return ajv.validate({ ...content['application/json'].schema, components: d.components }, witness.body);
        };
        const [first, second] = witness.validUnder === 'old' ? [old, now] : [now, old];
        expect([witness.body, judge(first), judge(second)]).toEqual([witness.body, true, false]);
      }
    }),
    { numRuns: RUNS / 2 },
  );
});
