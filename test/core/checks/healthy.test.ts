/** A service without faults is quiet; each fault that is put into it is told by its rule. */
import { load } from 'js-yaml';
import { expect, test } from 'vitest';
import type { Service } from '../../../src/core/checks/engine/context.ts';
import { check } from '../../../src/core/checks/index.ts';
import { readContract } from '../../../src/core/contract/read/read-contract.ts';
import { tableOf } from '../tables.ts';

const ROUTES = `
- { route: GET /locks, handler: locks.list, returns: [application/json] }
- { route: POST /locks, handler: locks.create, takes: [application/json], returns: [application/json] }
- { route: "GET /locks/{lockId:uint}", handler: locks.read, returns: [application/json] }
- { route: "PUT /locks/{lockId:uint}", handler: locks.replace, takes: [application/json], returns: [application/json] }
- { route: "DELETE /locks/{lockId:uint}", handler: locks.delete }
- { route: "PATCH /locks/{lockId:uint}", handler: locks.modify, takes: [application/merge-patch+json], returns: [application/json] }
- { route: GET /tolls, handler: tolls.list, returns: [application/json] }
- { route: "GET /tolls/{tollNo:uint}", handler: tolls.read, returns: [application/json] }
`;

const DOCUMENT = `
openapi: 3.1.0
info: { title: Canal, version: 2.0.0 }
security: [{ login: [] }]
paths:
  /locks:
    get:
      operationId: locks.list
      parameters: [{ name: limit, in: query, schema: { type: integer, maximum: 50 } }]
      responses: { 200: { description: All, content: { application/json: { schema: { type: array, items: { $ref: "#/components/schemas/Lock" } } } } } }
    post:
      operationId: locks.create
      requestBody: { required: true, content: { application/json: { schema: { $ref: "#/components/schemas/New" } } } }
      responses:
        201: { description: Made, content: { application/json: { schema: { $ref: "#/components/schemas/Lock" } } } }
        400: { $ref: "#/components/responses/Problem" }
  /locks/{lockId}:
    parameters: [{ name: lockId, in: path, required: true, schema: { type: integer, minimum: 0 } }]
    get:
      operationId: locks.read
      responses:
        200: { description: One, content: { application/json: { schema: { $ref: "#/components/schemas/Lock" } } } }
        404: { $ref: "#/components/responses/Problem" }
    put:
      operationId: locks.replace
      requestBody: { required: true, content: { application/json: { schema: { $ref: "#/components/schemas/New" } } } }
      responses:
        200: { description: One, content: { application/json: { schema: { $ref: "#/components/schemas/Lock" } } } }
        400: { $ref: "#/components/responses/Problem" }
        404: { $ref: "#/components/responses/Problem" }
    patch:
      operationId: locks.modify
      requestBody: { required: true, content: { application/merge-patch+json: { schema: { $ref: "#/components/schemas/Change" } } } }
      responses:
        200: { description: One, content: { application/json: { schema: { $ref: "#/components/schemas/Lock" } } } }
        400: { $ref: "#/components/responses/Problem" }
        404: { $ref: "#/components/responses/Problem" }
    delete:
      operationId: locks.delete
      responses: { 204: { description: Gone }, 404: { $ref: "#/components/responses/Problem" } }
  /tolls:
    get:
      operationId: tolls.list
      parameters: [{ name: limit, in: query, schema: { type: integer, maximum: 50 } }]
      responses: { 200: { description: All, content: { application/json: { schema: { type: array, items: { $ref: "#/components/schemas/Toll" } } } } } }
  /tolls/{tollNo}:
    parameters: [{ name: tollNo, in: path, required: true, schema: { type: integer, minimum: 0 } }]
    get:
      operationId: tolls.read
      responses:
        200: { description: One, content: { application/json: { schema: { $ref: "#/components/schemas/Toll" } } } }
        404: { $ref: "#/components/responses/Problem" }
components:
  securitySchemes: { login: { type: http, scheme: bearer } }
  responses:
    Problem: { description: Wrong, content: { application/problem+json: { schema: { $ref: "#/components/schemas/Problem" } } } }
  schemas:
    Problem: { type: object, properties: { title: { type: string } } }
    New: { type: object, required: [name], properties: { name: { type: string, maxLength: 9 } } }
    Change: { type: object, properties: { name: { type: string, maxLength: 9 } } }
    Lock: { type: object, required: [lockId, name], properties: { lockId: { type: integer, readOnly: true }, name: { type: string, maxLength: 9 } } }
    Toll: { type: object, required: [tollNo], properties: { tollNo: { type: integer } } }
`;

