import { spawnSync } from 'node:child_process';
import { mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from 'vitest';
import { folder, NODE, PROGRAM, run, table } from './run.ts';

const DOCUMENT = 'openapi: 3.1.0\ninfo: { title: Canal, version: 1.0.0 }\npaths:\n  /locks: { get: {} }\n  /tolls: { get: {} }\n';

test('check: findings with place, witness and fingerprint, exit status by level', () => {
  const dir = folder({ 'canal.routes.yaml': table('GET /locks/{lockId} -> locks.read', 'GET /locks/closed -> locks.closed') });
  const json = run(dir, ['check', '--format', 'json']);
  expect(json.status).toBe(1);
  const { findings, summary } = JSON.parse(json.out);
  expect(summary).toEqual({ error: 1, warning: 0, note: 0, known: 0 });
  expect(findings[0]).toMatchObject({
    rule: 'paths/shadowed',
    message: 'GET /locks/closed can never be reached',
    at: { file: 'canal.routes.yaml', line: 5, column: 5, pointer: '/routes/1', what: 'GET /locks/closed -> locks.closed' },
    related: [{ role: 'shadowed by', line: 4, pointer: '/routes/0' }],
    witness: { kind: 'request', method: 'GET', target: '/locks/closed', headers: {}, takenBy: 'locks.read' },
  });
  writeFileSync(
    join(dir, 'canal.routes.yaml'),
    `# moved down\n\n${table('GET /other -> x', 'GET /locks/{lockId} -> locks.read', 'GET /locks/closed -> locks.closed')}`,
  );
  const moved = JSON.parse(run(dir, ['check', '--format', 'json']).out).findings[0];
  expect(moved.at.line).toBe(8);
  expect(moved.fingerprint).toBe(findings[0].fingerprint);
  writeFileSync(join(dir, 'elm-gate.yaml'), 'levels: { paths/shadowed: note }\n');
  expect(run(dir, ['check']).status).toBe(0);
  expect(run(dir, ['check', '--fail-on', 'note']).status).toBe(1);
  const text = run(dir, ['check', '--output', 'out.txt']);
  expect(text.out).toBe('');
  expect(readFileSync(join(dir, 'out.txt'), 'utf8')).toMatch(
    /Found canal\.routes\.yaml[\s\S]*can never be reached[\s\S]*Not checked:[\s\S]*1 note in 3 routes of canal\.\nNext: elm-gate explain paths\/shadowed\./u,
  );
});

test('a table and a document are held together, a prefix that is missing throughout is one finding', () => {
  const dir = folder({
    'canal.routes.yaml': table(
      'GET /locks -> a',
      'GET /passages/{id:int} -> b',
      'ANY /logs/{path+} -> l',
      'GET /files/{name+} -> f',
      'PUT /files -> p',
    ),
    // A document writes a tail as a parameter.
    'canal.openapi.yaml': `${DOCUMENT}  /passages/{passageId}: { get: {}, delete: {} }\n  /files/{file}: { get: {} }\n  /files: { put: { requestBody: { content: { application/json: { schema: { properties: { name: {} } } } } } } }\n`,
  });
  const rules = (args: string[]): string[] =>
    JSON.parse(run(dir, ['check', '--format', 'json', ...args]).out)
      .findings.map((f: { rule: string; message: string }) => `${f.rule} ${f.message}`)
      .filter((line: string) => /^methods\/(?:unserved|undocumented|base-path|key-elsewhere)/u.test(line));
  expect(rules([])).toEqual([
    'methods/unserved GET /tolls is documented, and a request for it is answered 404',
    'methods/unserved DELETE /passages/{passageId} is documented, and a request for it is answered 405',
    'methods/undocumented ANY /logs/{path+} is served, and no document mentions it',
    'methods/key-elsewhere PUT /files reads name from the body, where its siblings read it from the path',
  ]);
  writeFileSync(
    join(dir, 'v.routes.yaml'),
    'routeTable: 1\nroutes:\n  - within: /v2\n    routes:\n      - GET /locks -> a\n      - GET /tolls -> t\n',
  );
  writeFileSync(join(dir, 'v.openapi.yaml'), DOCUMENT);
  const shifted = rules(['--routes', 'v.routes.yaml', '--document', 'v.openapi.yaml']);
  expect(shifted).toEqual([
    'methods/base-path the paths of "Canal" lack the prefix /v2 that the routes have: 2 of its 2 paths fit once it is put before them',
  ]);
  writeFileSync(
    join(dir, 'v.openapi.yaml'),
    `${DOCUMENT}servers: [{ url: 'https://desk.example/{v}', variables: { v: { default: v2 } } }]\n`,
  );
  expect(rules(['--routes', 'v.routes.yaml', '--document', 'v.openapi.yaml'])).toEqual([]);
});

test('a document alone stands in for the table', () => {
  const dir = folder({
    'canal.openapi.yaml': `${DOCUMENT}  /locks/{a}: { get: {} }\n  /locks/closed: { get: {} }\n  /locks/{b}: { get: {} }\n`,
  });
  const { out } = run(dir, ['check']);
  expect(out).toContain('Not checked: the document against a route table');
  expect(out).not.toContain('GET /locks/closed can never');
  expect(run(dir, ['follow', 'GET', '/locks/closed']).out).toContain('is handled by GET /locks/closed');
});

test('follow: route and parameters, 404, 405 with Allow, a malformed target', () => {
  const dir = folder({
    'canal.routes.yaml': table(
      '"GET /locks/{lockId:int} -> locks.read"',
      'DELETE /locks/{id} -> locks.delete',
      'GET /locks/closed -> c',
    ),
  });
  const follow = (...args: string[]) => JSON.parse(run(dir, ['follow', ...args, '--format', 'json']).out);
  expect(follow('GET', '/locks/7?x=1')).toMatchObject({
    outcome: 'routed',
    status: null,
    route: { handler: 'locks.read', line: 4 },
    parameters: { lockId: { text: '7', type: 'int' } },
  });
  expect(follow('HEAD', '/locks/closed')).toMatchObject({ outcome: 'routed', route: { handler: 'c' } });
  expect(follow('PATCH', '/locks/7')).toMatchObject({
    outcome: 'method-not-allowed',
    status: 405,
    allow: ['GET', 'HEAD', 'DELETE', 'OPTIONS'],
  });
  expect(follow('GET', '/basins')).toMatchObject({ outcome: 'not-found', status: 404, route: null });
  expect(follow('GET', '/locks/%ZZ')).toMatchObject({ outcome: 'bad-request', status: 400 });
});

test('groups, resources, includes and a mount become full routes; a circle of includes is an error', () => {
  const dir = folder({
    'desk.routes.yaml':
      'routeTable: 1\nroutes:\n  - within: /v2\n    names: v2.\n    handlers: v2.\n    routes:\n      - { route: GET /, handler: home, name: home }\n      - resource: /passages\n        item: "{passageId:uuid}"\n        serves: [list, read]\n        below: [POST /cancel -> cancel]\n  - include: parts/moorings.routes.yaml\n    within: /moorings\n',
    'parts/moorings.routes.yaml':
      'routeTable: 1\ntypes: { berth: { pattern: "[A-Z][0-9]" } }\nroutes: ["GET /{berth:berth} -> moorings.read"]\n',
    'elm-gate.yaml': 'services: [{ name: desk, routes: desk.routes.yaml, mount: /desk }]\n',
  });
  const [{ routes }] = JSON.parse(run(dir, ['table', '--format', 'json']).out);
  expect(
    routes.map((r: { methods: string[]; path: string; handler: string; name: string }) =>
      [...r.methods, r.path, r.handler, r.name].join(' '),
    ),
  ).toEqual([
    'GET /desk/v2 v2.home v2.home',
    'GET /desk/v2/passages v2.passages.list v2.passages.list',
    'GET /desk/v2/passages/{passageId:uuid} v2.passages.read v2.passages.read',
    'POST /desk/v2/passages/{passageId:uuid}/cancel v2.cancel ',
    'GET /desk/moorings/{berth:berth} moorings.read ',
  ]);
  expect(routes[4].at).toMatchObject({ file: 'parts/moorings.routes.yaml', line: 3 });
  writeFileSync(join(dir, 'parts/moorings.routes.yaml'), 'routeTable: 1\nroutes: [{ include: ../desk.routes.yaml }]\n');
  expect(run(dir, ['table'])).toMatchObject({
    status: 2,
    out: '',
    err: expect.stringMatching(/^parts\/moorings\.routes\.yaml:2:10: the tables include each other in a circle/u),
  });
});

test('every error of a file at once, with place and the nearest known name', () => {
  const dir = folder({
    'canal.routes.yaml':
      'routeTable: 1\nrouter: { precedence: first-declard }\nroutes:\n  - GET /a\n  - { route: GET /b, handlr: b }\n  - within: /c\n    routes:\n      - resource: /d\n        serves: [lst]\n      - 7\n  - GET\n',
  });
  const { status, err } = run(dir, ['check']);
  expect(status).toBe(2);
  expect(err.split('\n')).toEqual([
    'canal.routes.yaml:2:11: found "first-declard", expected one of first-declared, last-declared, most-specific, exclusive, unknown; did you mean "first-declared"?',
    'canal.routes.yaml:5:5: the key "handler" is missing; expected text there',
    'canal.routes.yaml:5:22: unknown key "handlr"; did you mean "handler"?',
    'canal.routes.yaml:9:18: found "lst", expected one of list, create, read, replace, modify, delete; did you mean "list"?',
    'canal.routes.yaml:10:9: found 7, expected METHOD /path -> handler, or a mapping with one of the keys route, resource, include, from, within',
    '',
  ]);
});

const bomb = `a: &a [x,x,x,x,x,x,x,x,x]\n${'bcdefghi'
  .split('')
  .map((c, i) => `${c}: &${c} [${Array(9).fill(`*${'abcdefgh'[i]}`).join(',')}]\n`)
  .join('')}`;
test.each<readonly [string, Buffer | string | undefined, RegExp]>([
  ['an empty file', '', /x\.routes\.yaml:1:1: the file is empty/u],
  ['a wrong top level', '- 1\n- 2\n', /x\.routes\.yaml:1:1: found a list, expected a mapping/u],
  ['a 50 MB file', Buffer.alloc(50 * 1024 * 1024, 0x61), /x\.routes\.yaml: the file has 50 MB, and 32 MB is the most/u],
  ['a folder', undefined, /x\.routes\.yaml: this is a folder/u],
  [
    'a pointer of Git LFS',
    'version https://git-lfs.github.com/spec/v1\noid sha256:1ed11ec7\nsize 8627237\n',
    /x\.routes\.yaml: this is a pointer that Git LFS keeps in place of the file/u,
  ],
  ['invalid UTF-8', Buffer.from([0x61, 0x3a, 0x20, 0xff, 0xfe, 0x0a]), /x\.routes\.yaml:1:4: this is not UTF-8/u],
  ['an alias bomb', bomb, /x\.routes\.yaml: the file stands for more than 5000000 values/u],
  ['YAML 10,000 levels deep', '['.repeat(10_000), /x\.routes\.yaml:1:\d+: this is not YAML or JSON/u],
  [
    'JSON 10,000 levels deep',
    `${'['.repeat(10_000)}${']'.repeat(10_000)}`,
    /x\.routes\.yaml: the file nests deeper than 200 levels/u,
  ],
  ['a missing quote', 'routeTable: "1\n', /x\.routes\.yaml:\d+:\d+: this is not YAML or JSON/u],
])('%s ends in one sentence and status 2', (_, content, message) => {
  const dir = folder(content === undefined ? {} : { 'x.routes.yaml': content });
  if (content === undefined) mkdirSync(join(dir, 'x.routes.yaml'));
  const started = process.hrtime.bigint();
  const { status, out, err } = run(dir, ['check', '--routes', 'x.routes.yaml']);
  expect({ status, out }).toEqual({ status: 2, out: '' });
  expect(err).toMatch(message);
  expect(err.trim().split('\n').length).toBe(1);
  expect(Number(process.hrtime.bigint() - started) / 1e9).toBeLessThan(20);
});

test('usage errors are sentences with status 2, help is 0, an empty folder says what to do', () => {
  const dir = folder();
  expect(run(dir, ['check', '--formt', 'json'])).toMatchObject({
    status: 2,
    out: '',
    err: expect.stringMatching(/--formt[\s\S]*--help/u),
  });
  expect(run(dir, ['chek'])).toMatchObject({ status: 2, out: '', err: expect.stringContaining('chek') });
  expect(run(dir, ['follow', 'GET'])).toMatchObject({ status: 2, out: '' });
  expect(run(dir, [])).toMatchObject({ status: 2, err: expect.stringContaining('elm-gate demo') });
  expect(run(folder({ 'routes.yaml': 'routes:\n  - GET /locks -> locks.list\n' }), ['check'])).toMatchObject({
    status: 2,
    err: 'routes.yaml:1:1: the key "routeTable" is missing; write routeTable: 1\n',
  });
  for (const command of ['', 'check', 'table', 'follow', 'demo']) {
    const { status, out, err } = run(
      dir,
      [command, '--help'].filter((a) => a !== ''),
    );
    expect({ command, status, err }).toEqual({ command, status: 0, err: '' });
    expect(out).toContain('USAGE');
  }
  expect(run(dir, ['--version'])).toMatchObject({ status: 0, out: expect.stringMatching(/^elm-gate\/\d+\.\d+\.\d+ /u) });
});

test('follow: headers, a body, many requests, several services; a line that is no request is told', () => {
  const dir = folder({
    'elm-gate.yaml':
      'services: [{ name: desk, routes: a.routes.yaml }, { name: office, routes: b.routes.yaml, mount: /office }]\n',
    'a.routes.yaml': table(
      '{ route: POST /passages, handler: create, takes: [application/json] }',
      '{ route: GET /plans, handler: plans, returns: [application/pdf, text/html] }',
    ),
    'b.routes.yaml': table('GET /tolls -> tolls'),
    'passage.json': '{}',
    'requests.jsonl':
      '{"method":"get","target":"/office/tolls"}\n\nnonsense\n{"method":"GET","target":"/plans","headers":{"accept":"text/html"}}\n{"method":"GET"}\n',
  });
  const follow = (...args: string[]) => JSON.parse(run(dir, ['follow', ...args, '--format', 'json']).out);
  expect(follow('POST', '/passages', '--body', 'passage.json')).toMatchObject({ status: 415 });
  expect(follow('POST', '/passages', '--body', 'passage.json', '-H', 'content-type: application/json')).toMatchObject({
    route: { handler: 'create' },
  });
  expect(follow('GET', '/plans')).toMatchObject({ responseType: 'application/pdf', responseTypeByDefault: true });
  expect(follow('GET', '/tolls')).toMatchObject({
    outcome: 'not-found',
    nearest: [{ handler: 'tolls', cause: 'prefix', target: '/office/tolls' }],
  });
  const many = run(dir, ['follow', '--requests', 'requests.jsonl']);
  const lines = many.out
    .trim()
    .split('\n')
    .map((l) => JSON.parse(l));
  expect(lines.map((l) => l.route?.handler ?? l.error)).toEqual([
    'tolls',
    expect.stringContaining('requests.jsonl:3'),
    'plans',
    expect.stringContaining('requests.jsonl:5'),
  ]);
  expect(many).toMatchObject({ status: 2, err: expect.stringContaining('requests.jsonl:3: this is no JSON') });
  expect(run(dir, ['follow', '--requests', '-'], {}, '{"method":"GET","target":"/plans"}').out).toContain('"plans"');
});

test('every line is answered in its turn, whatever its length and letters, from a file and from a pipe', () => {
  const dir = folder({
    'canal.routes.yaml': table(
      'GET /locks/{lock} -> schleuse_öffnen',
      'GET /tolls/{n:int} -> tolls',
      'GET /files/{rest*} -> files',
    ),
  });
  const targets = Array.from({ length: 3_000 }, (_, i) => {
    const long = i % 500 === 7 ? 'x'.repeat(90_000) : '';
    return ([`/locks/ö${i}\u{1f6a2}${long}`, `/tolls/${i}`, `/tolls/elm-${i}`, `/files/a/${i}`, `/locks/"${i}\\`] as const)[
      i % 5
    ];
  });
  const lines = targets.map((target, i) =>
    JSON.stringify({ method: 'GET', target, ...(i % 7 === 0 ? { headers: { a: 'ö' } } : {}) }),
  );
  const handlers = ['schleuse_öffnen', 'tolls', undefined, 'files', 'schleuse_öffnen'];
  writeFileSync(join(dir, 'many.jsonl'), lines.join('\r\n'));
  for (const [file, input] of [
    ['many.jsonl', ''],
    ['-', `${lines.join('\n')}\n`],
  ] as const) {
    const { out, status } = run(dir, ['follow', '--requests', file], {}, input);
    const answers = out
      .trim()
      .split('\n')
      .map((l) => JSON.parse(l));
    expect(status).toBe(0);
    expect(answers.map((a) => a.request.target)).toEqual(targets);
    expect(answers.map((a) => a.route?.handler)).toEqual(targets.map((_, i) => handlers[i % 5]));
    expect(answers[15].parameters).toEqual({ lock: { text: 'ö15\u{1f6a2}', type: 'text' } });
    expect(answers[21].parameters).toEqual({ n: { text: '21', type: 'int' } });
  }
});

test('a reader that has seen enough of the answers ends the run without a word', () => {
  const dir = folder({ 'canal.routes.yaml': table('GET /locks -> locks') });
  const asked = `yes '{"method":"GET","target":"/locks"}' | head -20000`;
  const command = `${asked} | "${NODE}" "${PROGRAM}" follow --requests - | head -1`;
  const { stdout, stderr } = spawnSync('sh', ['-c', command], { cwd: dir, encoding: 'utf8' });
  expect([JSON.parse(stdout).route.handler, stderr]).toEqual(['locks', '']);
});

test('expectations are held, rules explained, tables filtered', () => {
  const dir = folder({
    'canal.routes.yaml': table('"GET /locks/{lockId:int} -> locks.read"', 'GET /tolls|x -> tolls'),
    'elm-gate.yaml':
      'services: [{ name: canal, routes: canal.routes.yaml }]\nexpect:\n  - { request: GET /locks/7, handler: locks.read, parameters: { lockId: "7" } }\n  - { request: GET /locks/elm, handler: locks.read }\n',
  });
  const [finding, ...more] = JSON.parse(run(dir, ['check', '--format', 'json']).out).findings;
  expect(more).toEqual([]);
  expect(finding).toMatchObject({
    rule: 'paths/unexpected-outcome',
    at: { file: 'elm-gate.yaml', line: 4 },
    advice: expect.stringContaining('"elm" is not an int'),
  });
  expect(run(dir, ['explain', 'paths/shadowed'])).toMatchObject({ status: 0, out: expect.stringContaining('How to fix it') });
  expect(run(dir, ['explain', 'paths/shadowd'])).toMatchObject({
    status: 2,
    err: expect.stringContaining('did you mean "paths/shadowed"?'),
  });
  expect(run(dir, ['table', '--grep', 'READ', '--format', 'csv']).out).toBe(
    'order,method,path,handler,from\n1,GET,/locks/{lockId:int},locks.read,line 4\n',
  );
  expect(run(dir, ['table', '--resource', '/tolls|x', '--format', 'markdown']).out).toContain(
    '| 2 | GET | /tolls\\|x | tolls | line 5 |',
  );
  expect(run(dir, ['table', '--method', 'delete', '--format', 'json']).out).toContain('"routes": []');
});

test('compare: a long witness is shortened to its part, and whole in JSON; webhooks are told of', () => {
  const document = (kinds: string): string => `openapi: 3.1.0
info: { title: Canal, version: 1.0.0 }
paths:
  /notices/{noticeId}:
    get: { parameters: [{ name: noticeId, in: path, required: true }], responses: { 200: { content: { application/json: { schema: { $ref: "#/components/schemas/Notice" } } } } } }
webhooks:
  opened: { post: { requestBody: { content: { application/json: { schema: { $ref: "#/components/schemas/Notice" } } } } } }
components:
  schemas:
    Notice:
      type: object
      required: [${Array.from({ length: 30 }, (_, i) => `part${i}`).join(', ')}, lock]
      properties:
        ${Array.from({ length: 30 }, (_, i) => `part${i}: { type: string }`).join('\n        ')}
        lock: { type: object, required: [state], properties: { state: { enum: [${kinds}] } } }
`;
  const dir = folder({ 'old.yaml': document('open'), 'new.yaml': document('open, seized') });
  const text = run(dir, ['compare', 'old.yaml', 'new.yaml']);
  expect([text.status, text.err]).toEqual([1, '']);
  expect(text.out).toContain('/lock/state may now be "seized"');
  expect(text.out).toMatch(/witness {2}\{…, "lock": \{"state": "seized"\}\} fits the new response, not the old/u);
  expect(text.out).toMatch(/touches {2}GET \/notices\/\{noticeId\}, POST opened/u);
  expect(text.out).toContain('Long witnesses are shortened; --format json has them whole.');
  for (const line of text.out.split('\n')) expect(line.length).toBeLessThanOrEqual(100);
  const [change] = JSON.parse(run(dir, ['compare', 'old.yaml', 'new.yaml', '--format', 'json']).out).changes;
  expect(Object.keys(change.witness.body)).toHaveLength(31);
  expect(change.affects.map((a: { part: string }) => a.part)).toEqual(['response', 'webhook']);
});
