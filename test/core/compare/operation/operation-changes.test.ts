/** What is told of parameters, bodies, statuses and media types, and in which words. */
import { expect, test } from 'vitest';
import { compareContracts } from '../../../../src/core/compare/compare-contracts.ts';
import { readContract } from '../../../../src/core/contract/read/read-contract.ts';
import { answers, compare, object, operation, query, takes, told } from '../../contracts.ts';

const body = (types: string, more = ''): string => operation(`requestBody: { content: { ${types} }${more} }`, '/locks', 'post');
const parameter = (text: string, more = ''): string => operation(`parameters: [{ name: berth, ${text} }]${more}`);
const status = (text: string): string => operation(`responses: { ${text} }`);
const JSON_TYPE = 'application/json: {}';
const of = (type: string, media = 'application/json'): string => `{ content: { ${media}: { schema: { type: ${type} } } } }`;

const named = (mapping: string): string =>
  answers(
    `oneOf: [{ ${object('kind: {}', ', required: [kind]')} }], discriminator: { propertyName: kind, mapping: { ${mapping} } }`,
  );

const guarded = (name: string, scheme: string, paths = '/locks: { get: {} }'): string =>
  `paths: { ${paths} }\nsecurity: [{ ${name}: [] }]\ncomponents: { securitySchemes: { ${name}: { ${scheme} } } }`;
const KEY = 'type: apiKey, in: header, name: Lock-Key';
const flows = (text: string): string => `type: oauth2, flows: { ${text} }`;
const TOKEN = 'clientCredentials: { tokenUrl: "https://desk.example/token" }';

const TAGS =
  '{ type: object, properties: { tags: { type: array, items: { type: string } }, name: { type: string }, plan: { type: string, format: binary } } }';

