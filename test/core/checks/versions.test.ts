import { load } from 'js-yaml';
import { expect, test } from 'vitest';
import { contextOf, type Service } from '../../../src/core/checks/engine/context.ts';
import { check } from '../../../src/core/checks/index.ts';
import { versionGrid } from '../../../src/core/compare/version-grid.ts';
import { readContract } from '../../../src/core/contract/read/read-contract.ts';
import { follow } from '../../../src/core/routes/follow/follow.ts';
import { buildRouter } from '../../../src/core/routes/index/router.ts';
import { type Versioning, withRanges } from '../../../src/core/routes/request/requested-version.ts';
import { tableOf } from '../tables.ts';

const PLAIN = { name: '', default: undefined, missing: 400, unknown: 400, elsewhere: 404 };
const declared = (...ids: readonly (string | object)[]) =>
  ids.map((v, i) => ({
    deprecated: undefined,
    sunset: undefined,
    place: { file: 'elm-gate.yaml', pointer: `/versioning/versions/${i}` },
    ...(typeof v === 'string' ? { id: v } : v),
  })) as unknown as NonNullable<Service['versions']>;

function service(routes: string, versions: Service['versions'], versioning?: Partial<Versioning>, document?: string): Service {
  const ids = (versions ?? []).map((v) => v.id);
  const read = readContract(load(document ?? 'openapi: 3.1.0\npaths: {}'), 'canal.openapi.yaml', () => 'no such file');
  if (!read.ok) throw new Error(read.message);
  const asked = { ...PLAIN, selector: 'path' as const, versions: ids, ...versioning };
  const table = withRanges(tableOf(load(routes) as never), ids);
  const versionsAt = { file: 'elm-gate.yaml', pointer: '/versioning' };
  return {
    name: 'canal',
    table,
    contracts: document === undefined ? [] : [read.contract],
    versions,
    versioning: asked,
    versionsAt,
  };
}

/** `GET /locks same breaking | none 404 | unknown 404`. */
function grid(s: Service): readonly string[] {
  const context = contextOf(s);
  const outcome = (f: ReturnType<typeof follow> | undefined): string => f?.leaf?.route.handler ?? String(f?.status);
  return versionGrid(context.versioned(), context.presentVersions(), context.router, { contracts: [] }).map(
    (r) => `${r.method} ${r.path} ${r.cells.map((c) => c.standing).join(' ')} | ${outcome(r.silent)} | ${outcome(r.unknown)}`,
  );
}

test('one operation in several versions, told apart by a prefix, behind another one, or a parameter', () => {
  const operation = (path: string, schema: string): string =>
    `  ${path}: { get: { responses: { 200: { description: x, content: { application/json: { schema: ${schema} } } } } } }\n`;
  const document = `openapi: 3.1.0\npaths:\n${operation('/desk/v1/locks', '{ type: string }')}${operation('/desk/v2/locks', '{ type: [string, "null"] }')}${operation('/desk/v1/tolls', '{ const: 1 }')}${operation('/desk/v2/tolls', '{ enum: [1] }')}`;
  const routes = `
- GET /desk/v1/locks -> a
- GET /desk/v2/locks -> b
- GET /desk/v1/tolls -> c
- GET /desk/v2/tolls -> d
- GET /desk/v1/old -> e
- GET /desk/v2/new -> f
- "GET /desk/v1/keepers/{id:uint} -> g"
- "GET /desk/v2/keepers/{no:int} -> h"
- "GET /{version:v[12]}/gates -> i"
- GET /health -> j
`;
  expect(grid(service(routes, declared('1', '2'), {}, document))).toEqual([
    'GET /desk/locks same breaking | 404 | 404',
    'GET /desk/tolls same same | 404 | 404',
    'GET /desk/old same dropped | 404 | 404',
    'GET /desk/new none new | 404 | 404',
    'GET /desk/keepers/{id:uint} same changed | 404 | 404',
    'GET /gates same same | 404 | 404',
    'GET /health same same | j | 404',
  ]);
});

