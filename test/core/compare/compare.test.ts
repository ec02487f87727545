import { load } from 'js-yaml';
import { expect, test } from 'vitest';
import { compareContracts } from '../../../src/core/compare/compare-contracts.ts';
import { compareTables } from '../../../src/core/compare/compare-tables.ts';
import { weighed } from '../../../src/core/compare/levels.ts';
import { amongType } from '../../../src/core/paths/types.ts';
import { buildRouter } from '../../../src/core/routes/index/router.ts';
import type { RouterSettings } from '../../../src/core/routes/table/router-facts.ts';
import { isSubschema } from '../../../src/core/schema/search/witness.ts';
import { isValid } from '../../../src/core/schema/validate/validate.ts';
import { answers, compare, contractOf, json, object, operation, query, takes, told, webhook } from '../contracts.ts';
import { schemaFrom } from '../schemas.ts';
import { tableOf } from '../tables.ts';

/** A union of forms, one of which holds a union of forms. */
const union = (
  most: number,
): string => `${takes('properties: { note: { oneOf: [{ $ref: "#/components/schemas/List" }, { $ref: "#/components/schemas/Form" }, { type: string }] } }')}
components:
  schemas:
    Form:
      required: [a]
      type: object
      properties:
        a: { oneOf: [{ $ref: "#/components/schemas/Deep" }, { $ref: "#/components/schemas/List" }, { type: string }] }
        c: { type: integer, maximum: ${most} }
    List: { type: object, properties: { a: { type: array, items: { $ref: "#/components/schemas/Deep" } } } }
    Deep: { type: object, properties: { a: { type: array, items: { $ref: "#/components/schemas/Deep" } }, b: { $ref: "#/components/schemas/Deep" } } }
`;

