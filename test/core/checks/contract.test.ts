import { load } from 'js-yaml';
import { expect, test } from 'vitest';
import { check } from '../../../src/core/checks/index.ts';
import { type Contract, operationTitle } from '../../../src/core/contract/model/contract.ts';
import { readContract } from '../../../src/core/contract/read/read-contract.ts';
import type { Schema } from '../../../src/core/schema/model/schema.ts';

function contractOf(text: string, others: Record<string, string> = {}): Contract {
  const result = readContract(load(text), 'canal.openapi.yaml', (name) =>
    name in others ? { file: name, value: load(others[name] as string) } : 'there is no such file',
  );
  if (!result.ok) throw new Error(result.message);
  return result.contract;
}

const HEAD = { '2.0': 'swagger: "2.0"', '3.0': 'openapi: 3.0.3', '3.1': 'openapi: 3.1.0', '3.2': 'openapi: 3.2.0' };

/** One service in the words of each edition. */
function written(edition: keyof typeof HEAD): string {
  const old = edition === '2.0';
  const nullable = {
    '2.0': 'type: string',
    '3.0': 'type: string, nullable: true',
    '3.1': 'type: [string, "null"]',
    '3.2': 'type: [string, "null"]',
  }[edition];
  const below = edition.startsWith('3.0') || old ? 'minimum: 0, exclusiveMinimum: true' : 'exclusiveMinimum: 0';
  const lock = old ? '#/definitions/Lock' : '#/components/schemas/Lock';
  const limit = old ? 'type: integer, maximum: 100' : 'schema: { type: integer, maximum: 100 }';
  const states = old
    ? 'type: array, items: { type: string }, collectionFormat: csv'
    : 'explode: false, schema: { type: array, items: { type: string } }';
  const body = old
    ? `      consumes: [application/json]\n      parameters: [{ name: lock, in: body, required: true, schema: { $ref: '${lock}' } }]`
    : `      requestBody: { required: true, content: { application/json: { schema: { $ref: '${lock}' } } } }`;
  const answer = old ? `schema: { $ref: '${lock}' }` : `content: { application/json: { schema: { $ref: '${lock}' } } }`;
  const schemas = `Lock: { type: object, required: [rise], properties: { rise: { type: number, ${below} }, note: { ${nullable} } } }`;
  return `${HEAD[edition]}
info: { title: Canal, version: 1.2.3 }
${old ? 'basePath: /v2\nhost: desk.example\nproduces: [application/json]' : 'servers: [{ url: "https://desk.example/{v}", variables: { v: { default: v2 } } }]'}
paths:
  /locks/{lockId}:
    parameters: [{ name: lockId, in: path, required: true, ${old ? 'type: integer' : 'schema: { type: integer }'} }]
    get:
      operationId: locks.read
      parameters: [{ name: limit, in: query, ${limit} }, { name: states, in: query, ${states} }]
      responses: { 200: { description: Done, ${answer} } }
    put:
      operationId: locks.replace
      deprecated: true
${body}
      responses: { 204: { description: Done } }
${old ? `definitions: { ${schemas} }` : `components: { schemas: { ${schemas} } }`}
`;
}

/** The model without places, so that editions can be compared. */
function plain(contract: Contract): unknown {
  const schema = (s: Schema | undefined): unknown => {
    const k = s?.keywords();
    if (k === undefined || typeof k === 'boolean') return k;
    const types = k.types?.filter((t) => t !== 'null');
    return {
      ...k,
      types,
      ref: schema(k.ref),
      items: schema(k.items),
      properties: [...k.properties].map(([n, p]) => [n, schema(p)]),
    };
  };
  return {
    ...contract,
    place: undefined,
    schemas: [...contract.schemas.keys()],
    operations: contract.operations.map((o) => ({
      title: operationTitle(o),
      id: o.id,
      deprecated: o.deprecated,
      parameters: o.parameters.map((p) => ({ ...p, place: undefined, schema: schema(p.schema) })),
      body: o.body?.content.map((m) => [o.body?.required, m.type, schema(m.schema)]),
      responses: o.responses.map((r) => [r.status, r.content.map((m) => [m.type, schema(m.schema)])]),
    })),
  };
}

test.each(['2.0', '3.0', '3.2'] as const)('a document of %s gives the model that 3.1 gives', (edition) => {
  const contract = contractOf(written(edition));
  expect(plain(contract)).toEqual(plain(contractOf(written('3.1'))));
  expect(contract.flaws).toEqual([]);
});