test('each operation is compared by itself, whatever the same schema changed for others', () => {
  const types = ['application/json', 'application/hal+json'].map(
    (t) => `${t}: { schema: { $ref: '#/components/schemas/LockVN' } }`,
  );
  const version = (n: number): string =>
    ['locks', 'gates', 'basins']
      .map((path) => `  /v${n}/${path}: { get: { responses: { 200: { description: x, content: { ${types.join(', ')} } } } } }\n`)
      .join('')
      .replaceAll('VN', String(n));
  const lock = (n: number, most: number): string =>
    `    Lock${n}: { type: object, properties: { of: { type: array, items: { $ref: '#/components/schemas/Rise${n}' } } } }\n    Rise${n}: { type: integer, maximum: ${most} }\n`;
  const document = `openapi: 3.1.0\npaths:\n${version(1)}${version(2)}components:\n  schemas:\n${lock(1, 9)}${lock(2, 12)}`;
  expect(grid(service('[]', declared('1', '2'), {}, document)).map((line) => line.split(' |')[0])).toEqual([
    'GET /locks same breaking',
    'GET /gates same breaking',
    'GET /basins same breaking',
  ]);
});

test('a document alone says for which versions an operation is: by the values of a parameter, and not by its own version', () => {
  const parameter = (where: string, ids: string): string =>
    `parameters: [{ name: Desk-Version, in: ${where}, schema: { enum: [${ids}] } }]`;
  const document = (where: string): string => `openapi: 3.1.0
info: { title: Canal, version: 2.4.0 }
paths:
  /locks: { get: { ${parameter(where, '1, 2')} } }
  /tolls: { get: { ${parameter(where, '"2", "3"')} } }
  /gates: { get: {} }
`;
  const rows = (where: 'header' | 'query'): readonly string[] =>
    grid(service('[]', declared('1', '2', '3'), { selector: where, name: 'desk-version' }, document(where))).map(
      (r) => r.split(' |')[0] as string,
    );
  for (const where of ['header', 'query'] as const)
    expect(rows(where)).toEqual(['GET /locks same same dropped', 'GET /tolls none new same', 'GET /gates same same same']);
});

const HEADER = { selector: 'header' as const, name: 'Desk-Version' };
const BY_HEADER = `
- { route: GET /locks, handler: old, version: "1" }
- { route: GET /locks, handler: new, version: "2.." }
- { route: GET /tolls, handler: all }
- { route: GET /keepers, handler: some, version: "..2" }
`;

test('versions in a header: ranges, a default, none, and one that nobody knows', () => {
  expect(grid(service(BY_HEADER, declared('1', '2', '3'), HEADER))).toEqual([
    'GET /locks same same same | 400 | 400',
    'GET /tolls same same same | all | all',
    'GET /keepers same same dropped | 400 | 400',
  ]);
  expect(grid(service(BY_HEADER, declared('1', '2', '3'), { ...HEADER, default: '2', unknown: 406 }))[0]).toMatch(
    /\| new \| 406$/u,
  );
});

test.each([
  [{ selector: 'media-type', name: 'v' }, '/locks', { Accept: 'application/json;v=1' }, 'old'],
  [{ selector: 'query', name: 'v' }, '/locks?v=3', {}, 'new'],
  [{ ...HEADER, also: [{ selector: 'query', name: 'v' }] }, '/locks?v=1', {}, 'old'],
  [{ ...HEADER, also: [{ selector: 'query', name: 'v' }] }, '/locks?v=1', { 'desk-version': '2' }, 'new'],
  [{ selector: 'path', also: [HEADER] }, '/v1/gates', { 'Desk-Version': '2' }, 'gates'],
  [{ selector: 'path', also: [HEADER] }, '/locks', { 'Desk-Version': '2' }, 'new'],
])('the version is asked of %j for %s %j', (versioning, target, headers, handler) => {
  const routes = `${BY_HEADER.replaceAll(' }', ', returns: [application/json] }')}- { route: GET /v1/gates, handler: gates, version: "1" }\n`;
  const { table, versioning: asked } = service(routes, declared('1', '2', '3'), versioning as never);
  const found = follow(buildRouter(table as never, asked), { method: 'GET', target, headers: headers as never });
  expect(found.leaf?.route.handler).toBe(handler);
});