/** what | old | new | the changes */
const ROWS: readonly (readonly [string, string, string, readonly string[]])[] = [
  ['names of path parameters', operation('', '/locks/{id}'), operation('', '/locks/{lockId}'), []],
  [
    'two forms fit at once',
    takes('oneOf: [{ type: object, properties: { a: {} } }, { type: object, properties: { b: {} } }]'),
    takes('oneOf: [{ type: object, properties: { a: {}, b: {} } }, { type: object, properties: { b: {} } }]'),
    ['breaking request-narrowed'],
  ],
  [
    'a form that holds what another held',
    answers('oneOf: [{ type: object, required: [a], properties: { a: { type: integer } } }, { type: string }]'),
    answers('oneOf: [{ type: object, required: [a], properties: { a: { type: integer } } }, { enum: [open, closed] }]'),
    ['compatible response-narrowed'],
  ],
  ['a removed operation', operation('', '/a'), 'paths: {}', ['breaking operation-removed']],
  ['a new operation', 'paths: {}', operation(''), ['compatible operation-added']],
  ['a moved operation', operation('operationId: x', '/a'), operation('operationId: x', '/b'), ['breaking operation-moved']],
  [
    'a prefix on every path',
    'paths: { /a: { get: {} }, /b: { get: {} } }',
    'paths: { /x/a: { get: {} }, /x/b: { get: {} } }',
    ['breaking prefix-changed'],
  ],
  ['deprecated', operation(''), operation('deprecated: true'), ['risky deprecated']],
  ['deprecated with a sunset', operation(''), operation('deprecated: true, x-sunset: 2027-06-30'), ['compatible deprecated']],
  [
    'integer to string is nothing narrower',
    query('schema: { type: integer }'),
    query('schema: { type: string }'),
    ['compatible parameter-widened'],
  ],
  ['string to integer', query('schema: { type: string }'), query('schema: { type: integer }'), ['breaking parameter-narrowed']],
  ['an optional parameter required', query('schema: {}'), query('required: true, schema: {}'), ['breaking parameter-required']],
  ['a new required parameter', operation(''), query('required: true, schema: {}'), ['breaking parameter-required']],
  ['a removed parameter', query('schema: {}'), operation(''), ['risky parameter-removed']],
  ['another default', query('schema: { default: 1 }'), query('schema: { default: 2 }'), ['risky default-changed']],
  [
    'a list in another style',
    query('schema: { type: array }'),
    query('explode: false, schema: { type: array }'),
    ['breaking parameter-style'],
  ],
  [
    'the shortest form of a number is what is sent',
    query('schema: { type: number }'),
    query('schema: { type: string, pattern: "^-?(0|[1-9][0-9]*)([.][0-9]*[1-9])?([eE][+-]?[0-9]+)?$" }'),
    [],
  ],
  [
    'whole numbers from 0 to 99 as digits',
    query('schema: { type: integer, minimum: 0, maximum: 99 }'),
    query('schema: { type: string, pattern: "^[0-9]{1,2}$" }'),
    [],
  ],
  [
    'a value in the path with something before it',
    operation('parameters: [{ name: id, in: path, required: true, schema: { type: integer } }]', '/locks/{id}'),
    operation('parameters: [{ name: id, in: path, required: true, style: matrix, schema: { type: integer } }]', '/locks/{id}'),
    ['breaking parameter-style'],
  ],
  ['a value that is no list in another style', query('schema: {}'), query('explode: false, schema: {}'), []],
  [
    'a parameter that becomes JSON',
    query('schema: { type: string }'),
    query('content: { application/json: { schema: { type: string } } }'),
    ['breaking parameter-style'],
  ],
  [
    'a number in JSON that may be text',
    query('content: { application/json: { schema: { type: integer } } }'),
    query('content: { application/json: { schema: { type: [integer, string] } } }'),
    ['compatible parameter-widened'],
  ],
  [
    'a number in JSON that becomes text',
    query('content: { application/json: { schema: { type: integer } } }'),
    query('content: { application/json: { schema: { type: string } } }'),
    ['breaking parameter-narrowed'],
  ],
  ['an enumeration in an answer grows', answers('enum: [a]'), answers('enum: [a, b]'), ['breaking response-member-added']],
  ['a bound of an answer grows', answers('maxLength: 5'), answers('maxLength: 6'), ['breaking response-bound-relaxed']],
  [
    'an answer that was closed holds another property',
    answers(`${object('a: {}')}, additionalProperties: false`),
    answers(`${object('a: {}, b: {}')}, additionalProperties: false`),
    ['breaking response-property-unexpected /b'],
  ],
  [
    'properties of an open request are declared',
    takes(object('a: {}')),
    takes(object('a: {}, b: {}, c: {}')),
    ['risky request-property-declared /b'],
  ],
  ['a default is said', takes(object('a: {}')), takes(object('a: { default: 1 }')), ['compatible default-added /a']],
  [
    'a host is gone',
    `servers: [{ url: "https://old.example/v1" }]\n${answers('')}`,
    `servers: [{ url: "https://new.example/v1" }]\n${answers('')}`,
    ['risky server-changed'],
  ],
  [
    'an open enumeration in an answer grows',
    answers('anyOf: [{ enum: [a] }, { type: string }]'),
    answers('anyOf: [{ enum: [a, b] }, { type: string }]'),
    ['risky enumeration-member-added'],
  ],
  ['an enumeration in a request grows', takes('enum: [a]'), takes('enum: [a, b]'), ['compatible request-widened']],
  ['an enumeration in a request shrinks', takes('enum: [a, b]'), takes('enum: [a]'), ['breaking request-narrowed']],
  ['a bound in a form beside forms that are no text of its own', union(9), union(8), ['breaking request-narrowed /note/c']],
  [
    'a form that asks for more',
    takes('oneOf: [{ type: string }, { type: object, properties: { a: {} } }]'),
    takes('oneOf: [{ type: string }, { type: object, required: [a], properties: { a: {} } }]'),
    ['breaking request-narrowed'],
  ],
  ['a webhook that sends more', webhook('enum: [a]'), webhook('enum: [a, b]'), ['breaking response-member-added']],
  [
    'a webhook that sends less of an object',
    webhook(object('a: {}, b: {}')),
    webhook(object('a: {}')),
    ['breaking response-property-lost /b'],
  ],
  ['a webhook that never comes any more', webhook(''), 'webhooks: {}', ['breaking call-removed']],
  ['a new webhook', 'webhooks: {}', webhook(''), ['compatible call-added']],
  ['a webhook of another type', webhook(''), webhook('', 'text/csv'), ['breaking call-type-removed', 'breaking call-type-added']],
  [
    'what clients may answer to a webhook',
    webhook('', 'application/json', '{ 200: { content: { text/plain: { schema: { enum: [a, b] } } } }, 202: {} }'),
    webhook('', 'application/json', '{ 200: { content: { text/plain: { schema: { enum: [a] } } } } }'),
    ['breaking request-narrowed', 'breaking call-answer-removed'],
  ],
  [
    'a header of a webhook that goes',
    'webhooks: { opened: { post: { parameters: [{ name: X-Lock, in: header, schema: {} }] } } }',
    'webhooks: { opened: { post: {} } }',
    ['breaking response-header-lost'],
  ],
  [
    'a callback that sends more',
    operation(`callbacks: { done: { "{$request.body#/url}": { post: { ${json('enum: [a]')} } } } }`),
    operation(`callbacks: { done: { "{$request.body#/url}": { post: { ${json('enum: [a, b]')} } } } }`),
    ['breaking response-member-added'],
  ],
  [
    'callbacks that are sent to one place',
    operation(
      `callbacks: { ${['done', 'undone'].map((n) => `${n}: { "{$request.body#/url}": { post: { ${json(`const: ${n}`)} } } }`).join(', ')} }`,
    ),
    operation(`callbacks: { undone: { "{$request.body#/url}": { post: { ${json('enum: [undone, more]')} } } } }`),
    ['breaking call-removed', 'breaking response-member-added'],
  ],
  ['a lost property', answers(object('a: {}, b: {}')), answers(object('a: {}')), ['breaking response-property-lost /b']],
  [
    'a lost required property',
    answers(object('a: {}, b: {}', ', required: [b]')),
    answers(object('a: {}')),
    ['breaking response-property-lost /b'],
  ],
  [
    'a lost property, deep',
    answers(`type: array, items: { ${object(`a: { ${object('c: {}, d: {}')} }`)} }`),
    answers(`type: array, items: { ${object(`a: { ${object('c: {}')} }`)} }`),
    ['breaking response-property-lost /0/a/d'],
  ],
  [
    'a new property in an answer',
    answers(object('a: {}')),
    answers(object('a: {}, b: {}')),
    ['compatible response-property-added /b'],
  ],
  [
    'a new required property in a request',
    takes(object('a: {}')),
    takes(object('a: {}, b: {}', ', required: [b]')),
    ['breaking request-narrowed'],
  ],
  [
    'a property that is no longer read',
    takes(object('a: {}, b: {}')),
    takes(object('a: {}')),
    ['risky request-property-ignored /b'],
  ],
  [
    'a wrapped answer',
    answers(object('a: {}, b: {}')),
    answers(object(`lock: { ${object('a: {}, b: {}')} }`)),
    ['breaking response-wrapped'],
  ],
  [
    'letter case',
    answers(object('lock_id: {}, opened_at: {}')),
    answers(object('lockId: {}, openedAt: {}')),
    ['breaking response-letter-case'],
  ],
  [
    'a paged list',
    answers('type: array, items: {}'),
    answers(object('items: { type: array, items: {} }, next: {}')),
    ['breaking response-paged'],
  ],
  ['nullable', answers('type: string'), answers('type: [string, "null"]'), ['breaking response-widened']],
  [
    'another status',
    operation('responses: { 200: {} }'),
    operation('responses: { 201: {} }'),
    ['breaking status-removed', 'risky status-added'],
  ],
  ['a new error', operation('responses: { 200: {} }'), operation('responses: { 200: {}, 404: {} }'), ['compatible status-added']],
  ['security', operation('security: [{ a: [] }]'), operation('security: [{ a: [x] }]'), ['breaking security-tightened']],
  [
    'an alternative more',
    operation('security: [{ a: [] }]'),
    operation('security: [{ a: [] }, { b: [] }]'),
    ['compatible security-loosened'],
  ],
];