test('null is a value of its own where the edition can say so', () => {
  const note = (edition: keyof typeof HEAD): unknown => {
    const k = contractOf(written(edition)).schemas.get('Lock')?.keywords();
    const n = typeof k === 'object' ? k.properties.get('note')?.keywords() : undefined;
    return typeof n === 'object' ? n.types : undefined;
  };
  expect([note('2.0'), note('3.0'), note('3.1')]).toEqual([['string'], ['string', 'null'], ['string', 'null']]);
});

const open = (body: string): string => `openapi: 3.1.0\ninfo: { title: Canal, version: '1' }\n${body}`;

test('references lead through other files, escapes, anchors, ids and back', () => {
  const contract = contractOf(
    open(`paths: { /locks: { $ref: 'paths.yaml#/~1locks' } }
components:
  schemas:
    A/B: { type: integer }
    Tree: { type: object, properties: { next: { $ref: '#/components/schemas/Tree' } } }
    One: { $ref: '#/components/schemas/Two' }
    Two: { $ref: 'more.json#gate' }
    Named: { $id: 'https://canal.example/named', type: boolean }
    ByName: { $ref: 'https://canal.example/named' }
    Slash: { $ref: '#/components/schemas/A~1B' }`),
    {
      'paths.yaml': `/locks: { get: { responses: { 200: { description: Done, content: { application/json: { schema: { $ref: 'more.json#/Lock' } } } } } } }`,
      'more.json': '{ "Lock": { "type": "object" }, "Gate": { "$anchor": "gate", "enum": ["upper"] } }',
    },
  );
  const end = (name: string): unknown => {
    let k = contract.schemas.get(name)?.keywords();
    while (typeof k === 'object' && k.ref !== undefined) k = k.ref.keywords();
    return typeof k === 'object' ? (k.types ?? k.enum) : k;
  };
  expect(['One', 'Slash', 'ByName'].map(end)).toEqual([['upper'], ['integer'], ['boolean']]);
  const [media] = contract.operations[0]?.responses[0]?.content ?? [];
  expect(media?.schema?.keywords()).toMatchObject({ ref: { place: { file: 'more.json', pointer: '/Lock' } } });
  const tree = contract.schemas.get('Tree')?.keywords();
  expect(typeof tree === 'object' && (tree.properties.get('next')?.keywords() as { ref: unknown }).ref).toBe(
    contract.schemas.get('Tree'),
  );
  expect(contract.flaws).toEqual([]);
});

const schema = (text: string): string => `components: { schemas: { X: { ${text} } } }`;
const operation = (text: string): string => `paths: { /locks: { get: { ${text} } } }`;
const parameter = (text: string): string => operation(`parameters: [${text}]`);
const answer = (text: string): string => operation(`responses: { 200: { ${text} } }`);