test.each<[string, string, Service['versions'], Partial<Versioning>, readonly string[]]>([
  [
    'a version that nobody declared',
    '- GET /v3/locks -> a\n- { route: GET /v1/tolls, handler: b, version: "1" }',
    declared('1', '2'),
    {},
    ['error versions/undeclared /v3/locks'],
  ],
  [
    'a condition for one',
    '- { route: GET /locks, handler: a, version: "7" }',
    declared('1'),
    HEADER,
    ['error versions/undeclared /locks'],
  ],
  [
    'versions in paths beside a header',
    '- GET /v1/locks -> a\n- { route: GET /tolls, handler: b, version: "1" }',
    declared('1'),
    HEADER,
    ['warning versions/mixed-selectors /v1/locks'],
  ],
  [
    'two versions in one route',
    '- { route: GET /v1/locks, handler: a, version: "2" }\n- GET /v2/locks -> b',
    declared('1', '2'),
    {},
    ['warning versions/mixed-selectors /v1/locks'],
  ],
  [
    'dropped without notice',
    '- GET /v1/locks -> a\n- GET /v2/tolls -> b\n- GET /v1/tolls -> c',
    declared('1', '2'),
    {},
    ['warning versions/dropped /v1/locks'],
  ],
  [
    'dropped with notice',
    '- { route: GET /v1/locks, handler: a, sunset: 2027-06-30 }\n- GET /v2/tolls -> b',
    declared('1', '2'),
    {},
    [],
  ],
  [
    'dropped with all of its version',
    '- GET /v1/locks -> a\n- GET /v2/tolls -> b',
    declared({ id: '1', sunset: '2027-06-30' }, '2'),
    {},
    [],
  ],
  [
    'most is dropped',
    '- GET /v1/a -> a\n- GET /v1/b -> b\n- GET /v2/c -> c',
    declared('1', '2'),
    {},
    ['warning versions/dropped /v1/a'],
  ],
  [
    'a default in the path',
    '- GET /v1/locks -> a',
    declared('1'),
    { default: '1' },
    ['error versions/default-in-path default: 1'],
  ],
  [
    'a deprecated version without an end',
    '- GET /v1/locks -> a',
    declared({ id: '1', deprecated: true }),
    {},
    ['note versions/no-sunset version 1'],
  ],
  [
    'a deprecated route without an end',
    '- { route: GET /v1/locks, handler: a, deprecated: true }',
    declared('1'),
    {},
    ['note versions/no-sunset /v1/locks'],
  ],
  [
    'an end that has passed',
    '- { route: GET /v1/locks, handler: a, sunset: 2027-03-13 }\n- { route: GET /v1/tolls, handler: b, sunset: 2027-03-14 }',
    declared('1'),
    {},
    ['warning versions/sunset-passed /v1/locks'],
  ],
  [
    'a version that has ended',
    '- GET /v1/locks -> a\n- GET /v1/tolls -> b',
    declared({ id: '1', sunset: '2027-01-01' }),
    {},
    ['warning versions/sunset-passed /v1/locks'],
  ],
])('%s', (_, routes, versions, versioning, expected) => {
  const told = check({ ...service(routes, versions, versioning), today: '2027-03-14' }).filter((f) =>
    f.rule.startsWith('versions/'),
  );
  expect(told.map((f) => `${f.level} ${f.rule} ${f.at.what.replace(/^GET (\S+) .*$/u, '$1')}`)).toEqual(expected);
});

test('without settings the versions are read out of paths', () => {
  const context = contextOf({
    name: 'canal',
    table: tableOf(['GET /v1/a -> a', 'GET /v10/a -> b', 'GET /v9/a -> c']),
    contracts: [],
  });
  expect(context.versions()).toMatchObject({ assumed: true, all: [{ id: '1' }, { id: '9' }, { id: '10' }] });
});

test.each([
  ['header', 'Desk-Version', 'Desk-Versoin', 'error'],
  ['header', 'Desk-Version', 'App-Version', 'warning'],
  ['header', 'Desk-Version', 'X-Request-Id', undefined],
  ['query', 'v', 'q', undefined],
  ['query', 'v', 'id', undefined],
] as const)('the %s %s and a document that has %s: %s', (selector, name, found, level) => {
  const parameter = `{ name: ${found}, in: ${selector}, schema: { type: string } }`;
  const document = `openapi: 3.1.0\npaths:\n  /locks: { get: { parameters: [${parameter}], responses: { 200: { description: x } } } }\n`;
  const desk = service('- { route: GET /locks, handler: locks.list }', declared('1', '2'), { selector, name }, document);
  expect(check(desk).find((f) => f.rule === 'versions/selector-differs')?.level).toBe(level);
});
