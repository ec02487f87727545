/** expect: what is drafted holds, and fails a table that changes. */
import { cpSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from 'vitest';
import { folder, run, runAll } from './run.ts';

const broken = (dir: string): readonly string[] =>
  JSON.parse(run(dir, ['check', '--rule', 'paths/unexpected-outcome', '--format', 'json']).out).findings.map(
    (f: { at: { what: string } }) => f.at.what,
  );

test('expect --write on the demo: every draft holds, nothing is added twice, comments stay; a changed table fails them', () => {
  const dir = folder();
  cpSync('demo', dir, { recursive: true });
  const file = join(dir, 'elm-gate.yaml');
  const [before, text] = [broken(dir), readFileSync(file, 'utf8')];
  const [all, logged, again] = runAll([
    { dir, args: ['expect', '--write'] },
    { dir, args: ['expect', '--from', 'november.log', '--write'] },
    { dir, args: ['expect', '--write'] },
  ]);
  expect(all?.err).toMatch(/^elm-gate\.yaml: \d{3} added under expect:\n$/u);
  expect(logged?.err).toMatch(/^elm-gate\.yaml: \d+ added under expect:\n$/u);
  expect(again?.err).toBe('elm-gate.yaml: nothing is new\n');
  expect(broken(dir)).toEqual(before);
  const written = readFileSync(file, 'utf8');
  for (const comment of text.match(/#.*/gu) ?? []) expect(written).toContain(comment);
  expect(written).toContain('{ request: GET /v2/locks/text, service: passage-desk, status: 404 }');
  const table = join(dir, 'passage-desk.routes.yaml');
  writeFileSync(table, readFileSync(table, 'utf8').replace('-> locks.list', '-> locks.all').replace('{lockId:int}', '{lockId}'));
  const now = broken(dir);
  expect(now.filter((what) => !before.includes(what)).length).toBeGreaterThan(1);
});

test('expect without settings: they are written, and hold; headers name versions; nothing to draft is a sentence', () => {
  const dir = folder({
    'canal.routes.yaml':
      'routeTable: 1\nservice: canal\nroutes:\n  - { route: GET /locks, handler: one, version: 1 }\n  - { route: GET /locks, handler: two, version: 2 }\n',
    'elm-gate.yaml':
      'versioning: { selector: header, name: Canal-Version, versions: [{ id: 1 }, { id: 2 }], default: 1 } # kept\n',
  });
  expect(run(dir, ['expect', '--write']).err).toMatch(/added under expect:/u);
  const text = readFileSync(join(dir, 'elm-gate.yaml'), 'utf8');
  expect(text).toContain('# kept');
  expect(text).toMatch(/headers: \{ Canal-Version: unknown \}, status: \d+/u);
  expect(broken(dir)).toEqual([]);
  expect(run(dir, ['expect', '--path', '/nowhere'])).toMatchObject({
    status: 2,
    err: expect.stringMatching(/nothing is at or below/u),
  });
});