test.each(ROWS)('%s', (_, old, now, expected) => {
  expect(told(compare(old, now).changes)).toEqual(expected);
});

/** The headers of an answer, as text. */
const header = (text: string): string =>
  operation(`responses: { 200: { description: x, headers: { ${text === '' ? '' : `Lock-Count: { ${text} }`} } } }`);

test.each([
  ['type: integer', 'type: string', ['breaking response-header-widened']],
  ['type: string', 'type: integer', []],
  ['type: integer', 'enum: ["1", "2"]', []],
  ['enum: [1, 2]', 'enum: ["1", "2"]', []],
  ['enum: [1, 2]', 'enum: ["1", "3"]', ['breaking response-header-widened']],
  ['type: string, maxLength: 5', 'type: string, maxLength: 6', ['breaking response-header-widened']],
  ['type: array, items: { type: integer }', 'type: array, items: { type: boolean }', ['breaking response-header-widened']],
  ['type: string, format: date', 'type: string, pattern: "^20[0-9]{2}-0[1-9]-1[0-9]$"', []],
])('a header of %s and then of %s', (old, now, expected) => {
  const { changes } = compare(header(`schema: { ${old} }`), header(`schema: { ${now} }`));
  expect(told(changes)).toEqual(expected);
  for (const { witness } of changes) {
    if (witness?.kind !== 'value') throw new Error('a witness was expected');
    expect(isValid(schemaFrom(load(`{ ${now} }`)), witness.body, 'response', 'producer')).toBe(true);
    expect(isValid(schemaFrom(load(`{ ${old} }`)), witness.body, 'response', 'consumer')).toBe(false);
  }
});