/** what | old | new | the changes there | the changes back */
const BOTH: readonly (readonly [string, string, string, readonly string[], readonly string[]])[] = [
  ['a body', operation('', '/locks', 'post'), body(JSON_TYPE), ['compatible body-added'], ['risky body-removed']],
  [
    'a body that has to be sent',
    operation('', '/locks', 'post'),
    body(JSON_TYPE, ', required: true'),
    ['breaking body-required'],
    ['risky body-removed'],
  ],
  [
    'a body that may be left out',
    body(JSON_TYPE, ', required: true'),
    body(JSON_TYPE),
    ['compatible body-optional'],
    ['breaking body-required'],
  ],
  [
    'a type of a body',
    body(JSON_TYPE),
    body(`${JSON_TYPE}, text/csv: {}`),
    ['compatible request-type-added'],
    ['breaking request-type-removed'],
  ],
  ['the same type in other letters', body(JSON_TYPE), body('Application/JSON: {}'), [], []],
  [
    'a type of an answer',
    status('200: { content: { application/json: {} } }'),
    status('200: { content: { application/json: {}, text/csv: {} } }'),
    ['compatible response-type-added'],
    ['breaking response-type-removed'],
  ],
  [
    'the type that comes first',
    status('200: { content: { application/json: {}, text/csv: {} } }'),
    status('200: { content: { text/csv: {}, application/json: {} } }'),
    ['risky default-type-changed'],
    ['risky default-type-changed'],
  ],
  [
    'a range of statuses',
    status('200: {}, 404: {}'),
    status('200: {}, 4XX: {}'),
    ['compatible status-added'],
    ['compatible status-removed'],
  ],
  [
    'a class of successes of which one is left',
    status(`2XX: ${of('integer')}`),
    status(`200: ${of('integer')}`),
    ['compatible status-removed'],
    ['risky status-added'],
  ],
  [
    'a status told from its class says what it said',
    status(`2XX: ${of('integer')}`),
    status(`200: ${of('string')}, 2XX: ${of('integer')}`),
    ['breaking response-widened'],
    ['breaking response-widened'],
  ],
  ['a success that is told by default', status('200: {}, default: {}'), status('default: {}'), [], []],
  [
    'an error that is told by default',
    status(`200: {}, 404: ${of('integer')}`),
    status(`200: {}, default: ${of('string')}`),
    ['breaking response-widened', 'compatible status-added'],
    ['breaking response-widened', 'compatible status-removed'],
  ],
  [
    'no success is told by default beside one that is named',
    status(`200: {}, default: ${of('string')}`),
    status(`200: {}, 201: ${of('integer')}, default: ${of('string')}`),
    ['risky status-added'],
    ['breaking status-removed'],
  ],
  [
    'a range of types that is sent',
    status(`200: ${of('integer', '"*/*"')}`),
    status(`200: ${of('string')}`),
    ['breaking response-widened'],
    ['breaking response-widened', 'compatible response-type-added'],
  ],
  [
    'a range of types that is taken',
    body('"*/*": {}'),
    body(JSON_TYPE),
    ['breaking request-type-removed'],
    ['compatible request-type-added'],
  ],
  [
    'a type with fewer parameters is taken',
    body('application/json;v=1: {}'),
    body(JSON_TYPE),
    ['compatible request-type-added'],
    ['breaking request-type-removed'],
  ],
  [
    'a parameter that may be left out',
    operation(''),
    parameter('in: query, schema: {}'),
    ['compatible parameter-added'],
    ['risky parameter-removed'],
  ],
  [
    'a property of an object in the query',
    parameter('in: query, style: deepObject, schema: { type: object, properties: { most: {}, least: {} } }'),
    parameter('in: query, style: deepObject, schema: { type: object, properties: { most: {} } }'),
    ['risky request-property-ignored'],
    [],
  ],
  [
    'a path in other letters',
    operation('', '/Locks/{id}'),
    operation('', '/locks/{lockId}/'),
    ['breaking operation-moved'],
    ['breaking operation-moved'],
  ],
  [
    'a parameter of which nothing was said',
    parameter('in: query'),
    parameter('in: query, schema: { type: boolean }'),
    ['breaking parameter-narrowed'],
    ['compatible parameter-widened'],
  ],
  [
    'a header of which nothing was said',
    status('200: { headers: { Lock-Count: {} } }'),
    status('200: { headers: { Lock-Count: { schema: { type: integer } } } }'),
    [],
    ['breaking response-header-widened'],
  ],
  ['what credentials are called', guarded('a', KEY), guarded('b', KEY.replace('Lock-Key', 'lock-key')), [], []],
  [
    'other credentials of the same name',
    guarded('a', KEY),
    guarded('a', 'type: http, scheme: bearer'),
    ['breaking security-tightened'],
    ['breaking security-tightened'],
  ],
  [
    'another way to get a token',
    guarded('a', flows(TOKEN)),
    guarded('a', flows(`${TOKEN}, password: { tokenUrl: "https://desk.example/token" }`)),
    ['compatible security-loosened'],
    ['breaking security-tightened'],
  ],
  [
    'security of all operations, told once',
    'paths: { /locks: { get: {}, put: {} }, /gates: { get: {} } }',
    guarded('a', KEY, '/locks: { get: {}, put: {} }, /gates: { get: {} }'),
    ['breaking security-tightened'],
    ['compatible security-loosened'],
  ],
  [
    'a number in a form that is text',
    body(`application/x-www-form-urlencoded: { schema: { ${object('rise: { type: integer }')} } }`),
    body(`application/x-www-form-urlencoded: { schema: { ${object('rise: { type: string }')} } }`),
    ['compatible request-widened /rise'],
    ['breaking request-narrowed /rise'],
  ],
  [
    'a list in a form that is written in another way',
    body(`application/x-www-form-urlencoded: { schema: ${TAGS} }`),
    body(`application/x-www-form-urlencoded: { schema: ${TAGS}, encoding: { tags: { explode: false } } }`),
    ['breaking form-style'],
    ['breaking form-style'],
  ],
  [
    'the same said in so many words, and of what is no list',
    body(`application/x-www-form-urlencoded: { schema: ${TAGS} }`),
    body(
      `application/x-www-form-urlencoded: { schema: ${TAGS}, encoding: { tags: { style: form }, name: { explode: false }, gone: { style: pipeDelimited } } }`,
    ),
    [],
    [],
  ],
  [
    'the types of a part',
    body(`multipart/form-data: { schema: ${TAGS}, encoding: { plan: { contentType: image/png } } }`),
    body(`multipart/form-data: { schema: ${TAGS}, encoding: { plan: { contentType: 'image/png, image/jpeg' } } }`),
    ['compatible part-type-added'],
    ['breaking part-type-removed'],
  ],
  [
    'a range of types of a part',
    body(`multipart/form-data: { schema: ${TAGS}, encoding: { plan: { contentType: image/png } } }`),
    body(`multipart/form-data: { schema: ${TAGS}, encoding: { plan: { contentType: image/* } } }`),
    ['compatible part-type-added'],
    ['breaking part-type-removed'],
  ],
  [
    'the type of a part that is said now',
    body(`multipart/form-data: { schema: ${TAGS} }`),
    body(
      `multipart/form-data: { schema: ${TAGS}, encoding: { plan: { contentType: image/png }, name: { contentType: text/plain } } }`,
    ),
    ['breaking part-type-removed', 'compatible part-type-added'],
    ['risky part-type-removed'],
  ],
  [
    'another base of all paths',
    'servers: [{ url: /desk }]\npaths: { /locks: { get: {} }, /gates: { get: {} } }',
    'servers: [{ url: /office/desk2 }]\npaths: { /locks: { get: {} }, /gates: { get: {} }, /tolls: { get: {} } }',
    ['breaking prefix-changed', 'compatible operation-added'],
    ['breaking prefix-changed', 'breaking operation-removed'],
  ],
  [
    'a header of an answer',
    status('200: {}'),
    status('200: { headers: { Lock-Count: {} } }'),
    ['compatible response-header-added'],
    ['breaking response-header-lost'],
  ],
  [
    'what nobody can send',
    answers('type: string'),
    answers('allOf: [{ type: string }, { type: integer }]'),
    ['risky response-unsendable'],
    ['breaking response-widened'],
  ],
  [
    'the default of what is left out',
    takes(object('rise: { type: integer, default: 5 }')),
    takes(object('rise: { type: integer, default: 6 }')),
    ['risky default-changed /rise'],
    ['risky default-changed /rise'],
  ],
  [
    'the default of what has to be sent',
    takes(object('rise: { type: integer, default: 5 }', ', required: [rise]')),
    takes(object('rise: { type: integer, default: 6 }', ', required: [rise]')),
    [],
    [],
  ],
  ['a new name for a form', named('a: "#/a"'), named('a: "#/a", b: "#/a"'), ['risky form-name-added /kind'], []],
  [
    'a parameter that had to be sent',
    parameter('in: query, required: true, schema: {}'),
    parameter('in: query, schema: {}'),
    ['compatible parameter-optional'],
    ['breaking parameter-required'],
  ],
  [
    'a parameter that is deprecated',
    parameter('in: header, schema: {}'),
    parameter('in: header, deprecated: true, schema: {}'),
    ['compatible parameter-deprecated'],
    [],
  ],
  [
    'a header in other letters',
    parameter('in: header, schema: { type: integer }'),
    operation('parameters: [{ name: BERTH, in: header, schema: { type: integer } }]'),
    [],
    [],
  ],
  [
    'a parameter of a path and of its operation',
    'paths: { /locks: { parameters: [{ name: berth, in: query, schema: { type: integer } }], get: {} } }',
    parameter('in: query, schema: { type: integer }'),
    [],
    [],
  ],
  [
    'a list in a path',
    operation(
      'parameters: [{ name: ids, in: path, required: true, schema: { type: array, items: { type: integer } } }]',
      '/locks/{ids}',
    ),
    operation(
      'parameters: [{ name: ids, in: path, required: true, schema: { type: array, items: { type: integer, maximum: 9 } } }]',
      '/locks/{ids}',
    ),
    ['breaking parameter-narrowed'],
    ['compatible parameter-widened'],
  ],
  [
    'a value in JSON',
    parameter('in: query, content: { application/json: { schema: { type: integer } } }'),
    parameter('in: query, content: { application/json: { schema: { type: integer, minimum: 1 } } }'),
    ['breaking parameter-narrowed'],
    ['compatible parameter-widened'],
  ],
];

