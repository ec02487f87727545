/** Routes from where they are, through the built program: from, import and init on files in a temporary folder. */
import { execFileSync } from 'node:child_process';
import { existsSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from 'vitest';
import { folder, run } from './run.ts';

const LISTING =
  'Method    Path               Handler\nGET       /locks             locks.list\nPOST      /locks             locks.make\nGET|HEAD  /locks/{id<\\d+>}   locks.read\n\n3 routes\n';

/** A list, a folder of route files, source code and JSON, and a table that reads all of them. */
const FILES = {
  'routes.txt': LISTING,
  'app/api/yards/[yardId]/index.ts':
    'export async function GET(r: Request): Promise<Response> { return new Response(); }\nexport const DELETE = <T,>(x: T) => x;\n',
  'app/api/slots/index.tsx': 'export default () => <b>slots</b>;\n',
  'src/gates.js': "// router.get('/no', no)\nrouter.get('/gates', gates.list);\nrouter.post(\n  '/gates/:gateId', gates.make);\n",
  'tolls.json': '{\n  "routes": [\n    { "method": "GET", "uri": "/tolls", "action": "tolls.list" }\n  ]\n}\n',
  'canal.routes.yaml':
    "routeTable: 1\nroutes:\n  - from: routes.txt\n  - { from: app/api, within: /v2 }\n  - from: 'src/*.js'\n    row: 'router\\.(?<method>\\w+)\\(\\s*''(?<path>[^'']+)''\\s*,\\s*(?<handler>[\\w.]+)'\n  - from: tolls.json\n    within: /v3\n",
};

test('a table with from: table, check and follow -> the routes of every source, each with the line where it stands', () => {
  const dir = folder(FILES);
  const [table] = JSON.parse(run(dir, ['table', '--format', 'json']).out);
  expect(
    table.routes.map((r: { methods: string[]; path: string; at: object }) => [r.methods.join('|'), r.path, r.at]),
  ).toMatchObject([
    ['GET', '/locks', { file: 'routes.txt', line: 2 }],
    ['POST', '/locks', { file: 'routes.txt', line: 3 }],
    ['GET|HEAD', '/locks/{id:\\d+}', { file: 'routes.txt', line: 4 }],
    ['ANY', '/v2/slots', { file: 'app/api/slots/index.tsx', line: 1 }],
    ['GET', '/v2/yards/[yardId]', { file: 'app/api/yards/[yardId]/index.ts' }],
    ['DELETE', '/v2/yards/[yardId]', {}],
    ['GET', '/gates', { file: 'src/gates.js', line: 2, column: 1 }],
    ['POST', '/gates/:gateId', { file: 'src/gates.js', line: 3 }],
    ['GET', '/v3/tolls', { file: 'tolls.json', line: 3, column: 5 }],
  ]);
  expect(run(dir, ['follow', 'POST', '/gates/7']).out).toContain('src/gates.js:3');
  expect(run(dir, ['check', '--all']).out).toMatch(/at {7}routes\.txt:4:1/u);
  // A source that changed is read as it is now; one that is gone is a sentence.
  writeFileSync(join(dir, 'tolls.json'), '[]');
  expect(run(dir, ['check'])).toMatchObject({
    status: 2,
    err: expect.stringMatching(/^canal\.routes\.yaml:7:5: tolls\.json: no route was read/u),
  });
  rmSync(join(dir, 'tolls.json'));
  expect(run(dir, ['check'])).toMatchObject({
    status: 2,
    err: expect.stringContaining('tolls.json: there is no such file or folder'),
  });
});

test('import: shows what it understood; writes a table that gives the same routes, copied or read; overwrites nothing', () => {
  const dir = folder({ 'routes.txt': LISTING });
  const shown = run(dir, ['import', 'routes.txt']);
  expect(shown.out).toMatch(
    /^3 routes read from routes\.txt, as columns cut by spaces: method, path, handler\.\nGET 2, POST 1, HEAD 1\. Style brace: 1 of 3 paths/u,
  );
  expect(existsSync(join(dir, 'a.routes.yaml'))).toBe(false);
  for (const args of [
    ['routes.txt'],
    ['routes.txt', '--copy'],
    ['routes.txt', '--style', 'brace', '--columns', 'method,path,handler'],
  ]) {
    expect(run(dir, ['import', ...args, '--output', 'a.routes.yaml', '--force'])).toMatchObject({ status: 0, err: '' });
    expect(run(dir, ['follow', 'GET', '/locks/7']).out).toMatch(/^GET \/locks\/7 is handled by locks\.read/u);
  }
  expect(run(dir, ['import', 'routes.txt', '--output', 'a.routes.yaml'])).toMatchObject({
    status: 2,
    err: expect.stringContaining('--force'),
  });
  const piped = JSON.parse(run(dir, ['import', '-', '--format', 'json', '--within', '/v2'], {}, LISTING).out);
  expect(piped).toMatchObject({
    style: { value: 'brace', marked: 1, against: 0 },
    skipped: [],
    routes: [{}, {}, { path: '/locks/{id:\\d+}' }],
  });
  expect(piped.table).toContain('  - within: /v2\n');
  for (const [args, words] of [
    [['nowhere.txt'], 'there is no such file'],
    [['src/*.ts'], 'say it with row:'],
    [['routes.txt', '--columns', 'verb'], 'is no column'],
    [['routes.txt', '--row', '('], "row: can't be read"],
  ] as const)
    expect(run(dir, ['import', ...args])).toMatchObject({ status: 2, err: expect.stringContaining(words) });
});

test('import: CSV, TSV and JSON Lines -> the same routes, broken lines told with their number', () => {
  const dir = folder({
    'a.csv': 'note,Method,Path,Handler\nx,GET,/locks,"locks, list"\n,BREW,/tea,tea\n,POST,/locks,locks.make\n',
    'b.tsv': 'Verb\tURI\tAction\nGET\t/locks\tlocks, list\nPOST\t/locks\tlocks.make\n',
    'c.jsonl':
      '{"method":"GET","path":"/locks","handler":"locks, list"}\n{broken\n{"methods":["POST"],"url":"/locks","action":"locks.make"}\n',
    'd.txt': 'method,path,handler\nGET,/locks,"locks, list"\nPOST,/locks,locks.make\n',
  });
  const left = { 'a.csv': [3], 'b.tsv': [], 'c.jsonl': [2], 'd.txt': [] };
  for (const [file, lines] of Object.entries(left)) {
    const { routes, skipped } = JSON.parse(run(dir, ['import', file, '--format', 'json']).out);
    const told = routes.map((r: { methods: string[]; path: string; handler: string }) => [r.methods.join(), r.path, r.handler]);
    expect([file, told]).toEqual([
      file,
      [
        ['GET', '/locks', 'locks, list'],
        ['POST', '/locks', 'locks.make'],
      ],
    ]);
    expect([file, skipped.map((s: { line: number }) => s.line)]).toEqual([file, lines]);
  }
});

test('init: a list, a document and tags -> settings and a table that check reads; nothing is written over', () => {
  const dir = folder({
    'routes.txt': LISTING,
    'docs/canal.yaml': 'openapi: 3.1.0\ninfo: { title: Canal, version: 1.0.0 }\npaths: {}\n',
    'notes.txt': 'The locks are closed.\n',
  });
  const git = (...args: string[]) =>
    execFileSync('git', ['-c', 'user.name=x', '-c', 'user.email=x@canal.example', ...args], { cwd: dir, stdio: 'ignore' });
  git('init');
  git('add', '.');
  git('commit', '-m', 'first');
  git('tag', 'v1.0.0');
  const { status, out } = run(dir, ['init']);
  expect(status).toBe(0);
  expect(out).toContain('3 routes in routes.txt');
  expect(out).toContain('precedence: first-declared');
  const settings = readFileSync(join(dir, 'elm-gate.yaml'), 'utf8');
  expect(settings).toContain('elm-gate compare v1.0.0:./docs/canal.yaml docs/canal.yaml');
  expect(run(dir, ['check'])).toMatchObject({ err: '', out: expect.stringContaining('in 3 routes') });
  expect(run(dir, ['init'])).toMatchObject({ status: 2, err: expect.stringContaining('nothing is written over') });
  expect(run(folder({ 'notes.txt': 'x' }), ['init'])).toMatchObject({
    status: 2,
    err: expect.stringContaining('elm-gate import SOURCE'),
  });
});

test('compare of a revision: includes and sources of the table are those of the commit, from any folder', () => {
  const dir = folder(Object.fromEntries(Object.entries(FILES).map(([name, text]) => [`service/${name}`, text])));
  const service = join(dir, 'service');
  writeFileSync(join(service, 'main.routes.yaml'), 'routeTable: 1\nroutes:\n  - include: canal.routes.yaml\n');
  const git = (...args: string[]) =>
    execFileSync('git', ['-c', 'user.name=x', '-c', 'user.email=x@canal.example', ...args], { cwd: dir, stdio: 'ignore' });
  git('init');
  git('add', '.');
  git('commit', '-m', 'first');
  expect(run(service, ['compare', 'HEAD:./main.routes.yaml', 'main.routes.yaml'])).toMatchObject({ status: 0, err: '' });
  rmSync(join(service, 'app/api/slots'), { recursive: true });
  writeFileSync(join(service, 'routes.txt'), LISTING.replace('locks.make', 'other').replace(/GET\|HEAD.*\n/u, ''));
  writeFileSync(join(service, 'src/gates.js'), "router.post('/gates/:gateId', gates.make);\n");
  for (const [cwd, old, now] of [
    [service, 'HEAD:./main.routes.yaml', 'main.routes.yaml'],
    [dir, 'HEAD:service/main.routes.yaml', 'service/main.routes.yaml'],
  ] as const) {
    const { changes } = JSON.parse(run(cwd, ['compare', old, now, '--format', 'json']).out);
    const lost = changes
      .filter((c: { rule: string }) => c.rule === 'versions/routing-lost')
      .map((c: { operation: { path: string } }) => c.operation.path);
    expect(lost.sort()).toEqual(['/gates', '/locks/{id:\\d+}', '/v2/slots']);
  }
});