function findings(routes: string, document: string, more: Partial<Service> = {}): readonly string[] {
  const read = readContract(load(document), 'canal.openapi.yaml', () => 'there is no such file');
  if (!read.ok) throw new Error(read.message);
  const service = { name: 'canal', table: tableOf(load(routes) as never), contracts: [read.contract], ...more };
  return check(service as Service).map((f) => `${f.level} ${f.rule}`);
}

test('nothing is told of a healthy service', () => {
  expect(findings(ROUTES, DOCUMENT)).toEqual([]);
});

/** What is replaced in the routes or in the document, everywhere, and what is told then. */
test.each<[rule: string, of: 'routes' | 'document', from: string | RegExp, to: string]>([
  ['note methods/missing', 'routes', /$/u, '- POST /keepers -> keepers.create\n- "GET /keepers/{id:uint} -> keepers.read"\n'],
  ['error methods/unserved', 'routes', /- \{ route: "PATCH.*\n/u, ''],
  ['warning methods/undocumented', 'document', /\n {4}patch:[\s\S]*?(?=\n {4}delete:)/u, ''],
  ['note methods/misplaced', 'routes', 'DELETE /locks/{lockId:uint}', 'DELETE /locks'],
  ['warning methods/lost-key', 'document', /lockId: \{ type: integer, readOnly: true \}/u, 'no: { type: integer }'],
  [
    'warning methods/not-sendable',
    'document',
    'required: [name], properties: { name',
    'required: [name, lockId], properties: { lockId: { type: integer }, name',
  ],
  ['warning methods/loose-sibling', 'document', /put:([\s\S]*?)schemas\/New"/u, 'put:$1schemas/Toll2"'],
  [
    'warning methods/unexpected-content',
    'document',
    'operationId: locks.delete',
    'operationId: locks.delete\n      requestBody: { content: { application/json: {} } }',
  ],
  ['note methods/create-answer', 'document', /201: .*/u, '201: { description: Made }'],
  ['note methods/partial-replace', 'document', /put:([\s\S]*?)schemas\/New"/u, 'put:$1schemas/Change"'],
  [
    'note methods/error-in-success',
    'document',
    '{ schema: { $ref: "#/components/schemas/Toll" } }',
    '{ schema: { oneOf: [{ $ref: "#/components/schemas/Toll" }, { $ref: "#/components/schemas/Problem" }] } }',
  ],
  ['note methods/status', 'document', /(tolls.read[\s\S]*?)404: .*/u, '$1'],
  ['note methods/list-parameters', 'document', /(tolls.list[\s\S]*?)maximum: 50/u, '$1maximum: 99'],
  ['warning document/names', 'document', 'operationId: tolls.read', 'operationId: tolls.list'],
  ['warning document/names', 'document', 'security: [{ login: [] }]', 'security: [{ logn: [] }]'],
  ['warning document/never-fits', 'document', 'maximum: 50', 'minimum: 70, maximum: 50'],
  [
    'warning document/never-fits',
    'document',
    '{ schema: { $ref: "#/components/schemas/Toll" } }',
    '{ schema: { allOf: [{ $ref: "#/components/schemas/Toll" }, { type: string }] } }',
  ],
  ['note document/refused-example', 'document', 'maximum: 50', 'maximum: 50, example: 51'],
  // The document has whole numbers, and the route has none below zero.
  [
    'note types/refuses-documented',
    'document',
    'in: path, required: true, schema: { type: integer, minimum: 0 }',
    'in: path, required: true, schema: { type: integer }',
  ],
  ['note methods/any-method', 'routes', 'GET /tolls,', 'ANY /tolls,'],
  [
    'note methods/key-elsewhere',
    'document',
    'operationId: locks.replace',
    'operationId: locks.replace\n      parameters: [{ name: lockId, in: query, required: true, schema: { type: integer } }]',
  ],
  ['warning media/default-differs', 'routes', /(tolls.list, returns: )\[/u, '$1[application/xml, '],
  ['warning media/one-way', 'routes', /(locks.replace, takes: )\[/u, '$1[application/xml, '],
  [
    'note media/error-shape',
    'document',
    /(tolls.read[\s\S]*?)404: .*/u,
    '$1404: { description: None, content: { text/plain: {} } }',
  ],
  [
    'note media/no-type',
    'document',
    /201: .*/u,
    '201: { description: Made, content: { "*/*": { schema: { $ref: "#/components/schemas/Lock" } } } }',
  ],
  ['warning media/same-type', 'document', /(tolls.read[\s\S]*?content: \{ )/u, '$1"application/json; charset=utf-8": {}, '],
  [
    'warning media/patch-format',
    'document',
    /(locks.read[\s\S]*?200: \{ )/u,
    '$1headers: { Accept-Patch: { schema: { const: application/json-patch+json } } }, ',
  ],
  ['note media/patch-format', 'routes', 'application/merge-patch+json', 'application/json'],
  ['warning media/response-types', 'document', /(tolls.read[\s\S]*?content: \{ )/u, '$1text/csv: {}, '],
])('%s', (rule, of, from, to) => {
  const loose = '    Toll2: { type: object, required: [name], properties: { name: { type: string } } }\n';
  const [old, other] = of === 'routes' ? [ROUTES, `${DOCUMENT}${loose}`] : [`${DOCUMENT}${loose}`, ROUTES];
  const changed = old.replace(from, to);
  expect(changed).not.toBe(old);
  const told = of === 'routes' ? findings(changed, other) : findings(other, changed);
  expect(told).toContain(rule);
});

test('a client that is refused is told, once for each cause', () => {
  const place = { file: 'elm-gate.yaml', pointer: '/clients/0' };
  const clients = [{ name: 'old tablet', accept: 'application/xml', sends: 'text/csv', place }];
  expect(findings(ROUTES, DOCUMENT, { clients })).toEqual(['error media/client', 'error media/client', 'error media/client']);
});

/** Writes of a document, each with what it says of security. */
function writes(...said: readonly object[]): readonly string[] {
  const operation = (more: object): object => ({ responses: { 204: { description: 'Done' } }, ...more });
  const paths = Object.fromEntries(said.map((more, i) => [`/lock${i}`, { put: operation(more) }]));
  const read = readContract({ openapi: '3.1.0', components: { securitySchemes: { login: {} } }, paths }, 'canal.openapi.yaml');
  if (!read.ok) throw new Error('not read');
  const service: Service = { name: 'canal', table: tableOf([]), contracts: [read.contract] };
  return check(service).flatMap((f) => (f.rule === 'methods/open-write' ? [String(f.data.title)] : []));
}

test('open write: one that says nothing among nine of ten guarded -> told; one that says it is open, or more of them -> not', () => {
  const guarded = Array.from({ length: 9 }, () => ({ security: [{ login: [] }] }));
  expect(writes(...guarded, {})).toEqual(['PUT /lock9']);
  expect(writes(...guarded, { security: [] })).toEqual([]);
  expect(writes(...guarded, { security: [{ login: [] }, {}] })).toEqual([]);
  expect(writes(...guarded, {}, {})).toEqual([]);
});