test('a list in the query is refused by a list that shows it', () => {
  const list = (items: string): string => query(`style: form, explode: false, schema: { type: array, items: { ${items} } }`);
  const [change] = compare(list('type: integer'), list('type: integer, maximum: 5')).changes;
  expect(change).toMatchObject({ rule: 'versions/parameter-narrowed', witness: { body: [expect.any(Number)] } });
});

test('a header that is lost, and one that may be missing', () => {
  expect(told(compare(header('schema: {}'), header('')).changes)).toEqual(['breaking response-header-lost']);
  expect(told(compare(header('required: true, schema: {}'), header('schema: {}')).changes)).toEqual([
    'breaking response-header-optional',
  ]);
  const both = compare(header('required: true, schema: { type: integer }'), header('schema: { type: string }'));
  expect(told(both.changes)).toEqual(['breaking response-header-optional', 'breaking response-header-widened']);
});

test('each of several causes touches all operations that share them', () => {
  const of = (more: string): string => {
    const body = 'content: { application/json: { schema: { $ref: "#/components/schemas/Lock" } } }';
    const paths = Array.from(
      { length: 9 },
      (_, i) => `/l${i}: { put: { requestBody: { ${body} }, responses: { 200: { ${body} } } } }`,
    );
    return `paths: { ${paths.join(', ')} }\ncomponents: { schemas: { Lock: { ${object(`a: { $ref: "#/components/schemas/A" }, b: { $ref: "#/components/schemas/B" }${more}`)} }, A: { enum: [1${more === '' ? '' : ', 2'}] }, B: { type: string, maxLength: ${more === '' ? 5 : 4} } } }`;
  };
  const there = compare(of(''), of(', c: {}')).changes;
  expect(told(there)).toEqual([
    'breaking request-narrowed /b',
    'breaking response-member-added /a',
    'risky request-property-declared /c',
  ]);
  for (const change of [...there, ...compare(of(', c: {}'), of('')).changes]) {
    const paths = change.touches.flat().map((a) => a.path);
    expect({ rule: change.rule, paths: [...new Set(paths)].sort() }).toEqual({
      rule: change.rule,
      paths: Array.from({ length: 9 }, (_, i) => `/l${i}`),
    });
    expect(new Set(change.touches.flat().map((a) => JSON.stringify(a))).size).toBe(change.touches.flat().length);
  }
});

