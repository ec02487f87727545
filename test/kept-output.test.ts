/** What was printed before is printed again only where looking again would print the same. */
import { mkdirSync, readdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from 'vitest';
import { traceOf } from '../src/files/kept-results.ts';
import { folder, run, table } from './run.ts';

const DOCUMENT = `openapi: 3.1.0
info: { title: Canal, version: 1.0.0 }
paths:
  /locks/{id}: { get: { parameters: [{ $ref: "parts/id.yaml" }], responses: { 200: { description: One } } } }
`;
const ID = '{ name: id, in: path, required: true, schema: { type: integer } }\n';
const FILES = {
  'elm-gate.yaml': 'services: [{ name: canal, routes: canal.routes.yaml, document: canal.openapi.yaml }]\n',
  'canal.routes.yaml': table(
    'GET /locks/{id} -> locks.read',
    'GET /locks/closed -> locks.closed',
    '{ include: more.yaml }',
    "{ from: 'code/**/*.txt', row: '^(?<method>[A-Z]+) (?<path>/[^ ]*) (?<handler>[^ ]+)$' }",
  ),
  'more.yaml': table('GET /gates -> gates.list'),
  'code/a.txt': 'GET /tolls tolls.list\n',
  'canal.openapi.yaml': DOCUMENT,
  'parts/id.yaml': ID,
};

test('files are edited, come, go and move -> every output is that of a run without anything kept', () => {
  const dir = folder(FILES);
  const put = (file: string, text: string) => (): void => writeFileSync(join(dir, file), text);
  const edits: readonly (() => void)[] = [
    () => {},
    put('more.yaml', table('GET /gates -> gates.list', 'GET /gates/{gate} -> gates.read', 'GET /gates/open -> gates.open')),
    put('parts/id.yaml', ID.replace('integer', 'string')),
    put('code/b.txt', 'GET /locks/open locks.open\n'),
    () => renameSync(join(dir, 'code/b.txt'), join(dir, 'code/b.csv')),
    put('elm-gate.yaml', `failOn: note\n${FILES['elm-gate.yaml']}`),
    () => {
      const acknowledged = run(dir, ['acknowledge', '--reason', 'known', '--by', 'keeper']);
      expect(acknowledged.status).toBe(0);
    },
    () => rmSync(join(dir, 'elm-gate.yaml')),
    put('other.openapi.yaml', DOCUMENT.replace('/locks/{id}', '/other/{id}')),
    () => rmSync(join(dir, 'canal.routes.yaml')),
  ];
  const cache = { XDG_CACHE_HOME: folder() };
  for (const edit of edits) {
    edit();
    const args = ['check', '--brief'];
    const real = run(dir, args, { ELM_GATE_CACHE: 'off' });
    expect(run(dir, args, cache)).toEqual(real);
  }
});

test('nothing changed -> what is kept is printed, with its status; --fresh and another width look again', () => {
  const dir = folder(FILES);
  const cache = { XDG_CACHE_HOME: folder() };
  const real = run(dir, ['check'], cache);
  const results = join(cache.XDG_CACHE_HOME, 'elm-gate', 'results');
  const [entry = ''] = readdirSync(results);
  const kept = JSON.parse(readFileSync(join(results, entry), 'utf8'));
  expect(kept.result.printed).toEqual({ text: real.out, status: 1 });
  writeFileSync(
    join(results, entry),
    JSON.stringify({ ...kept, result: { ...kept.result, printed: { text: 'kept\n', status: 0 } } }),
  );
  expect(run(dir, ['check'], cache)).toMatchObject({ out: 'kept\n', status: 0 });
  expect(run(dir, ['check'], { ...cache, COLUMNS: '60' }).out).not.toBe('kept\n');
  // Looking again keeps what is found.
  expect(run(dir, ['check', '--fresh'], cache)).toEqual(real);
  expect(run(dir, ['check'], cache)).toEqual(real);
  writeFileSync(join(results, entry), '{ cut o');
  expect(run(dir, ['check'], cache)).toEqual(real);
  // Where nothing can be kept, and a file system says that what can't be made is not there.
  expect(run(dir, ['check'], { XDG_CACHE_HOME: '/proc/none' })).toEqual(real);
  expect(run(dir, ['demo', '--into', '/proc/none/demo'])).toMatchObject({
    status: 2,
    err: expect.stringContaining('/proc/none'),
  });
});

test('a file or folder that changed since a run began -> nothing is said of what the run was made from', () => {
  const dir = folder({ 'a.yaml': 'a', 'in/b.yaml': 'b' });
  mkdirSync(join(dir, 'empty'));
  const sources = { names: () => ['a.yaml'], missed: () => ['none.yaml'], searched: () => ['in'] };
  const [before, after] = [Date.now() - 60_000, Date.now() + 60_000];
  expect(traceOf(sources, dir, [], before)).toBeUndefined();
  expect(traceOf({ ...sources, names: () => [] }, dir, [], before)).toBeUndefined();
  expect(traceOf({ ...sources, names: () => ['none.yaml'] }, dir, [], after)).toBeUndefined();
  expect(traceOf(sources, dir, [], after)?.files.map(([name]) => name)).toEqual(['a.yaml', 'none.yaml']);
});
