/** Lists in looks that a random printer does not make: what is read of each, row by row. */
import { expect, test } from 'vitest';
import { folderReading } from '../../../src/core/listing/folder.ts';
import { listingReading } from '../../../src/core/listing/listing.ts';
import type { SourceReading } from '../../../src/core/listing/row.ts';
import { styleOf } from '../../../src/core/listing/style.ts';
import { mappedPath } from '../../../src/core/listing/types.ts';
import { valueReading } from '../../../src/core/listing/values.ts';
import { parsePattern } from '../../../src/core/paths/styles.ts';
import { TYPE_NAMES } from '../../../src/core/paths/types.ts';

/** `GET|POST /locks locks.list [name]`, one for each row. */
const told = ({ rows }: SourceReading): readonly string[] =>
  rows.map((r) =>
    [r.methods?.join('|') ?? '?', r.host, r.path, r.handler, r.name === undefined ? undefined : `[${r.name}]`]
      .filter((t) => t !== undefined)
      .join(' '),
  );

const SAMPLES: [name: string, text: string, told: readonly string[], left?: number][] = [
  [
    'a tree of parts of segments',
    '└── /\n    ├── lock\n    │   ├── s (GET, POST)\n    │   │   └── /\n    │   │       └── :id (GET)\n    │   └── ers (GET)\n    └── health (GET)\n',
    ['GET|POST /locks', 'GET /locks/:id', 'GET /lockers', 'GET /health'],
  ],
  [
    'a tree of whole segments',
    '/\n├── locks  GET locks.list\n│   └── {lockId}  GET locks.read\n└── gates  POST gates.make\n',
    ['GET /locks locks.list', 'GET /locks/{lockId} locks.read', 'POST /gates gates.make'],
  ],
  ['a tree that names no methods', '├── /locks\n│   └── /:id\n└── /gates\n', ['? /locks/:id', '? /gates']],
  [
    'sizes of pages',
    'Route (app)                Size     First Load\n┌ ○ /                      5.3 kB     92.1 kB\n├ ƒ /api/locks/[lockId]    0 B            0 B\n└ ○ /yards                 1.2 kB     88.0 kB\n+ shared by all            86.9 kB\n  ├ chunks/938.js          31.4 kB\n\n○  (Static)   prerendered\nƒ  (Dynamic)  rendered on demand\n',
    ['? /', '? /api/locks/[lockId]', '? /yards'],
  ],
  [
    'two headings with one space between, empty cells',
    '  Prefix Verb   URI Pattern             Controller#Action\n   locks GET    /locks(.:format)        locks#index\n         POST   /locks(.:format)        locks#create\n',
    ['GET /locks(.:format) locks#index [locks]', 'POST /locks(.:format) locks#create'],
  ],
  [
    'no slash at the start, dots between, a name before the handler, middleware below',
    '  GET|HEAD   / .....................................\n  POST       locks ......... locks.store › Locks@store\n             ⇂ auth:desk\n  DELETE     a/long/path/{a} … Locks@destroy\n\n                         Showing [3] routes\n',
    ['GET|HEAD /', 'POST locks Locks@store [locks.store]', 'DELETE a/long/path/{a} Locks@destroy'],
    1,
  ],
  [
    'a box with hosts and cells that go on in the next line',
    '┌──────────────┬────────┬──────────┬─────────┐\n│ Domain       │ Method │ URI      │ Action  │\n├──────────────┼────────┼──────────┼─────────┤\n│ api.canal.io │ GET    │ /locks/  │ locks.  │\n│              │        │ {lockId} │ read    │\n├──────────────┼────────┼──────────┼─────────┤\n│              │ POST   │ /locks   │ locks.m │\n└──────────────┴────────┴──────────┴─────────┘\n',
    ['GET api.canal.io /locks/{lockId} locks.read', 'POST /locks locks.m'],
  ],
  [
    'a path that was cut',
    'METHOD  PATH            HANDLER\nGET     /locks          list\nGET     /a/very/long…   other\n',
    ['GET /locks list'],
    1,
  ],
  [
    'rows that handle nothing',
    'USE     /locks    auth\nGET     /locks    list\nPOST    /locks    make\n',
    ['GET /locks list', 'POST /locks make'],
    1,
  ],
  [
    'methods in brackets and quotes',
    "['GET', 'POST']  /locks   list\n['GET']          /gates   gates\n",
    ['GET|POST /locks list', 'GET /gates gates'],
  ],
  ['lower case', 'get     /locks      list\nput     /locks/:id  replace\n', ['GET /locks list', 'PUT /locks/:id replace']],
  [
    'a lock is no method',
    'lock     GET  /locks/{id}\nunlock   PUT  /locks/{id}\n',
    ['GET /locks/{id} lock', 'PUT /locks/{id} unlock'],
  ],
  [
    'a host before the path',
    'GET  api.canal.example/locks   list\nGET  www.canal.example/        home\n',
    ['GET api.canal.example /locks list', 'GET www.canal.example / home'],
  ],
  [
    'expressions',
    'GET  ^locks/(?P<pk>\\d+)/$   read\nGET  ^gates/$               list\n',
    ['GET ^locks/(?P<pk>\\d+)/$ read', 'GET ^gates/$ list'],
  ],
  ['running text', '2027-03-14 INFO mapped "{[/locks],methods=[GET]}" onto list\nsomething else\n', ['GET /locks']],
  [
    'records by keys',
    'method: GET\npath: /locks\nhandler: list\n\nmethod: POST\npath: /locks\nhandler: make\n',
    ['GET /locks list', 'POST /locks make'],
  ],
  [
    'pipes without a frame',
    'GET  | /locks     | list\nPOST | /locks     | make\nGET  | /locks/:id | read\n',
    ['GET /locks list', 'POST /locks make', 'GET /locks/:id read'],
  ],
  ['semicolons', 'method;path;handler\nGET;/locks;list\nPOST;/locks;make\n', ['GET /locks list', 'POST /locks make']],
  [
    'numbers before the rows',
    '1  GET   /locks   list\n2  POST  /locks   make\n3  GET   /gates   gates\n',
    ['GET /locks list', 'POST /locks make', 'GET /gates gates'],
  ],
  [
    'sizes behind the rows',
    'GET   /locks   list   1.2 kB\nPOST  /locks   make   310 B\n',
    ['GET /locks list', 'POST /locks make'],
  ],
  ['bullets', '  * GET /locks\n  * POST /locks\n  - DELETE /locks/{id}\n', ['GET /locks', 'POST /locks', 'DELETE /locks/{id}']],
  [
    'a handler that goes on in the next line',
    'GET   /locks   canal.locks.\n               list\nPOST  /locks   canal.locks.make\n',
    ['GET /locks canal.locks.list', 'POST /locks canal.locks.make'],
  ],
  [
    'a column of middleware',
    'Method  Path     Middleware   Handler\nGET     /locks   auth, log    list\nPOST    /gates   log          make\n',
    ['GET /locks list', 'POST /gates make'],
  ],
  ['any method in three spellings', 'ANY   /a   x\nALL   /b   y\n*     /c   z\n', ['ANY /a x', 'ANY /b y', 'ANY /c z']],
  ['old line ends', 'GET /locks list\rPOST /locks make\r', ['GET /locks list', 'POST /locks make']],
  [
    'links and hidden marks of a terminal',
    '\u001b]8;;file:///x\u0007GET\u001b]8;;\u0007  /locks  \u001b[1;32mlist\u001b[0m\n\ufeffPOST  /locks  make\n',
    ['GET /locks list', 'POST /locks make'],
  ],
  [
    'arrows',
    'GET /locks -> locks.list\nPOST /locks => locks.make\nPUT /gates → gates.put\n',
    ['GET /locks locks.list', 'POST /locks locks.make', 'PUT /gates gates.put'],
  ],
  [
    'a handler before a method and a path',
    'locks.list    GET   /locks\nlocks.make    POST  /locks\n',
    ['GET /locks locks.list', 'POST /locks locks.make'],
  ],
  ['colons behind methods', 'GET:    /locks   list\nPOST:   /locks   make\n', ['GET /locks list', 'POST /locks make']],
  [
    'structured log lines',
    'level=info starting\nlevel=info method=GET route=/locks handler=list\nlevel=info method=POST route=/locks handler=make\nlevel=info done=true\n',
    ['GET /locks list', 'POST /locks make'],
  ],
  [
    'handlers below their route',
    '\u001b[32mALL\u001b[0m   /v1/*\n        [middleware]\n\u001b[32mGET\u001b[0m   /v1/locks\n        listLocks\n\u001b[32mPOST\u001b[0m  /v1/locks\n        [middleware]\n        makeLock\n',
    ['GET /v1/locks listLocks', 'POST /v1/locks makeLock'],
    1,
  ],
  ['nothing of the kind', 'Dear lock keeper,\nthe /locks page is closed. GET well soon.\n', [], 1],
];

