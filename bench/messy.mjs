/**
 * Made-up OpenAPI documents as they are found in the wild: inheritance, unions with and without discriminators, maps,
 * patterns, inline objects, references to responses and parameters, circles, several media types, words everywhere.
 */
import { random } from './generate.mjs';

const KINDS = ['Lock', 'Passage', 'Vessel', 'Basin', 'Berth', 'Stoppage', 'Toll', 'Keeper', 'Quote', 'Notice'];
const FIELDS = ['state', 'name', 'rise', 'note', 'opened', 'berths', 'keeper', 'length', 'beam', 'draught', 'since', 'until'];
const COMMON = ['id', 'name', 'note'];
const PARTS = [
  'gate',
  'toll',
  'rise',
  'water',
  'basin',
  'pound',
  'keeper',
  'crew',
  'mast',
  'hull',
  'paddle',
  'sluice',
  'quay',
  'tow',
];
const ASPECTS = ['id', 'state', 'count', 'since', 'until', 'level', 'code', 'notes', 'list', 'owner', 'rate', 'class'];
const PATTERNS = [
  '^[A-Z]{2}-[0-9]{4}$',
  '^\\d{4}-\\d{2}$',
  '^(?!TE-0)[A-Z]{2}-\\d+$',
  '[a-z]+',
  '^/.*',
  '^[\\w.+-]+$',
  '^\\p{L}+$',
];
const FORMATS = ['date-time', 'date', 'uuid', 'uri', 'email', 'byte', 'binary', 'password', 'ipv4', 'hostname', 'mooring'];

/** `edition` is 3.0.3 or 3.1.0; `changed` the share of components of which something is another. */
export function messy({ components = 400, paths = 80, seed = 7, changed = 0, edition = '3.1.0' } = {}) {
  const next = random(seed);
  const differ = random(seed * 31 + 1);
  const pick = (list) => list[Math.floor(next() * list.length)];
  const chance = (p) => next() < p;
  const newer = edition.startsWith('3.1');
  const names = Array.from({ length: components }, (_, i) => `${KINDS[i % KINDS.length]}${i}`);
  const words = () => Array.from({ length: 3 + Math.floor(next() * 12) }, () => pick(FIELDS)).join(' ');
  const ref = (from = 0) => ({ $ref: `#/components/schemas/${names[from + Math.floor(next() * (names.length - from))]}` });
  const nullable = (schema) => {
    if (!chance(0.15)) return schema;
    if (!newer) return { ...schema, nullable: true };
    return typeof schema.type === 'string' && schema.enum === undefined
      ? { ...schema, type: [schema.type, 'null'] }
      : { anyOf: [schema, { type: 'null' }] };
  };
  const scalar = () => {
    const kind = Math.floor(next() * 8);
    if (kind === 0)
      return { type: 'integer', format: pick(['int32', 'int64']), ...(chance(0.4) ? { minimum: 0, maximum: 100 } : {}) };
    if (kind === 1) return { type: 'number', ...(chance(0.3) ? { multipleOf: 0.01, minimum: 0 } : {}) };
    if (kind === 2) return { type: 'boolean', ...(chance(0.3) ? { default: false } : {}) };
    if (kind === 3)
      return { type: 'string', enum: ['open', 'closed', `mode-${Math.floor(next() * 9)}`].slice(0, 1 + Math.floor(next() * 3)) };
    if (kind === 4) return { type: 'string', format: pick(FORMATS) };
    if (kind === 5) return { type: 'string', pattern: pick(PATTERNS), ...(chance(0.3) ? { maxLength: 20 } : {}) };
    if (kind === 6 && newer) return { const: pick(FIELDS) };
    return {
      type: 'string',
      ...(chance(0.4) ? { minLength: 1, maxLength: 5 + Math.floor(next() * 200) } : {}),
      example: words(),
    };
  };
  const property = (depth) => {
    const kind = next();
    const text = chance(0.7) ? { description: words() } : {};
    if (kind < 0.5)
      return { ...nullable(scalar()), ...text, ...(chance(0.05) ? { readOnly: true } : chance(0.03) ? { writeOnly: true } : {}) };
    if (kind < 0.62) return newer && chance(0.3) ? { ...ref(), ...text } : ref();
    if (kind < 0.74)
      return {
        type: 'array',
        items: chance(0.6) ? ref() : scalar(),
        ...(chance(0.2) ? { maxItems: 50, uniqueItems: chance(0.3) } : {}),
        ...text,
      };
    if (kind < 0.8) return { type: 'object', additionalProperties: chance(0.5) ? scalar() : chance(0.5) ? ref() : true, ...text };
    if (kind < 0.85) return { allOf: [ref()], ...text, ...(newer ? {} : { nullable: true }) };
    if (kind < 0.9) return { [pick(['oneOf', 'anyOf'])]: [ref(), ref(), ...(chance(0.4) ? [scalar()] : [])], ...text };
    if (kind < 0.92) return { type: 'object', ...text };
    if (kind < 0.93) return {};
    return depth > 2 ? scalar() : { ...object(depth + 1), ...text };
  };
  const object = (depth = 0) => {
    const named = Array.from(
      { length: 1 + Math.floor(next() * (depth === 0 ? 10 : 4)) },
      () => `${pick(PARTS)}_${pick(ASPECTS)}`,
    );
    const own = [...new Set([...COMMON.filter(() => chance(0.4)), ...named])];
    const properties = Object.fromEntries(own.map((f) => [f, property(depth)]));
    return {
      ...(chance(0.9) ? { type: 'object' } : {}),
      ...(chance(0.6) && own.length > 0 ? { required: own.filter((f) => isPlain(properties[f]) && chance(0.6)) } : {}),
      properties,
      ...(chance(0.15) ? { additionalProperties: false } : chance(0.1) ? { additionalProperties: true } : {}),
    };
  };
  const component = (i) => {
    const kind = next();
    if (kind < 0.62) return { title: names[i], description: words(), ...object() };
    if (kind < 0.74) return { description: words(), allOf: [ref(Math.min(i + 1, names.length - 1)), object(1)] };
    if (kind < 0.8) {
      const forms = Array.from({ length: 2 + Math.floor(next() * 4) }, (_, n) => ({
        type: 'object',
        required: ['kind'],
        properties: { kind: { type: 'string', enum: [`k${n}`] }, ...object(1).properties },
      }));
      return { oneOf: forms, discriminator: { propertyName: 'kind' } };
    }
    if (kind < 0.84) return { oneOf: [ref(), ref(), ref()] };
    if (kind < 0.9) return { ...scalar(), description: words() };
    if (kind < 0.95) return { type: 'array', items: ref() };
    return { ...object(), anyOf: [{ required: ['id'] }, { required: ['name'] }] };
  };
  const schemas = Object.fromEntries(names.map((name, i) => [name, component(i)]));
  for (const name of names) if (differ() < changed) change(schemas[name], differ);
  const json = (schema) => ({ 'application/json': { schema } });
  const problem = { description: 'A problem', content: { 'application/problem+json': { schema: ref() } } };
  const items = {};
  for (let i = 0; i < paths; i++) {
    const list = {
      type: 'object',
      properties: { items: { type: 'array', items: ref() }, next: { type: 'string', nullable: newer ? undefined : true } },
    };
    const form = {
      'multipart/form-data': {
        schema: { type: 'object', properties: { file: { type: 'string', format: 'binary' }, name: scalar() } },
      },
    };
    const item = `/v1/${pick(KINDS).toLowerCase()}s-${i}`;
    items[item] = {
      get: {
        operationId: `list${i}`,
        summary: words(),
        tags: [pick(KINDS)],
        parameters: [
          { $ref: '#/components/parameters/Limit' },
          { name: 'state', in: 'query', style: 'form', explode: chance(0.5), schema: { type: 'array', items: scalar() } },
        ],
        responses: {
          200: { description: words(), headers: { 'X-Total': { schema: { type: 'integer' } } }, content: json(list) },
          default: { $ref: '#/components/responses/Problem' },
        },
      },
      post: {
        operationId: `create${i}`,
        description: words(),
        requestBody: { required: true, content: { ...json(ref()), ...(chance(0.3) ? form : {}) } },
        responses: { 201: { description: words(), content: json(ref()) }, 400: { $ref: '#/components/responses/Problem' } },
        ...(chance(0.1) ? { deprecated: true } : {}),
      },
    };
    items[`${item}/{thingId}`] = {
      parameters: [
        {
          name: 'thingId',
          in: 'path',
          required: true,
          schema: pick([{ type: 'integer' }, { type: 'string', format: 'uuid' }, { type: 'string' }]),
        },
      ],
      get: {
        operationId: `read${i}`,
        responses: { 200: { description: words(), content: json(ref()) }, 404: { $ref: '#/components/responses/Problem' } },
      },
      patch: {
        operationId: `modify${i}`,
        requestBody: { content: { 'application/merge-patch+json': { schema: ref() } } },
        responses: { 200: { description: words(), content: json(ref()) }, '4XX': problem },
      },
      delete: { operationId: `delete${i}`, responses: { 204: { description: 'Gone' } } },
    };
  }
  return {
    openapi: edition,
    info: { title: 'Everything', version: '1.0.0', description: words() },
    servers: [{ url: 'https://desk.example/api' }],
    paths: JSON.parse(JSON.stringify(items)),
    components: {
      schemas: JSON.parse(JSON.stringify(schemas)),
      parameters: { Limit: { name: 'limit', in: 'query', schema: { type: 'integer', maximum: 100, default: 20 } } },
      responses: { Problem: problem },
    },
  };
}

