/** What a stranger's pull request may hold: nothing outside is read or written, nothing hangs, nothing speaks to the CI server. */
import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, readFileSync, symlinkSync, writeFileSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { stripVTControlCharacters } from 'node:util';
import { expect, test } from 'vitest';
import { MAX_STATES, RUN_WORK, WORK_FOR_A_BYTE } from '../src/core/language/limits.ts';
import { MOST_STEPS } from '../src/core/language/matcher.ts';
import { MAX_REPETITION } from '../src/core/language/regex.ts';
import { LEAST_ROUTES } from '../src/files/load-table.ts';
import { MAX_BYTES } from '../src/files/read.ts';
import { MOST_LINE } from '../src/files/requests.ts';
import { MAX_DEPTH, MAX_VALUES } from '../src/files/source.ts';
import { folder, run, table } from './run.ts';

const DOCUMENT = 'openapi: 3.1.0\ninfo: { title: Canal, version: 1.0.0 }\npaths:\n';

/** A repository, and beside it a file that is none of its business. */
function repository(files: Readonly<Record<string, string>>): string {
  const dir = join(folder({ 'secret/.env': 'KEY=hunter2\n' }), 'repository');
  mkdirSync(dir);
  for (const [name, text] of Object.entries(files)) writeFileSync(join(dir, name), text);
  execFileSync('git', ['init', '-q'], { cwd: dir });
  return dir;
}

test('files outside the repository: an include, a reference or a link -> not read and not quoted, unless allowed', () => {
  const dir = repository({
    'a.routes.yaml': 'routeTable: 1\nroutes:\n  - include: ../secret/.env\n',
    'd.routes.yaml': 'routeTable: 1\nroutes:\n  - from: ../secret/.env\n',
    'e.routes.yaml': "routeTable: 1\nroutes:\n  - { from: '../secret/*', row: '(?<path>.+)' }\n",
    'b.openapi.yaml': `${DOCUMENT}  /locks: { get: { responses: { 200: { $ref: ../secret/.env } } } }\n`,
  });
  symlinkSync('../secret/.env', join(dir, 'c.routes.yaml'));
  for (const args of [
    ['--routes', 'a.routes.yaml'],
    ['--document', 'b.openapi.yaml'],
    ['--routes', 'c.routes.yaml'],
    ['--routes', 'd.routes.yaml'],
    ['--routes', 'e.routes.yaml'],
  ]) {
    const { out, err } = run(dir, ['check', ...args]);
    expect(out + err).toContain('outside the repository');
    const allowed = run(dir, ['check', '--allow-outside', ...args]);
    expect(allowed.out + allowed.err).not.toContain('outside');
    expect(out + err + allowed.out + allowed.err).not.toContain('hunter2');
  }
  // What the person who runs it names is read wherever it lies.
  writeFileSync(join(dir, '../secret/d.routes.yaml'), table('GET /locks -> locks'));
  expect(run(dir, ['table', '--routes', '../secret/d.routes.yaml'])).toMatchObject({ status: 0 });
});