/** A document and the findings that it gives: rule, and what its message holds. */
const BAD: readonly (readonly [string, ...string[]])[] = [
  ['paths: []', 'document/malformed a mapping of paths'],
  ['paths: 7', 'document/malformed found 7'],
  ['paths: { locks: { get: {} } }', 'document/malformed starts without a slash'],
  ['paths: { /locks: [] }', 'document/malformed a path item'],
  ['paths: { /locks: 7 }', 'document/malformed found 7'],
  ['paths: { "/a/{x}": {}, "/a/{y}": {} }', 'document/malformed the same as /a/{x}'],
  ['paths: { /locks: { get: [] } }', 'document/malformed an operation'],
  ['paths: { /locks: { get: yes please } }', 'document/malformed an operation'],
  ['paths: { /locks: { gett: {} } }', 'document/misspelt did you mean "get"'],
  ['paths: { /locks: { $ref: "#/nowhere" } }', 'document/reference leads nowhere'],
  ['paths: { /locks: { $ref: "#/paths/~1locks" } }', 'document/reference back to itself'],
  ['paths: { /locks: { $ref: "https://canal.example/locks.yaml" } }', 'document/reference another machine'],
  ['paths: { /locks: { $ref: "none.yaml" } }', 'document/reference there is no such file'],
  ['pahts: {}', 'document/misspelt did you mean "paths"'],
  ['servers: {}', 'document/malformed a list of servers'],
  ['servers: [7]', 'document/malformed a server with a url'],
  ['servers: [{ url: 7 }]', 'document/malformed a server with a url'],
  [operation('parameters: {}'), 'document/malformed a list of parameters'],
  [parameter('7'), 'document/malformed a parameter'],
  [parameter('{ in: query }'), 'document/malformed a parameter with a name'],
  [parameter('{ name: a }'), 'document/malformed a parameter with a name'],
  [parameter('{ name: a, in: header-line }'), 'document/malformed a parameter with a name'],
  [parameter('{ name: a, in: query }, { name: a, in: query }'), 'document/malformed a second time'],
  [parameter('{ name: a, in: query, style: simple }'), 'document/malformed one of the styles of a query parameter'],
  [parameter('{ $ref: "#/components/parameters/None" }'), 'document/reference leads nowhere'],
  [parameter('{ name: a, in: path, required: true, schema: {} }'), 'types/unused the path parameter a'],
  ['paths: { "/locks/{id}": { get: {} } }', 'types/undeclared has id in its path'],
  ['paths: { "/locks/{id}": { get: { parameters: [{ name: id, in: path }] } } }', 'types/optional-path required: true'],
  [parameter('{ name: a, in: query, schema: { type: integer, default: x } }'), 'types/bad-default expected a whole number'],
  [operation('requestBody: []'), 'document/malformed a request body'],
  [operation('requestBody: { content: [] }'), 'document/malformed a mapping of media types'],
  [operation('requestBody: { content: { json: {} } }'), 'document/malformed a media type such as'],
  [operation('requestBody: { content: { application/json: 7 } }'), 'document/malformed a media type'],
  [operation('responses: []'), 'document/malformed a mapping of responses'],
  [operation('responses: { 2000: {} }'), 'document/malformed a status such as'],
  [operation('responses: { ok: {} }'), 'document/malformed a status such as'],
  [operation('responses: { 200: 7 }'), 'document/malformed a response'],
  [operation('respones: {}'), 'document/misspelt did you mean "responses"'],
  [answer('headers: []'), 'document/malformed a mapping of headers'],
  [answer('headers: { X-A: 7 }'), 'document/malformed a header'],
  [answer('links: 7'), 'document/malformed a mapping of links'],
  [answer('content: { application/json: { schema: 7 } }'), 'document/malformed a schema, found 7'],
  [operation('tags: lock'), 'document/malformed a list of tags'],
  [operation('tags: [[]]'), 'document/malformed expected text'],
  [operation('security: {}'), 'document/malformed a list of security'],
  [operation('security: [7]'), 'document/malformed a security requirement'],
  [operation('servers: 7'), 'document/malformed a list of servers'],
  ['components: { schemas: [] }', 'document/malformed a mapping of schemas'],
  [schema('type: strng'), 'document/malformed did you mean string'],
  [schema('type: [7]'), 'document/malformed expected a type'],
  [schema('required: true'), 'document/malformed a list of property names'],
  [schema('required: [7]'), 'document/malformed the name of a property'],
  [schema('required: name'), 'document/malformed a list of property names'],
  [schema('requred: [a]'), 'document/misspelt did you mean "required"'],
  [schema('proprties: {}'), 'document/misspelt did you mean "properties"'],
  [schema('properties: []'), 'document/malformed a mapping of properties'],
  [schema('properties: { a: 7 }'), 'document/malformed a schema, found 7'],
  [schema('minLength: -1'), 'document/malformed a whole number of 0 or more'],
  [schema('maxItems: many'), 'document/malformed a whole number of 0 or more'],
  [schema('minimum: low'), 'document/malformed a number for minimum'],
  [schema('multipleOf: 0'), 'document/malformed a number for multipleOf'],
  [schema('pattern: 7'), 'document/malformed expected text for pattern'],
  [schema('allOf: {}'), 'document/malformed a list of schemas'],
  [schema('oneOf: [7]'), 'document/malformed a schema, found 7'],
  [schema('items: 7'), 'document/malformed a schema, found 7'],
  [schema('$ref: "#/components/schemas/Y"'), 'document/reference leads nowhere'],
  [schema('dependentRequired: []'), 'document/malformed a mapping of property names'],
  [schema('type: integer, default: 7.5'), 'types/bad-default expected a whole number, found 7.5'],
];

test.each(BAD)('%s: %s', (body, ...expected) => {
  const found = check({ name: 'canal', table: undefined, contracts: [contractOf(open(body))] }).map(
    (f) => `${f.rule} ${JSON.stringify(f.data)}`,
  );
  for (const text of expected) {
    const [rule = '', ...words] = text.split(' ');
    expect(
      found.some((line) => line.startsWith(`${rule} `) && includesWords(line, words.join(' '), rule)),
      `${text} in ${found.join('; ')}`,
    ).toBe(true);
  }
});

/** Data instead of messages for rules whose sentence says more than the problem. */
function includesWords(line: string, words: string, rule: string): boolean {
  return line.replaceAll('\\"', '"').includes(words) || /^types\/(?:unused|undeclared|optional)/u.test(rule);
}