function isPlain(schema) {
  return schema.$ref === undefined && schema.allOf === undefined && schema.oneOf === undefined && schema.anyOf === undefined;
}

/** One thing in a component is another, wherever it stands in it. */
function change(component, next) {
  const all = [];
  const collect = (node) => {
    if (typeof node !== 'object' || node === null) return;
    if (!Array.isArray(node) && ['properties', 'type', 'enum', 'maximum', 'pattern', 'format', 'const'].some((k) => k in node))
      all.push(node);
    for (const value of Object.values(node)) collect(value);
  };
  collect(component);
  if (all.length === 0) return;
  const schema = all[Math.floor(next() * all.length)];
  if (schema.properties !== undefined && typeof schema.properties === 'object') {
    const own = Object.keys(schema.properties);
    const turn = next();
    if (turn < 0.4) schema.properties.fresh = { type: 'string' };
    else if (turn < 0.7 && own.length > 0) {
      delete schema.properties[own[0]];
      if (Array.isArray(schema.required)) schema.required = schema.required.filter((n) => n !== own[0]);
    } else schema.required = [...new Set([...(Array.isArray(schema.required) ? schema.required : []), ...own.slice(0, 2)])];
  } else if (Array.isArray(schema.enum))
    schema.enum = next() < 0.5 ? [...schema.enum, 'moored'] : schema.enum.slice(1).concat('lost');
  else if (schema.maximum !== undefined) schema.maximum += next() < 0.5 ? 1 : -1;
  else if (schema.pattern !== undefined) schema.pattern = '^[a-z]*$';
  else if (schema.type === 'string') schema.maxLength = 40;
  else if (schema.type === 'integer') schema.type = 'number';
  else schema.type = 'string';
}