test.each(BOTH)('%s: there and back', (_, old, now, there, back) => {
  expect([told(compare(old, now).changes), told(compare(now, old).changes)]).toEqual([there, back]);
});

const forms = (...names: readonly string[]): string =>
  `${takes(`type: object, oneOf: [${names.map((n) => `{ $ref: "#/components/schemas/${n}" }`).join(', ')}]`)}
components:
  schemas:
${names.map((n) => `    ${n}: { type: object, required: [kind], properties: { kind: { const: ${n} } } }`).join('\n')}
`;

/** what is told | old | new */
const SENTENCES: readonly (readonly [string, string, string])[] = [
  [
    'b is now required; requests without it are rejected',
    takes(object('a: {}, b: {}')),
    takes(object('a: {}, b: {}', ', required: [b]')),
  ],
  [
    '/a: b, c, d, e and 1 more are now required; requests without them are rejected',
    takes(object(`a: { ${object('b: {}, c: {}, d: {}, e: {}, f: {}')} }`)),
    takes(object(`a: { ${object('b: {}, c: {}, d: {}, e: {}, f: {}', ', required: [b, c, d, e, f]')} }`)),
  ],
  ['a and b may be missing now', answers(object('a: {}, b: {}', ', required: [a, b]')), answers(object('a: {}, b: {}'))],
  [
    '/a: null is now possible in the response; clients were not told (expected text)',
    answers(object('a: { type: string }')),
    answers(object('a: { type: [string, "null"] }')),
  ],
  ['/a: 3 is no longer accepted', takes(object('a: { enum: [1, 2, 3] }')), takes(object('a: { enum: [1, 2] }'))],
  [
    'the body: {"kind":"tow"} is no longer accepted (tow is none of the 2 forms)',
    forms('lock', 'tow', 'berth'),
    forms('berth', 'lock'),
  ],
  [
    'the body: [{}, … 300 more] is no longer accepted (expected 300 items or fewer)',
    takes('type: array, items: { type: object }'),
    takes('type: array, items: { type: object }, maxItems: 300'),
  ],
  [
    'the body: {} is now possible in the response; clients were not told (expected a list)',
    answers('type: array, items: { type: string }'),
    answers(object('a: { type: string }')),
  ],
  [
    'the query parameter limit was integer and is boolean: 7 is now rejected',
    query('schema: { type: integer }'),
    query('schema: { type: boolean }'),
  ],
  ['application/json is no longer taken: 415', body(JSON_TYPE), body('text/csv: {}')],
  [
    'a client without Accept got application/json and gets text/csv now',
    status('200: { content: { application/json: {}, text/csv: {} } }'),
    status('200: { content: { text/csv: {}, application/json: {} } }'),
  ],
];