test('--output: a link, an input or a folder -> refused; a full device -> a sentence and status 2', () => {
  const dir = repository({ 'canal.routes.yaml': table('GET /locks -> locks') });
  symlinkSync('../secret/target', join(dir, 'link.txt'));
  for (const [name, words] of [
    ['link.txt', 'a link'],
    ['./canal.routes.yaml', 'would be lost'],
    ['.git', 'a folder'],
    ['/dev/full', "can't be written"],
  ] as const)
    expect(run(dir, ['check', '--output', name])).toMatchObject({ status: 2, err: expect.stringContaining(words) });
  writeFileSync(join(dir, 'asked.jsonl'), '{ "method": "GET", "target": "/locks" }\n');
  for (const [name, words] of [
    ['link.txt', 'a link'],
    ['asked.jsonl', 'would be lost'],
    ['canal.routes.yaml', 'would be lost'],
  ] as const)
    expect(run(dir, ['follow', '--requests', 'asked.jsonl', '--output', name])).toMatchObject({
      status: 2,
      err: expect.stringContaining(words),
    });
  expect(run(dir, ['follow', '--requests', 'asked.jsonl', '--output', 'answers.jsonl']).status).toBe(0);
  expect(readFileSync(join(dir, 'answers.jsonl'), 'utf8')).toContain('"outcome":"routed"');
  expect(existsSync(join(dir, '../secret/target'))).toBe(false);
  expect(readFileSync(join(dir, 'canal.routes.yaml'), 'utf8')).toContain('GET /locks');
  const full = spawnSync('sh', ['-c', `node ${resolve('bin/elm-gate.js')} check > /dev/full`], { cwd: dir, encoding: 'utf8' });
  expect(full).toMatchObject({
    status: 2,
    stderr: expect.stringMatching(/^standard output can't be written \(ENOSPC\)[^\n]*\n$/u),
  });
});

test('expressions that never come back: follow and compare -> an answer at once', () => {
  const slow = '^(a+)+$';
  const body = `requestBody: { content: { application/json: { schema: { properties: { x: { pattern: "${slow}" }, y: { pattern: "(?=a)${slow.slice(1)}" } } } } } }`;
  const dir = repository({
    'a.openapi.yaml': `${DOCUMENT}  /locks: { post: { ${body}, responses: { 200: { description: x } } } }\n`,
    'body.json': JSON.stringify({ x: `${'a'.repeat(60)}!`, y: `${'a'.repeat(60)}!` }),
    'b.routes.yaml': 'routeTable: 1\nstyle: regex\nroutes:\n  - "GET ^/(?<name>(?:[a-z]+)+)$ -> words"\n',
  });
  const sent = run(dir, [
    'follow',
    'POST',
    '/locks',
    '-H',
    'Content-Type: application/json',
    '--body',
    'body.json',
    '--document',
    'a.openapi.yaml',
  ]);
  expect(sent.out).toContain('should answer 400');
  const asked = (path: string): string => run(dir, ['follow', 'GET', path, '--routes', 'b.routes.yaml']).out;
  expect(asked(`/${'a'.repeat(60)}!`)).toContain('404');
  expect(asked('/elm')).toContain('name = "elm"');
});

test('lines that a CI server would take for commands -> none is printed', () => {
  const dir = repository({
    'a.routes.yaml': 'routeTable: 1\nroutes:\n  - "GETT\\n::error::mine"\n  - "GET /a\\n##vso[task.x]y -> z"\n',
  });
  for (const colours of ['0', '1']) {
    const { out, err } = run(dir, ['check', '--routes', 'a.routes.yaml'], { FORCE_COLOR: colours });
    expect(out).toContain('\\::error::mine');
    const bare = stripVTControlCharacters(out + err);
    expect(bare.split('\n').filter((line) => /^\s*(?:::|##)/u.test(line))).toEqual([]);
  }
});

test('follow --requests: a line without end, bytes that are no text -> told with their line, the others answered', () => {
  const dir = repository({ 'canal.routes.yaml': table('GET /locks -> locks') });
  const usual = JSON.stringify({ method: 'GET', target: '/locks' });
  const [long, bad] = [Buffer.from(`${'['.repeat(3_000_000)}\n`), Buffer.from([0x7b, 0xff, 0xfe, 0x0a])];
  writeFileSync(join(dir, 'many.jsonl'), Buffer.concat([Buffer.from(`\ufeff${usual}\n`), long, bad, Buffer.from(usual)]));
  const { out, status } = run(dir, ['follow', '--requests', 'many.jsonl']);
  const answers = out
    .trim()
    .split('\n')
    .map((line) => JSON.parse(line));
  expect(answers.map((a) => a.error ?? a.outcome)).toEqual([
    'routed',
    expect.stringMatching(/^many\.jsonl:2: the line has more than 1000000 characters/u),
    expect.stringMatching(/^many\.jsonl:3: the line holds bytes that are no UTF-8/u),
    'routed',
  ]);
  expect(status).toBe(2);
});

test('a key that stands twice in JSON -> an error with both places', () => {
  const dir = repository({
    'a.openapi.json':
      '{ "openapi": "3.1.0", "paths": { "/locks": { "get": {} },\n  "x": [{ "a": "\\"{" }],\n  "/loc\\u006bs": {} } }\n',
  });
  expect(run(dir, ['check', '--document', 'a.openapi.json'])).toMatchObject({
    status: 2,
    err: 'a.openapi.json:3:3: the key "/locks" stands here a second time (first in line 1, column 34); keep one of them\n',
  });
});

test('tables that include twice, groups by alias: more routes than their files declare -> a sentence at once', () => {
  const levels = [...Array(24).keys()];
  const twice = Object.fromEntries(
    levels.map((i) => {
      const include = `  - include: a${i + 1}.routes.yaml\n`;
      return [`a${i}.routes.yaml`, `routeTable: 1\nroutes:\n${i < 23 ? include + include : '  - GET /locks -> locks\n'}`];
    }),
  );
  const groups = ['a', 'b', 'c', 'd'].map(
    (name, i) =>
      `  - &${name} { within: /${name}, routes: [${Array(20).fill(i === 0 ? 'GET /x -> x' : `*${'abcd'[i - 1]}`)}] }\n`,
  );
  const dir = repository({ ...twice, 'b.routes.yaml': `routeTable: 1\nroutes:\n${groups.join('')}` });
  for (const file of ['a0.routes.yaml', 'b.routes.yaml'])
    expect(run(dir, ['check', '--routes', file])).toMatchObject({
      status: 2,
      err: expect.stringMatching(/stands for more than 2\d{4} routes/u),
    });
});

test('lists of one endless line -> read or left out at once; a list of 25,000 routes is no bomb', () => {
  const long = (sign: string): string => sign.repeat(Math.ceil(100_000 / sign.length));
  const lines = [':', ':a', '(', ')', '{', '[', '<a:', '. ', '| ', ' \u2026', '-> ', 'a: ', '/a ', ' '].map(
    (sign) => `GET /a${long(sign)} x`,
  );
  const routes = [...Array(25_000).keys()].map((i) => `GET  /locks/{lockId}/${i % 50}/x  h${i}`);
  const dir = repository({
    'long.txt': `${lines.join('\n')}\nGET /ok ok\n`,
    'src.js': `${'"'.repeat(50_000)}\`${'\\`'.repeat(50_000)}`,
    'many.txt': routes.join('\n'),
    'many.routes.yaml': 'routeTable: 1\nroutes:\n  - from: many.txt\n',
  });
  expect(run(dir, ['import', 'long.txt'])).toMatchObject({ status: 0, err: '' });
  expect(run(dir, ['import', 'src.js', '--row', '(?<path>zz)'])).toMatchObject({
    status: 2,
    err: expect.stringContaining('no route was read'),
  });
  expect(run(dir, ['follow', 'GET', '/locks/7/3/x', '--routes', 'many.routes.yaml'])).toMatchObject({ status: 0, err: '' });
});

test('texts of an input in CSV and Markdown -> no formula, no tag, no link; very long ones lose their middle', () => {
  const dir = repository({
    'canal.routes.yaml': table(
      '{ route: GET /locks, handler: "=cmd()|<img src=x>[a](javascript:x)" }',
      `{ route: GET /gates, handler: ${'h'.repeat(100_000)} }`,
    ),
  });
  const csv = run(dir, ['table', '--format', 'csv']).out;
  expect(csv).toContain("'=cmd()");
  const page = run(dir, ['table', '--format', 'markdown']).out;
  expect(page).toContain('=cmd()\\|&lt;img src=x&gt;\\[a\\](javascript:x)');
  expect(page.length).toBeLessThan(10_000);
  expect(run(dir, ['table']).out.length).toBeLessThan(10_000);
});

test('the limits in docs/security.md are those of the code', () => {
  const said = readFileSync('docs/security.md', 'utf8');
  const value = (limit: string): string | undefined => new RegExp(`^\\| ${limit}[^|]*\\| ([^|]+) \\|$`, 'mu').exec(said)?.[1];
  expect([
    value('size of a file'),
    value('nesting'),
    value('values of a file'),
    value('routes that a table'),
    value('states'),
    value('steps for one expression'),
    value('a line'),
    value('repetitions'),
    value('work of one run'),
  ]).toEqual([
    `${MAX_BYTES / 1024 / 1024} MB`,
    `${MAX_DEPTH} levels`,
    String(MAX_VALUES),
    `${LEAST_ROUTES}, and one more for each two characters of its files`,
    String(MAX_STATES),
    String(MOST_STEPS),
    `${MOST_LINE} characters`,
    String(MAX_REPETITION),
    `${RUN_WORK}, and ${WORK_FOR_A_BYTE} for each byte that is read`,
  ]);
});

/** Small inputs that stand for very much: [name, a document of so many levels]. */
const component = (levels: number, body: (next: string, i: number) => string, last = 'type: string'): string =>
  [...Array(levels).keys()]
    .map((i) => `    s${i}: { ${i === levels - 1 ? last : body(`#/components/schemas/s${i + 1}`, i)} }\n`)
    .join('');
const BOMBS: Readonly<Record<string, string>> = {
  'allOf naming one reference twice': component(
    18,
    (next) => `allOf: [{ $ref: "${next}" }, { $ref: "${next}", description: again }]`,
  ),
  'anyOf within anyOf': component(
    16,
    (next, i) =>
      `anyOf: [{ properties: { p${i}: { type: integer } }, allOf: [{ $ref: "${next}" }] }, { properties: { q${i}: { minimum: ${i} } }, allOf: [{ $ref: "${next}" }] }]`,
  ),
  'many dependent schemas': `    s0: { type: object, dependentSchemas: { ${[...Array(40).keys()].map((i) => `p${i}: { required: [q${i}], properties: { q${i}: { type: integer } } }`).join(', ')} } }\n`,
};

test.each(Object.keys(BOMBS))('%s -> an answer, with what is undecided said so', (name) => {
  const whole = (schemas: string): string =>
    `${DOCUMENT}  /locks: { post: { requestBody: { content: { application/json: { schema: { $ref: "#/components/schemas/s0" } } } }, responses: { 200: { description: x } } } }\ncomponents:\n  schemas:\n${schemas}`;
  const schemas = BOMBS[name] as string;
  const changed = schemas.replace('type: string', 'type: integer').replace('type: integer }', 'type: number }');
  const dir = repository({ 'a.openapi.yaml': whole(schemas), 'b.openapi.yaml': whole(changed) });
  for (const args of [
    ['check', '--document', 'a.openapi.yaml'],
    ['compare', 'a.openapi.yaml', 'b.openapi.yaml'],
  ]) {
    const { status, err } = run(dir, args);
    expect({ name, args, err, status: [0, 1].includes(status ?? 3) }).toEqual({ name, args, err: '', status: true });
  }
});