/** Two ways to write the same: nothing changed. */
const SAME: readonly (readonly [string, string])[] = [
  [answers('enum: [a]'), answers('const: a')],
  [answers(object('a: {}, b: {}')), answers(`allOf: [{ ${object('b: {}')} }, { ${object('a: {}')} }]`)],
  [answers('oneOf: [{ type: string }, { type: integer }]'), answers('oneOf: [{ type: integer }, { type: string }]')],
  [`${answers('$ref: "#/components/schemas/A"')}\ncomponents: { schemas: { A: { type: integer } } }`, answers('type: integer')],
  [
    answers('$ref: "#/components/schemas/A"') +
      '\ncomponents: { schemas: { A: { type: object, properties: { n: { $ref: "#/components/schemas/A" } } } } }',
    answers('$ref: "#/components/schemas/B"') +
      '\ncomponents: { schemas: { B: { type: object, description: renamed, properties: { n: { $ref: "#/components/schemas/B" } } } } }',
  ],
  [takes('type: number, multipleOf: 0.1'), takes('type: number, allOf: [{ multipleOf: 0.1 }]')],
];

test.each(SAME)('%s is %s', (old, now) => {
  expect(told(compare(old, now).changes)).toEqual([]);
});

test('a shared component that changed is one change with all that it touches', () => {
  const at = (schema: string): string =>
    `paths: { /a: { get: { responses: { 200: { content: { application/json: { schema: { $ref: "#/components/schemas/L" } } } } } } }, /b: { get: { responses: { 200: { content: { application/json: { schema: { type: array, items: { $ref: "#/components/schemas/L" } } } } } } } } }\ncomponents: { schemas: { L: { ${schema} } } }`;
  const { changes, verdict } = compare(at('enum: [open]'), at('enum: [open, seized]'));
  expect(changes.map((c) => [c.rule, c.touches.flat().length])).toEqual([['versions/response-member-added', 2]]);
  expect(changes[0]?.witness).toMatchObject({ kind: 'value', body: 'seized', validUnder: 'new' });
  expect(verdict).toBe('major');
});

test('what the version numbers claim', () => {
  const claimed = (a: string, b: string): unknown =>
    compareContracts(contractOf('paths: {}', a), contractOf('paths: {}', b), { versions: [] }).claimed;
  expect([
    claimed('1.2.0', '1.3.0'),
    claimed('1.2.0', '2.0.0'),
    claimed('1.2.3', '1.2.4'),
    claimed('2.0.0', '1.0.0'),
    claimed('2027-03-14', '2027-04-01'),
  ]).toEqual(['minor', 'major', 'patch', null, null]);
});

test('a schema takes what it sends, in both directions', () => {
  const raw = {
    type: 'object',
    required: ['id', 'kind'],
    properties: {
      id: { type: 'integer', readOnly: true },
      secret: { type: 'string', writeOnly: true },
      kind: {
        oneOf: [
          { type: 'object', properties: { a: { type: 'string' } } },
          { type: 'object', properties: { b: { type: 'string' } } },
        ],
      },
    },
  };
  for (const side of ['request', 'response'] as const)
    expect(isSubschema(schemaFrom(raw), schemaFrom(JSON.parse(JSON.stringify(raw))), side)).toEqual({ kind: 'contained' });
  const other = { ...raw, required: ['id', 'kind', 'secret'] };
  const verdict = isSubschema(schemaFrom(raw), schemaFrom(other), 'request');
  expect(verdict.kind).toBe('counterexample');
  if (verdict.kind === 'counterexample')
    expect([
      isValid(schemaFrom(raw), verdict.witness, 'request', 'producer'),
      isValid(schemaFrom(other), verdict.witness, 'request', 'consumer'),
    ]).toEqual([true, false]);
});