test('a list in a form of 2.0 is one text, which later editions say of it', () => {
  const info = { title: 'Canal', version: '1.0.0' };
  const tags = { name: 'tags', in: 'formData', type: 'array', items: { type: 'string' } };
  const form = { type: 'object', properties: { tags: { type: 'array', items: { type: 'string' } } } };
  const rules = (collectionFormat: string, encoding?: object): readonly string[] => {
    const type = 'application/x-www-form-urlencoded';
    const content = { [type]: { schema: form, ...(encoding === undefined ? {} : { encoding }) } };
    const [old, now] = [
      { swagger: '2.0', info, paths: { '/locks': { post: { consumes: [type], parameters: [{ ...tags, collectionFormat }] } } } },
      { openapi: '3.0.3', info, paths: { '/locks': { post: { requestBody: { content } } } } },
    ].map((d) => readContract(d, 'canal.json'));
    if (!old?.ok || !now?.ok) throw new Error('not read');
    return compareContracts(old.contract, now.contract, { versions: [] }).changes.map((c) => c.rule);
  };
  expect(rules('multi')).toEqual([]);
  expect(rules('csv', { tags: { explode: false } })).toEqual([]);
  expect(rules('csv')).toEqual(['versions/form-style']);
});

test.each(SENTENCES)('%s', (sentence, old, now) => {
  expect(compare(old, now).changes[0]?.message).toBe(sentence);
});

test('an answer that no longer holds the key by which its items are addressed says so, unless it tells it elsewhere', () => {
  const locks = (properties: string, headers = ''): string => {
    const content = `content: { application/json: { schema: { type: array, items: { ${object(properties)} } } } }`;
    return `paths: { /locks: { get: { responses: { 200: { ${headers} ${content} } } } }, "/locks/{lockId}": { get: {} } }`;
  };
  const old = locks('id: {}, rise: {}, gates: { type: array, items: { type: object, properties: { id: {}, name: {} } } }');
  const messages = (now: string): readonly string[] => compare(old, now).changes.map((c) => c.message);
  const gates = 'gates: { type: array, items: { type: object, properties: { id: {}, name: {} } } }';
  const lost = 'is no longer returned';
  expect(messages(locks(`rise: {}, ${gates}`))).toEqual([`id ${lost}, and /locks/{lockId} is addressed by it`]);
  expect(messages(locks(`rise: {}, ${gates}`, 'headers: { Location: {} },'))).toContain(`id ${lost}`);
  expect(messages(locks(`lockId: {}, rise: {}, ${gates}`))).toContain(`id ${lost}`);
  // The key of something else.
  expect(messages(locks(`id: {}, rise: {}, ${gates.replace('id: {}, ', '')}`))).toEqual([`id ${lost}`]);
});

test('a list that became an object is paged where the object holds such a list', () => {
  const list = answers(`type: array, items: { ${object('id: {}, name: {}')} }`);
  const rules = (schema: string): readonly string[] => told(compare(list, answers(schema)).changes);
  expect(rules(object(`locks: { type: array, items: { ${object('id: {}, name: {}, rise: {}')} } }, next: {}`))).toEqual([
    'breaking response-paged',
    'compatible response-property-added /locks/0/rise',
  ]);
  // One of them has a list of its own.
  expect(rules(object('id: {}, name: {}, gates: { type: array, items: { type: string } }'))).not.toContain(
    'breaking response-paged',
  );
});
