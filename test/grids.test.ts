/** The commands that draw grids and compare, on the demo and on small folders. */
import { execFileSync } from 'node:child_process';
import { cpSync } from 'node:fs';
import { resolve } from 'node:path';
import stringWidth from 'fast-string-width';
import { expect, test } from 'vitest';
import { folder, run, table } from './run.ts';

function demo(): string {
  const dir = folder();
  cpSync('demo', dir, { recursive: true });
  return dir;
}

const DAY = ['--today', '2026-11-23'];

test('the demo has two findings of every rule, none of its files a line that is too long for 80 columns', () => {
  const dir = demo();
  const { findings } = JSON.parse(run(dir, ['check', '--format', 'json', ...DAY]).out);
  const counts = new Map<string, number>();
  // What belongs together is one finding with all its places.
  for (const { rule, related } of findings) {
    const places = 1 + related.filter((r: { role: string }) => r.role === 'the same').length;
    counts.set(rule, (counts.get(rule) ?? 0) + places);
  }
  const [checks = '', changes = ''] = run(dir, ['explain']).out.split('\n\ncompare ');
  const idsIn = (text: string): string[] => [...text.matchAll(/^ {2}([a-z]+\/[a-z-]+)/gmu)].map((m) => m[1] as string);
  const rules = idsIn(checks);
  // What compare tells of the demo's versions is explained too.
  const compared = JSON.parse(run(dir, ['compare', '1', '2', '--format', 'json']).out).changes.map(
    (c: { rule: string }) => c.rule,
  );
  expect(compared.filter((r: string) => !idsIn(changes).includes(r))).toEqual([]);
  expect(run(dir, ['explain', compared[0]]).out).toContain(compared[0]);
  expect(rules.length).toBeGreaterThan(50);
  // There is one place for a default, and these are about settings that nobody would write twice.
  expect(rules.filter((r) => (counts.get(r) ?? 0) < 2)).toEqual([
    'paths/claimed-twice',
    'paths/hidden-by-service',
    'methods/base-path',
    'methods/open-write',
    'methods/shared-operation-id',
    'media/default-between-services',
    'versions/selector-differs',
    'versions/default-in-path',
    'versions/never-served',
  ]);
  for (const args of [
    ['check'],
    ['table'],
    ['methods'],
    ['methods', '/v2/passages'],
    ['media'],
    ['versions'],
    ['compare', '1', '2'],
  ]) {
    const { out, err } = run(dir, args, { COLUMNS: '80' });
    const long = out
      .split('\n')
      .filter((line) => stringWidth(line) > 80 && line.includes(' ', 10) && !/^\s+(?:witness|\S*[{[])/u.test(line));
    expect({ args, err, long }).toEqual({ args, err: '', long: [] });
    expect(out).not.toContain('\u001b');
  }
  expect(run(dir, ['versions'], { FORCE_COLOR: '1' }).out).toContain('\u001b[');
});

test('the demo without its planted faults has nothing at warning or above', () => {
  const dir = demo();
  execFileSync('git', ['apply', resolve('test/demo-mended.patch')], { cwd: dir });
  const { status, out } = run(dir, ['check', '--format', 'json', '--fail-on', 'warning', ...DAY]);
  const { findings } = JSON.parse(out);
  expect(findings.filter((f: { level: string }) => f.level !== 'note')).toEqual([]);
  expect(findings.length).toBeLessThan(20);
  expect(status).toBe(0);
});

test('methods: a cell tells by its sign what is served, documented and missing; a resource has a life', () => {
  const dir = folder({
    'canal.routes.yaml': table('GET|POST /locks -> locks', '"GET /locks/{lockId:int} -> lock"', 'PUT /locks/{any} -> any'),
    'canal.openapi.yaml':
      'openapi: 3.1.0\npaths:\n  /locks: { get: {}, post: { responses: { 201: { description: x, headers: { Location: {} } } } } }\n  /locks/{id}: { get: { responses: { 200: { description: x } } }, delete: {} }\n',
  });
  const grid = run(dir, ['methods']).out;
  expect(grid).toMatch(/^\/locks\s+● +● +● +◐ +○/mu);
  expect(grid).toMatch(/● served and documented .*◐ served only .*○ documented only/u);
  const [service] = JSON.parse(run(dir, ['methods', '--format', 'json']).out).services;
  expect(service.resources[0]).toMatchObject({
    path: '/locks',
    kind: 'collection',
    item: '/locks/{lockId:int}',
    steps: { delete: { state: 'documented', methods: ['DELETE'] }, replace: { state: 'served' } },
  });
  const life = run(dir, ['methods', '/locks']).out;
  expect(life).toMatch(/create +● POST \/locks[\s\S]*read +● GET[\s\S]*delete +○ DELETE[\s\S]*no route/u);
  expect(run(dir, ['methods', '/lock'])).toMatchObject({ status: 2, err: expect.stringContaining('there are /locks') });
});

test('media: who gets what, the client without Accept first, and asked ad hoc', () => {
  const dir = folder({
    'canal.routes.yaml': table(
      '{ route: GET /a, handler: a, returns: [application/json, text/csv] }',
      '{ route: POST /b, handler: b, takes: [application/json] }',
    ),
    'elm-gate.yaml': 'clients: [{ name: tablet, accept: text/csv }, { name: scanner, sends: text/plain }]\n',
  });
  const { out } = run(dir, ['media']);
  expect(out).toMatch(/^ +json +csv\n/mu);
  expect(out).toMatch(/^GET \/a +← +←\n {2}no Accept +○ +·\n {2}tablet +· +●/mu);
  expect(out).toMatch(/^POST \/b +→ +·\n[\s\S]*scanner +· +· +415/mu);
  expect(run(dir, ['media', '--accept', 'text/*;q=0.5, application/json;q=0.4']).out).toMatch(/asked +· +●/u);
  expect(run(dir, ['media', '--accept', 'image/png']).out).toContain('406');
  expect(run(dir, ['media', '--send', 'text/plain']).out).toContain('415');
  const [{ operations }] = JSON.parse(run(dir, ['media', '--format', 'json']).out).services;
  expect(operations[0].selectedBy[1]).toEqual({ type: 'text/csv', accept: 'text/csv' });
  expect(operations[1].clients[2]).toMatchObject({ client: 'scanner', status: 415, type: null });
});

test('media: types too long for a column are called by letters, and one that no Accept selects is marked', () => {
  const types = ['application/vnd.canal.lock.v2+json', 'text/csv', 'application/json; charset=utf-8', 'application/json'];
  const dir = folder({ 'canal.routes.yaml': table(`{ route: GET /a, handler: a, returns: ${JSON.stringify(types)} }`) });
  const { out } = run(dir, ['media']);
  expect(out).toMatch(/^ +a +csv +c +json\nGET \/a +← +← +← +✗\n/u);
  expect(out).toMatch(/^a = application\/vnd\.canal\.lock\.v2\+json, csv = text\/csv, c = application\/json; charset/mu);
});

test('versions: the grid, its ends, and a day', () => {
  const dir = demo();
  const { out } = run(dir, ['versions', '--today', '2027-07-01']);
  expect(out).toMatch(/^operation +1 +2 +3 +no version +unknown$/mu);
  expect(out).toMatch(/^GET \/locks +● d! +✗ +· +404 +404$/mu);
  expect(out).toContain('Version 1 is deprecated from 2027-01-31 on and ends on 2027-06-30 (which has passed).');
  expect(out).toContain('No operation of toll-office names a version.');
  const [desk] = JSON.parse(run(dir, ['versions', '--format', 'json', ...DAY]).out).services;
  expect(desk).toMatchObject({
    service: 'passage-desk',
    selector: { selector: 'path' },
    versions: [{ id: '1', sunset: '2027-06-30' }, { id: '2' }, { id: '3' }],
  });
  // A path that is for every version is deprecated with none of them.
  expect(desk.operations[0]).toMatchObject({ path: '/health', versions: { 1: { standing: 'same', deprecated: false } } });
  expect(desk.operations[1]).toMatchObject({
    method: 'GET',
    path: '/locks',
    versions: {
      1: { standing: 'same', handler: 'v1.locks.list', deprecated: true },
      2: { standing: 'breaking', path: '/v2/locks' },
    },
    none: { outcome: 'not-found', status: 404, request: { target: '/locks' } },
  });
  expect(run(dir, ['versions', '--today', 'soon'])).toMatchObject({ status: 2, err: expect.stringContaining('2027-03-14') });
});

const OLD =
  'openapi: 3.1.0\ninfo: { title: Canal, version: 1.0.0 }\npaths:\n  /locks/{id}: { get: { responses: { 200: { description: x, content: { application/json: { schema: { type: object, properties: { state: { enum: [open] } } } } } } } } }\n';
const NEW = OLD.replace('version: 1.0.0', 'version: 1.1.0').replace('[open]', '[open, seized]').replace('{id}', '{lockId}');

test('compare: files, a revision, standard input, a version; what is printed and how it ends', () => {
  const dir = folder({
    'canal.openapi.yaml': OLD,
    'new.openapi.yaml': NEW,
    'canal.routes.yaml': table('GET /a -> a', 'GET /b -> b'),
    'new.routes.yaml': table('GET /{any} -> any'),
  });
  const git = (...args: string[]) =>
    execFileSync('git', ['-c', 'user.name=x', '-c', 'user.email=x@canal.example', ...args], { cwd: dir, stdio: 'ignore' });
  git('init');
  git('add', '.');
  git('commit', '-m', 'first');
  const json = JSON.parse(run(dir, ['compare', 'HEAD:canal.openapi.yaml', '-', '--format', 'json'], {}, NEW).out);
  expect(json).toMatchObject({ verdict: 'major', claimed: 'minor' });
  expect(json.changes).toMatchObject([
    {
      rule: 'versions/response-member-added',
      effect: 'breaking',
      operation: { method: 'GET', path: '/locks/{lockId}' },
      part: 'response',
      status: '200',
      media: 'application/json',
      value: '/state',
      old: { file: 'HEAD:canal.openapi.yaml', line: 4 },
      affects: [{ method: 'GET', status: '200' }],
      witness: { kind: 'value', side: 'response', validUnder: 'new', invalidUnder: 'old', body: { state: 'seized' } },
      undecided: null,
    },
  ]);
  const text = run(dir, ['compare', 'canal.openapi.yaml', 'new.openapi.yaml']);
  expect(text.status).toBe(1);
  expect(text.out).toMatch(
    /^canal\.openapi\.yaml -> new\.openapi\.yaml: major, and the version says minor\. 1 breaking\.[\s\S]*\{"state":"seized"\}/u,
  );
  expect(run(dir, ['compare', 'canal.openapi.yaml', 'canal.openapi.yaml'])).toMatchObject({
    status: 0,
    out: expect.stringContaining('none'),
  });
  const back = ['compare', 'new.openapi.yaml', 'canal.openapi.yaml'];
  expect(run(dir, back)).toMatchObject({ status: 0, out: expect.stringContaining('1 compatible') });
  expect(run(dir, [...back, '--all']).out).toContain('fewer values are returned');
  const routes = JSON.parse(run(dir, ['compare', 'canal.routes.yaml', 'new.routes.yaml', '--format', 'json']).out);
  expect(routes.changes[0]).toMatchObject({
    part: 'routing',
    effect: 'breaking',
    witness: { kind: 'request', target: '/a', wasTakenBy: 'a', isTakenBy: 'any' },
  });
  expect(run(dir, ['compare', 'canal.routes.yaml', 'new.openapi.yaml'])).toMatchObject({
    status: 2,
    err: expect.stringContaining('compare two of a kind'),
  });
  expect(run(dir, ['compare', 'HEAD:none.yaml', 'new.openapi.yaml']).status).toBe(2);
  expect(run(demo(), ['compare', '1', '2'])).toMatchObject({
    status: 1,
    out: expect.stringContaining('passage-desk.v1.openapi.yaml'),
  });
});