test.each(SAMPLES)('listing: %s', (_, text, expected, left = 0) => {
  const reading = listingReading(text);
  expect(told(reading)).toEqual(expected);
  expect(reading.skipped.length, JSON.stringify(reading.skipped)).toBe(left);
});

const VALUES: [name: string, value: unknown, told: readonly string[]][] = [
  ['objects in a list', { data: { routes: [{ method: 'GET', url: '/locks', handler: 'list' }] } }, ['GET /locks list']],
  [
    'methods below paths',
    { paths: { '/locks': { get: { operationId: 'list' }, post: { handler: 'make' } } } },
    ['GET /locks list', 'POST /locks make'],
  ],
  [
    'paths below methods',
    { GET: { '/locks': 'list' }, POST: [{ path: '/locks', handler: 'make' }] },
    ['? /locks list', 'POST /locks make'],
  ],
  ['keys of both', { 'GET /locks': 'list', 'POST /locks': { action: 'make' } }, ['GET /locks list', 'POST /locks make']],
  ['lists of texts', [['GET', '/locks', 'list']], ['GET /locks list']],
  [
    'methods and patterns nested inside',
    {
      mappings: [{ handler: 'Locks#list', details: { conditions: { methods: ['GET', 'POST'], patterns: ['/locks', '/lock'] } } }],
    },
    ['GET|POST /locks Locks#list', 'GET|POST /lock Locks#list'],
  ],
  ['methods as switches', [{ path: '/locks', methods: { get: true, post: false }, name: 'locks' }], ['GET /locks [locks]']],
  ['addresses that are no routes', { links: [{ href: 'https://canal.example/a' }, { path: '/etc/hosts' }] }, []],
];