/** what the first holds alone | the first | the second */
const ALONE: readonly (readonly [string, unknown, unknown])[] = [
  ['a long name', { type: 'object' }, { propertyNames: { maxLength: 12 } }],
  [
    'a name that one pattern alone matches',
    { type: 'object', patternProperties: { '^n': {} }, additionalProperties: false },
    { patternProperties: { '^n$|^no|^n7': {} }, additionalProperties: false },
  ],
  [
    'items that are equal further on',
    { type: 'array', prefixItems: [{ type: 'integer' }, { type: 'string' }, { type: 'string' }] },
    { uniqueItems: true },
  ],
  [
    'items that are wrong in different ways',
    { type: 'array', items: { enum: [1, 2] } },
    { anyOf: [{ items: { enum: [1] } }, { items: { enum: [2] } }] },
  ],
];

test.each(ALONE)('%s is found', (_, a, b) => {
  const verdict = isSubschema(schemaFrom(a), schemaFrom(b), 'either', 'standard');
  expect(verdict.kind).toBe('counterexample');
  if (verdict.kind === 'counterexample')
    expect([isValid(schemaFrom(a), verdict.witness), isValid(schemaFrom(b), verdict.witness)]).toEqual([true, false]);
});

test('what rests on a choice that was not tried is undecided, never inside', () => {
  const a = { type: 'array', prefixItems: [{ enum: ['a', 'b'] }, { enum: ['a'] }], minItems: 2, uniqueItems: true };
  expect(isSubschema(schemaFrom(a), schemaFrom({ maxItems: 1 }), 'either', 'standard').kind).not.toBe('contained');
});

test('two tables by what happens to requests', () => {
  const router = (...list: string[]) => buildRouter(tableOf(list));
  const rules = (a: string[], b: string[]): readonly string[] =>
    [...told(compareTables(router(...a), router(...b)).changes)].sort();
  expect(rules(['GET /a -> a'], ['GET /a -> b'])).toEqual(['compatible handler-renamed']);
  expect(rules(['GET /a -> a'], [])).toEqual(['breaking routing-lost', 'risky routing-answer']);
  expect(rules([], ['GET /a -> a'])).toEqual(['compatible routing-added', 'compatible routing-answer']);
  expect(rules(['GET /a/b -> a', 'GET /a/{x} -> b'], ['GET /a/{x} -> b'])).toEqual(['breaking routing-fell-through']);
  expect(rules(['GET /a/{x:int} -> a', 'GET /a/{x} -> b'], ['GET /a/{x} -> b', 'GET /a/{x:int} -> a'])).toEqual([
    'breaking routing-taken',
  ]);
});

test('a name that stands for many others is given up only with all of them', () => {
  // Names that start with a small letter would be two forms.
  const sent = `type: object, additionalProperties: {}, anyOf: [{ maxProperties: 1, oneOf: [{}] }], allOf: [{ type: object }],
    oneOf: [true, { propertyNames: { pattern: "^[a-z]" }, oneOf: [{}] }]`;
  const told = 'type: object, additionalProperties: { format: date }, anyOf: [{ maxProperties: 1, oneOf: [{}] }]';
  expect(compare(answers(told), answers(sent)).changes.map((c) => c.effect)).toEqual(['breaking']);
});

test('whether more is taken, or less is sent, may be left open; that nothing breaks is not', () => {
  const [some, all] = ['type: string, enum: [ab]', 'type: string, pattern: "^.(?<=a)b$"'];
  const changes = [compare(takes(some), takes(all)), compare(answers(all), answers(some))].flatMap((c) => c.changes);
  expect(changes.map(({ effect, message, undecided }) => [effect, message, undecided])).toEqual([
    ['compatible', 'rewritten; it may accept more values than before (not decided which)', 'pattern'],
    ['compatible', 'rewritten; it may return fewer values (not decided which)', 'pattern'],
  ]);
});

