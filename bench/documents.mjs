/** Made-up OpenAPI documents of any size, as large services have them: shared components, deep objects, long texts. */
import { random } from './generate.mjs';

const KINDS = ['Lock', 'Passage', 'Vessel', 'Basin', 'Berth', 'Stoppage', 'Toll', 'Keeper'];
const FIELDS = ['state', 'name', 'rise', 'note', 'opened', 'berths', 'keeper', 'length', 'beam', 'draught', 'since', 'until'];

/**
 * A document of about `megabytes` of JSON with `paths` paths; `changed` is the share of schemas that have one property more,
 * `broken` the share of those that are changed in ways that mostly break clients.
 */
export function document(megabytes, paths = 800, { seed = 7, changed = 0, broken = 0, description = 300 } = {}) {
  const next = random(seed);
  const differ = random(seed * 31 + 1);
  const pick = (list) => list[Math.floor(next() * list.length)];
  const words = (n) =>
    Array.from({ length: Math.ceil(n / 8) }, () => pick(FIELDS))
      .join(' ')
      .slice(0, n);
  const base = random(99);
  const schemas = {};
  const size = () => Object.keys(schemas).length;
  const perSchema = 9 * (description / 2 + 90);
  const count = Math.max(16, Math.round((megabytes * 1e6 - paths * 2_600) / perSchema));
  const names = Array.from({ length: count }, (_, i) => `${KINDS[i % KINDS.length]}${i}`);
  const property = (i) => {
    const kind = Math.floor(base() * 7);
    const text = { description: words(description / 2) };
    if (kind === 0) return { type: 'integer', minimum: 0, maximum: 10 + Math.floor(base() * 1000), ...text };
    if (kind === 1) return { type: 'string', maxLength: 10 + Math.floor(base() * 90), ...text };
    if (kind === 2) return { type: 'string', enum: ['open', 'closed', `mode-${Math.floor(base() * 50)}`], ...text };
    if (kind === 3) return { type: 'string', format: 'date-time', ...text };
    if (kind === 4) return { $ref: `#/components/schemas/${names[Math.floor(base() * names.length)]}` };
    if (kind === 5)
      return { type: 'array', items: { $ref: `#/components/schemas/${names[Math.floor(base() * names.length)]}` }, ...text };
    return { type: 'number', nullable: i % 2 === 0, ...text };
  };
  for (const name of names) {
    const properties = Object.fromEntries(FIELDS.slice(0, 9).map((f, i) => [f, property(i)]));
    const required = FIELDS.slice(0, 3);
    if (differ() < changed) properties[`extra${size()}`] = { type: 'string', description: 'new' };
    schemas[name] = { type: 'object', required, properties };
    if (broken > 0 && differ() < broken) breaks(schemas[name], differ);
  }
  const reference = () => ({ $ref: `#/components/schemas/${names[Math.floor(base() * names.length)]}` });
  const items = {};
  for (let i = 0; i < paths; i++) {
    const json = () => ({ 'application/json': { schema: reference() } });
    const body = { required: true, content: json() };
    const answer = (status) => ({ [status]: { description: words(60), content: json() }, 404: { description: 'None' } });
    items[`/service-${i % 97}/things-${i}/{thingId}`] = {
      parameters: [{ name: 'thingId', in: 'path', required: true, schema: { type: 'integer' } }],
      get: { operationId: `get${i}`, description: words(description), responses: answer(200) },
      put: { operationId: `put${i}`, description: words(description), requestBody: body, responses: answer(200) },
    };
  }
  return { openapi: '3.0.3', info: { title: 'Everything', version: '1.0.0' }, paths: items, components: { schemas } };
}

/** One property is bounded otherwise, has other members, is needed, or is gone. */
function breaks(schema, next) {
  const names = Object.keys(schema.properties);
  const name = names[Math.floor(next() * names.length)];
  const property = schema.properties[name];
  if (property.maximum !== undefined) property.maximum += next() < 0.5 ? -3 : 5;
  else if (property.maxLength !== undefined) property.maxLength += next() < 0.5 ? -2 : 2;
  else if (property.enum !== undefined) property.enum = next() < 0.5 ? property.enum.slice(0, 2) : [...property.enum, 'moored'];
  else if (next() < 0.5) schema.required = [...new Set([...schema.required, name])];
  else {
    delete schema.properties[name];
    schema.required = schema.required.filter((n) => n !== name);
  }
}
