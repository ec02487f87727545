/** traffic, and what is weighed by it: the built program on logs in a temporary folder. */
import { cpSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { gzipSync } from 'node:zlib';
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { undescribed } from './described.ts';
import { folder, run, runAll, table } from './run.ts';
import { runs, SEED } from './runs.ts';

const TABLE = table(
  'GET /locks -> list',
  'GET /locks/{lockId} -> read',
  'PUT /locks/{lockId} -> put',
  'GET /basins/{id} -> basin',
);

interface Asked {
  readonly method: string;
  readonly target: string;
  readonly status: number;
  readonly agent: string;
}

const asked: fc.Arbitrary<Asked> = fc.record({
  method: fc.constantFrom('GET', 'PUT', 'DELETE', 'HEAD'),
  target: fc.constantFrom('/locks', '/locks?full=1', '/locks/7', '/locks/9%2F1', '/basins/elm', '/nowhere', '/', '/locks/a"b'),
  status: fc.constantFrom(200, 204, 404, 405, 500),
  agent: fc.constantFrom('lock-keeper/2.1', 'curl/8.5', '-', 'Keeper of "Locks"/1'),
});

const time = (i: number): string => `1${i % 9}/Nov/2026:09:${String(i % 60).padStart(2, '0')}:26 +0100`;
const quoted = (text: string): string => text.replaceAll('"', '\\"');
const common = ({ method, target, status }: Asked, i: number): string =>
  `10.0.0.${i % 250} - keeper [${time(i)}] "${method} ${quoted(target)} HTTP/1.1" ${status} 512`;
const combined = (a: Asked, i: number): string => `${common(a, i)} "-" "${quoted(a.agent)}"`;
const iso = (i: number): string => `2026-11-1${i % 9}T08:${String(i % 60).padStart(2, '0')}:26.000Z`;
const jsonl = ({ method, target, status, agent }: Asked, i: number): string =>
  JSON.stringify({ req: { method, url: target, agent }, res: status, when: iso(i) });
const har = (all: readonly Asked[]): string =>
  JSON.stringify({
    log: {
      version: '1.2',
      entries: all.map(({ method, target, status, agent }, i) => ({
        startedDateTime: iso(i),
        request: { method, url: `https://desk.example${target}`, headers: [{ name: 'User-Agent', value: agent }] },
        response: { status },
      })),
    },
  });

test('the same requests in every format, packed and in pieces -> the same report, with the counts of a plain reading', () => {
  const drawn = fc.sample(fc.array(asked, { minLength: 1, maxLength: 60 }), { numRuns: runs(4), seed: SEED });
  const jobs = drawn.flatMap((all) => {
    const lines = all.map(combined);
    const dir = folder({
      'canal.routes.yaml': TABLE,
      'a.log': `${lines.join('\n')}\n`,
      'b.log.gz': gzipSync(lines.join('\r\n')),
      'c.log': lines.map((l) => `desk.example:443 ${l}`).join('\n'),
      'd.jsonl': all.map(jsonl).join('\n'),
      'e.har': har(all),
    });
    const fields = 'method=req.method,target=req.url,status=res,client=req.agent,time=when';
    return [['a.log'], ['b.log.gz'], ['c.log'], ['d.jsonl', '--fields', fields], ['e.har']].map((args) => ({
      dir,
      args: ['traffic', ...args, '--format', 'json'],
    }));
  });
  const ran = runAll(jobs).map(({ out, err }) => {
    expect(err).toBe('');
    expect(undescribed('traffic', out)).toEqual([]);
    const { files: _, unused, ...report } = JSON.parse(out);
    return { ...report, unused: { ...unused, types: null } };
  });
  for (const [k, all] of drawn.entries()) {
    const [first, ...others] = ran.slice(k * 5, k * 5 + 5);
    for (const other of others) expect(other).toEqual(first);
    expect(first.total.requests).toBe(all.length);
    const read = all.filter((a) => /^\/locks\/[^/]+$/u.test(a.target) && (a.method === 'GET' || a.method === 'HEAD'));
    const of = (handler: string): number => first.routes.find((r: { handler: string }) => r.handler === handler)?.requests ?? 0;
    expect(of('read')).toBe(read.length);
    expect(of('list')).toBe(all.filter((a) => /^\/locks(?:\?|$)/u.test(a.target) && /GET|HEAD/u.test(a.method)).length);
    const sum = (list: readonly { requests: number }[]): number => list.reduce((n, r) => n + r.requests, 0);
    const unmatchedOrOdd = sum(first.unmatched) + sum(first.contradictions);
    expect(sum(first.routes) + unmatchedOrOdd).toBeGreaterThanOrEqual(all.length);
  }
});

test('broken lines, binary, a cut-off archive, a folder, nothing at all -> counted or told, and the rest is read', () => {
  const good = combined({ method: 'GET', target: '/locks', status: 200, agent: 'curl/8' }, 1);
  const binary = '1.2.3.4 - - [01/Nov/2026:00:00:00 +0000] "\\x16\\x03\\x01" 400 0 "-" "-"';
  const dir = folder({
    'canal.routes.yaml': TABLE,
    'odd.log': ['nonsense', binary, good, `x "GET /locks HTTP/1.1`, 'y'.repeat(3_000_000), good, good.slice(0, 60), good].join(
      '\n',
    ),
    'cut.gz': gzipSync(good.repeat(5000)).subarray(0, 200),
    'empty.log': '',
    'prose.txt': 'The locks are closed in winter.\n',
    'sub/x': '',
  });
  const odd = JSON.parse(run(dir, ['traffic', 'odd.log', '--format', 'json']).out);
  expect(odd.total.requests).toBe(3);
  expect(odd.broken.map((b: { why: string; line: number; count: number }) => [b.why, b.line, b.count])).toEqual([
    ['no request in quotes', 1, 1],
    ['the request is no method and target', 2, 1],
    ['the request has no closing quote', 4, 2],
    ['a line of more than a megabyte', 5, 1],
  ]);
  for (const [file, why] of [
    ['cut.gz', /damaged/u],
    ['empty.log', /no request could be read/u],
    ['prose.txt', /say with --as/u],
    ['sub', /this is a folder/u],
    ['none.log', /no such file/u],
  ] as const)
    expect([file, run(dir, ['traffic', file])]).toEqual([
      file,
      expect.objectContaining({ status: 2, err: expect.stringMatching(why) }),
    ]);
  expect(run(dir, ['traffic', '-'], {}, good).out).toContain('1 request in -');
});

/** A value that stands nowhere but in a record. */
const SECRET = 'Tok3n-91f2c7';

test('no value of a record is in any output, in any format; with --values targets are', () => {
  const dir = folder({ 'canal.routes.yaml': TABLE });
  const targets = [
    `/locks?state=${SECRET}&${SECRET}=1`,
    `/locks/${SECRET}`,
    `/locks?key=${SECRET}`,
    `/${SECRET}`,
    `/boats/${SECRET}?${SECRET}=1`,
    `/locks/7/${SECRET}#${SECRET}`,
    `/lock/${SECRET}`,
    `/locks/${SECRET}/`,
    `/locks/9.${SECRET}`,
    `/basins/${SECRET}/${SECRET}`,
    `/loks/${SECRET}`,
  ];
  const record = (target: string): object => ({
    method: 'GET',
    target,
    status: 201,
    headers: { Authorization: SECRET, 'X-Key': SECRET, [`X-${SECRET}`]: '1', Cookie: SECRET, Accept: `a/${SECRET}` },
    body: { password: SECRET },
    client: `${SECRET}/1.0 (${SECRET})`,
    time: SECRET,
    [SECRET]: SECRET,
  });
  // As it is answered it is a contradiction, or told beside the nearest route.
  const records = targets.flatMap((t) => [record(t), { ...record(t), status: 404 }, { ...record(t), status: 405 }]);
  writeFileSync(join(dir, 'a.jsonl'), records.map((r) => JSON.stringify(r)).join('\n'));
  const log = targets.map(
    (t, i) =>
      `10.0.0.1 ${SECRET} ${SECRET} [${time(i)}] "GET ${t} HTTP/1.1" ${i % 2 === 0 ? 404 : 200} 5 "https://x.example/?${SECRET}" "${SECRET}"`,
  );
  writeFileSync(join(dir, 'a.log'), [...log, `${SECRET} broken`, `x "${SECRET} ${SECRET}`].join('\n'));
  const formats = ['text', 'json', 'markdown', 'html', 'sarif', 'junit'];
  const lines = ['a.jsonl', 'a.log'].flatMap((file) => [
    ...formats.map((format) => ['traffic', file, '--all', '--format', format]),
    ['check', '--traffic', file, '--all', '--format', 'json'],
    ['compare', 'canal.routes.yaml', 'canal.routes.yaml', '--traffic', file],
  ]);
  for (const [i, { out, err }] of runAll(lines.map((args) => ({ dir, args }))).entries())
    expect([lines[i], (out + err).includes(SECRET), out.length > 0]).toEqual([lines[i], false, true]);
  expect(run(dir, ['traffic', 'a.log', '--values']).out).toContain(`/boats/${SECRET}`);
});

test('requests and clients longer than any room that was made, and more clients than stand beside a request -> each is counted', () => {
  const clients = ['ferry/1', 'skiff/2', 'barge/3', 'punt/4', 'raft/5', 'tug/6', `gig/7 (${'ü'.repeat(9_000)})`];
  const long = `/locks?full=${'é'.repeat(7_000)}`;
  const lines = clients.flatMap((client, i) =>
    Array.from({ length: i + 1 }, () =>
      JSON.stringify({ method: 'GET', target: long, status: 200, client, time: 1_800_000_000 + i }),
    ),
  );
  const other = JSON.stringify({ method: 'GET', target: `${long}é`, status: 404, client: 'tug/6' });
  const dir = folder({ 'canal.routes.yaml': TABLE, 'a.jsonl': [...lines, other, other].join('\n') });
  const [route] = JSON.parse(run(dir, ['traffic', 'a.jsonl', '--format', 'json']).out).routes;
  expect([route.handler, route.requests, route.statuses]).toEqual(['list', 30, { 200: 28, 404: 2 }]);
  expect(route.clients).toEqual({ tug: 8, gig: 7, raft: 5, punt: 4, barge: 3, skiff: 2, ferry: 1 });
  expect(route.last).toBe('2027-01-15');
});

test('access logs with zones, without one, and with two in turn -> each line has its own time', () => {
  const last = (...times: readonly string[]): string => {
    const lines = times.map((at) => `10.0.0.1 - - [${at}] "GET /locks HTTP/1.1" 200 5 "-" "curl/8"`);
    const dir = folder({ 'canal.routes.yaml': TABLE, 'a.log': lines.join('\n') });
    return JSON.parse(run(dir, ['traffic', 'a.log', '--format', 'json']).out).routes[0].last;
  };
  expect(last('14/Mar/2027:23:30:00')).toBe('2027-03-14');
  expect(last('14/Mar/2027:23:30:00 +0000', '14/Mar/2027:23:30:00 -0100')).toBe('2027-03-15');
  expect(last('14/Mar/2027:23:30:00 -0100', '14/Mar/2027:23:30:00 +0000')).toBe('2027-03-15');
  expect(last('15/Mar/2027:00:30:00 +0100', '15/Mar/2027:00:30:59 +0100')).toBe('2027-03-14');
});

test('--strip: what a proxy took off is taken off, and what is not below it is counted by itself', () => {
  const line = (target: string): string => combined({ method: 'GET', target, status: 200, agent: 'curl/8' }, 1);
  const dir = folder({
    'canal.routes.yaml': TABLE,
    'a.log': ['/canal/locks?full=1', '/canalside/locks', 'https://desk.example/canal/locks/7', '/locks'].map(line).join('\n'),
  });
  const { total, outside, routes } = JSON.parse(run(dir, ['traffic', 'a.log', '--strip', '/canal', '--format', 'json']).out);
  expect([total.requests, outside, routes.map((r: { handler: string }) => r.handler).sort()]).toEqual([2, 2, ['list', 'read']]);
});

test('weights on the demo: a shadow counts what it loses, a change what meets it by reach and schema, and none is said', () => {
  const dir = folder();
  cpSync('demo', dir, { recursive: true });
  const [check, compare, plain] = runAll([
    { dir, args: ['check', '--traffic', 'november.log', '--format', 'json'] },
    { dir, args: ['compare', '1', '2', '--traffic', 'november.log', '--format', 'json'] },
    { dir, args: ['check', '--format', 'json'] },
  ]);
  const { findings, summary } = JSON.parse(check?.out ?? '');
  // A weight lowers no level.
  expect(summary).toEqual(JSON.parse(plain?.out ?? '').summary);
  const shadow = findings.find(
    (f: { at: { what: string }; rule: string }) => f.rule === 'paths/shadowed' && /current/u.test(f.at.what),
  );
  expect(shadow.traffic).toMatchObject({ requests: 11, of: 180, clients: ['towpath-app'], isAtMost: false });
  // A finding in a shared schema counts the requests of the operations that use it, one on the servers those of all.
  const requestsOf = (rule: string, pointer: string): unknown =>
    findings.find((f: { rule: string; at: { pointer: string } }) => f.rule === rule && f.at.pointer === pointer).traffic
      ?.requests;
  expect(requestsOf('document/refused-example', '/components/schemas/Stoppage/properties/from')).toBe(11);
  expect(requestsOf('document/never-fits', '/components/schemas/Mooring')).toBe(0);
  expect(requestsOf('methods/base-path', '/servers')).toBe(readFileSync('demo/november.log', 'utf8').split(' /v1/').length - 1);
  expect(requestsOf('versions/default-in-path', '/versioning/default')).toBeUndefined();
  expect(undescribed('check', check?.out ?? '')).toEqual([]);
  expect(undescribed('compare', compare?.out ?? '')).toEqual([]);
  const { changes } = JSON.parse(compare?.out ?? '');
  const of = (words: RegExp): object => changes.find((c: { message: string }) => words.test(c.message)).traffic;
  expect(of(/vessel is no longer returned/u)).toMatchObject({ requests: 13, clients: ['signal-box'], last: '2026-11-19' });
  // Bodies are in no access log.
  expect(of(/registration is now required/u)).toMatchObject({ requests: 5, isAtMost: true });
  // Every recorded registration is as the new version wants it.
  expect(of(/path parameter registration was string/u)).toMatchObject({ requests: 0 });
  const effects = changes.map((c: { effect: string }) => c.effect);
  expect(effects.lastIndexOf('breaking')).toBeLessThan(effects.indexOf('compatible'));
});

test('weights of changes by the schemas of both sides: values of a query, statuses, recorded bodies, paths with versions in them', () => {
  const document = (v: number): string => {
    const body = { type: 'object', properties: { lock: { type: v === 1 ? ['string', 'integer'] : 'integer' } } };
    const answer = (type: string): object => ({
      description: 'x',
      content: { 'application/json': { schema: { type: 'object', required: ['a'], properties: { a: { type } } } } },
    });
    const state = { name: 'state', in: 'query', schema: { type: 'string', enum: v === 1 ? ['open', 'closed'] : ['open'] } };
    const type = v === 1 ? 'integer' : 'string';
    return JSON.stringify({
      openapi: '3.1.0',
      info: { title: 'canal', version: `${v}.0.0` },
      paths: {
        [`/v${v}/locks/{${v === 1 ? 'id' : 'lockId'}}`]: {
          parameters: [{ name: v === 1 ? 'id' : 'lockId', in: 'path', required: true, schema: { type: 'integer' } }],
          get: { parameters: [state], responses: { 200: answer(type), 404: answer(type) } },
          put: {
            requestBody: { required: true, content: { 'application/json': { schema: body } } },
            responses: { 204: { description: 'x' } },
          },
        },
      },
    });
  };
  const sent = (lock: unknown, status: number): object => ({
    ...{ method: 'PUT', target: '/v1/locks/7', status, headers: { 'Content-Type': 'application/json' } },
    body: { lock },
  });
  const got = (query: string, status: number): object => ({ method: 'GET', target: `/v1/locks/7${query}`, status });
  const records = [
    got('?state=open', 200),
    got('?state=closed', 200),
    got('?state=closed', 404),
    got('', 200),
    sent('elm', 204),
    sent(7, 204),
  ];
  const dir = folder({
    'elm-gate.yaml': 'versioning: { selector: path, versions: [{ id: 1 }, { id: 2 }] }\n',
    'one.json': document(1),
    'two.json': document(2),
    'a.jsonl': [...records, { method: 'GET', target: '/v2/locks/7?state=closed', status: 200 }]
      .map((r) => JSON.stringify(r))
      .join('\n'),
  });
  const { changes } = JSON.parse(run(dir, ['compare', 'one.json', 'two.json', '--traffic', 'a.jsonl', '--format', 'json']).out);
  const of = (part: string, status: string | null): unknown => {
    const {
      requests,
      of: all,
      isAtMost,
    } = changes.find(
      (c: { part: string; status: string | null; effect: string }) =>
        c.part === part && c.status === status && c.effect === 'breaking',
    ).traffic;
    return [requests, all, isAtMost];
  };
  expect([of('parameter', null), of('response', '200'), of('response', '404'), of('request', null)]).toEqual([
    [2, 7, false],
    [3, 7, false],
    [1, 7, false],
    [1, 7, false],
  ]);
});

test('--traffic of logs that hold nothing, broken lines, or records with keys of their own -> a sentence, never "no request is affected"', () => {
  const good = combined({ method: 'GET', target: '/locks', status: 200, agent: 'curl/8' }, 1);
  const dir = folder({
    'canal.routes.yaml': table('GET /{any} -> any', 'GET /locks -> list'),
    'new.routes.yaml': table('GET /{any} -> any', 'GET /basins/{id} -> basin'),
    'odd.log': `${good}\nnonsense\n`,
    'none.log': `${good.replace('"GET /locks HTTP/1.1"', '"-"')}\n`,
    'own.jsonl': `${JSON.stringify({ req: { m: 'GET', u: '/canal/locks' } })}\n`,
  });
  const check = (...args: string[]): ReturnType<typeof run> => run(dir, ['check', '--routes', 'canal.routes.yaml', ...args]);
  expect(check('--traffic', 'odd.log').out).toContain('traffic  1 of 1 recorded request, by curl');
  expect(check('--traffic', 'odd.log').err).toMatch(/^1 line left out: no request in quotes \(odd\.log:2\)\.$/mu);
  for (const args of [['none.log'], ['own.jsonl'], ['odd.log', '--strip', '/canal']]) {
    const { status, err, out } = check('--traffic', ...args);
    expect([args, status, out]).toEqual([args, 2, '']);
    expect(err).toMatch(/no request (?:could be read in|in odd\.log is below)/u);
  }
  const fields = ['--fields', 'method=req.m,target=req.u', '--strip', '/canal'];
  expect(check('--traffic', 'own.jsonl', ...fields).out).toContain('traffic  1 of 1 recorded request');
  const compared = run(dir, ['compare', 'new.routes.yaml', 'canal.routes.yaml', '--traffic', '-', '--all'], {}, good).out;
  expect(compared).toContain('no recorded request is affected');
});