/** What of a router makes it matter | old | new | what is told. */
const TABLES: readonly (readonly [RouterSettings, readonly unknown[], readonly unknown[], readonly string[]])[] = [
  [{}, ['ANY /a -> a'], ['GET /a -> a'], ['breaking routing-lost']],
  [{}, ['GET /{x} -> a', 'GET /{y} -> b'], ['GET /{y} -> b'], ['breaking routing-taken']],
  [{ types: 'after-match' }, ['GET /{x} -> a'], ['GET /{x:int} -> a'], ['breaking routing-type']],
  [{ types: 'after-match' }, ['GET /{x:int} -> a'], ['GET /{x} -> a'], ['compatible routing-type']],
  [
    { types: 'after-match' },
    ['GET /{x:int} -> a'],
    ['GET /{x:uint} -> b'],
    ['breaking routing-type', 'compatible handler-renamed'],
  ],
  [{ types: 'after-match' }, ['GET /{x:int} -> a'], [], ['breaking routing-lost', 'risky routing-answer']],
  [
    { wrongMethod: 'refuse' },
    ['POST /{x} -> a'],
    ['GET /b -> b', 'POST /{x} -> a'],
    ['breaking routing-lost', 'compatible routing-added', 'risky routing-answer'],
  ],
  [
    { precedence: 'most-specific', deadEnds: 'give-up' },
    ['GET /{x}/c -> a'],
    ['GET /b/d -> b', 'GET /{x}/c -> a'],
    ['breaking routing-lost', 'compatible routing-added', 'compatible routing-answer'],
  ],
  [{}, ['GET /{rest*} -> a'], [], ['breaking routing-lost', 'risky routing-answer']],
  [
    {},
    ['GET /{rest*} -> a'],
    [{ within: '/b', unmatched: 'end', routes: ['GET /c -> c'] }, 'GET /{rest*} -> a'],
    ['breaking routing-lost', 'breaking routing-taken'],
  ],
];

test.each(TABLES)('two tables under %j: %j, then %j', (facts, a, b, expected) => {
  const [old, now] = [a, b].map((list) => buildRouter(tableOf(list as never, facts)));
  expect([...told(compareTables(old as never, now as never).changes)].sort()).toEqual([...expected].sort());
});

test('a type of the same name may be another one in each table', () => {
  const routes = ['GET /x/{b:berth}/{rest*} -> a', 'GET /{all*} -> z'];
  const [old, now] = ['A1', 'B2'].map((word) =>
    buildRouter(tableOf(routes, {}, 'brace', new Map([['berth', amongType('berth', [word])]]))),
  );
  const { changes } = compareTables(old as never, now as never);
  expect(told(changes)).toEqual(['breaking routing-taken', 'breaking routing-taken']);
  expect(changes.map(({ witness }) => witness)).toMatchObject([{ target: '/x/A1' }, { target: '/x/B2' }]);
});

test('a type of a route that takes less loses requests, one that takes more gains some; a request shows each', () => {
  const router = (...list: string[]) => buildRouter(tableOf(list));
  const changes = (a: string[], b: string[]) => compareTables(router(...a), router(...b)).changes;
  const [wide, slim] = ['GET /a/{x:int(1..100)} -> a', 'GET /a/{x:int(1..50)} -> a'];
  expect(told(changes([wide], [slim]))).toEqual(['breaking routing-lost']);
  expect(changes([wide], [slim])[0]?.witness).toMatchObject({ target: '/a/100', wasTakenBy: 'a', isTakenBy: null });
  expect(told(changes([slim], [wide]))).toEqual(['compatible routing-added']);
  expect(told(changes([wide, 'GET /a/{y} -> b'], [slim, 'GET /a/{y} -> b']))).toEqual(['breaking routing-taken']);
  expect(changes([wide, 'GET /{b}/7 -> b'], [wide, 'GET /{b}/7 -> b'])).toEqual([]);
});