test.each(VALUES)('JSON: %s', (_, value, expected) => {
  expect(told(valueReading(value))).toEqual(expected);
});

test('a folder: files that export methods or a default -> routes; groups and marks are no segments', () => {
  const { rows, skipped } = folderReading([
    { file: 'locks/[lockId]/handler.ts', exports: ['GET', 'DELETE', 'dynamic'] },
    { file: '(admin)/slots/index.ts', exports: ['default'] },
    { file: 'gates.post.ts', exports: ['default'] },
    { file: 'crew/[[...rest]].ts', exports: ['get'] },
    { file: '_shared/helpers.ts', exports: ['GET'] },
    { file: 'types.ts', exports: ['Lock'] },
    { file: 'broken.ts', exports: undefined },
  ]);
  expect(rows.map((r) => `${r.methods?.join('|')} ${r.path}`)).toEqual([
    'GET /locks/[lockId]',
    'DELETE /locks/[lockId]',
    'ANY /slots',
    'POST /gates',
    'GET /crew/[[...rest]]',
  ]);
  expect(skipped.map((s) => s.text)).toEqual(['_shared/helpers.ts', 'broken.ts']);
  // Beside files that are named as routes a default is a page or a part of one.
  const pages = folderReading([
    { file: 'locks/route.ts', exports: ['GET'] },
    { file: 'layout.tsx', exports: ['default'] },
  ]);
  expect([pages.rows.map((r) => r.path), pages.skipped.map((s) => s.text)]).toEqual([['/locks'], ['layout.tsx']]);
});

test('the style of a list, and types of other routers in the words of ours', () => {
  const style = (...paths: readonly string[]): string => styleOf(paths).style;
  expect([
    style('/a/{b}', '/c'),
    style('/a/:b'),
    style('/a/:b(.:f)', '/c/:d'),
    style('/a/<int:b>'),
    style('/a/[b]'),
    style('^a/(?P<b>x)$'),
    style('/a'),
  ]).toEqual(['brace', 'colon', 'parens', 'angle', 'bracket', 'regex', 'brace']);
  const known = new Set(['int', 'uuid']);
  expect(mappedPath('locks/{id<\\d+>}/{page<\\d+>?1}', 'brace', known).path).toBe('/locks/{id:\\d+}/{page:\\d+?}');
  expect(mappedPath('/a/{b:integer}/{c:path}', 'brace', known).path).toBe('/a/{b:int}/{c:path}');
  expect(mappedPath('/ports/{port:code}', 'brace', known)).toMatchObject({
    path: '/ports/{port}',
    notes: [expect.stringContaining('"code" is no type here')],
  });
  expect(mappedPath('/a/{b:int}', 'brace', known, true).path).toBe('/a/{b}');
  expect(mappedPath('/a/{b:int:min(1)}/{c:guid?}/{d:int=5}', 'brace', known).path).toBe('/a/{b:int}/{c:uuid?}/{d:int?}');
  expect(mappedPath('/a/<guid:b>/<yyyy:c>/<path:d>/<string:e>', 'angle', known)).toMatchObject({
    path: '/a/<uuid:b>/<c>/<path:d>/<string:e>',
    notes: [expect.stringContaining('"yyyy" is no type here')],
  });
  expect(mappedPath('/a/:b{[0-9]{2}}/:c<int>/:d', 'colon', known).path).toBe('/a/:b([0-9]{2})/:c(-?\\d+)/:d');
  // What is mapped is read by our own parsers.
  for (const [path, written] of [
    ['/a/{b:double}/{c:boolean}', 'brace'],
    ['/a/<float:b>/<guid:c>', 'angle'],
    ['/a/:b{[0-9]+}', 'colon'],
  ] as const)
    expect(parsePattern(mappedPath(path, written, new Set(TYPE_NAMES)).path, written, new Map())).toMatchObject({
      ok: true,
      flaws: [],
    });
});