test('requests that show what an operation lost can be sent', () => {
  const text =
    'servers: [{ url: /desk }]\npaths: { "/locks/{id}": { parameters: [{ name: id, in: path, required: true, schema: { enum: [elm] } }], get: { responses: {} } } }';
  expect(compareContracts(contractOf(text), contractOf('paths: {}'), { versions: [] }).changes[0]?.witness).toMatchObject({
    target: '/desk/locks/elm',
  });
});

test('JSON of which nothing was said may be anything', () => {
  const none = operation('responses: { 200: { content: { application/json: {}, application/xml: {} } } }');
  expect(told(compare(answers('type: string'), none).changes.filter((c) => c.rule !== 'versions/response-type-added'))).toEqual([
    'breaking response-widened',
  ]);
  expect(told(compare(none, none).changes)).toEqual([]);
});

test('what is read-only behind an unchanged reference is no part of a request any more', () => {
  const body =
    '{ type: object, additionalProperties: false, required: [lockId], properties: { lockId: { $ref: "#/components/schemas/Id" } } }';
  const put = `paths: { /locks: { put: { requestBody: { content: { application/json: { schema: ${body} } } } } } }`;
  const id = (more: string): string => `${put}\ncomponents: { schemas: { Id: { type: integer${more} } } }`;
  const [free, made] = [id(''), id(', readOnly: true')];
  expect(told(compare(free, made).changes)).toEqual(['breaking request-narrowed']);
  expect(told(compare(made, free).changes)).toEqual(['breaking request-narrowed']);
});

test('an enumeration that is marked as open grows', () => {
  const [old, now] = [answers('x-grows: true, enum: [a]'), answers('x-grows: true, enum: [a, b]')].map((t) => contractOf(t)) as [
    never,
    never,
  ];
  const effects = (openEnumerations?: string): readonly string[] =>
    compareContracts(old, now, { versions: [], openEnumerations }).changes.map((c) => c.effect);
  expect([effects(), effects('x-grows'), effects('x-other')]).toEqual([['breaking'], ['risky'], ['breaking']]);
});

test('weighed: levels for a rule -> its changes have that effect, the verdict follows', () => {
  const comparison = compare(answers('enum: [a]'), answers('enum: [a, b]'));
  const effects = (level: 'error' | 'warning' | 'note' | 'off'): readonly unknown[] => {
    const { verdict, changes } = weighed(comparison, { 'versions/response-member-added': level });
    return [verdict, ...changes.map((c) => c.effect)];
  };
  expect(effects('error')).toEqual(['major', 'breaking']);
  expect(effects('warning')).toEqual(['minor', 'risky']);
  expect(effects('note')).toEqual(['minor', 'compatible']);
  expect(effects('off')).toEqual(['patch']);
});

test('a schema that changed where nothing can be sent -> only operations that can send it are touched', () => {
  const document = (pattern: string): string => `paths:
  /notes: { get: { responses: { 200: { description: x, content: { application/json: { schema: { $ref: "#/components/schemas/Note" } } } } } } }
  /never: { get: { responses: { 200: { description: x, content: { application/json: { schema: { type: array, items: { $ref: "#/components/schemas/Never" } } } } } } } }
components:
  schemas:
    Note: { type: object, required: [kind], properties: { kind: { const: note }, text: { type: string, pattern: "${pattern}" } } }
    Never: { allOf: [{ $ref: "#/components/schemas/Note" }, { required: [kind], properties: { kind: { const: other } } }] }
`;
  const { changes } = compare(document('^[a-z]+$'), document('^[a-z]*$'));
  expect(changes.map((c) => [c.effect, c.touches.flat().map((at) => at.path)])).toEqual([['breaking', ['/notes']]]);
});
