/** A fleet: each folder as it is checked alone, results kept while nothing that was read changes, a broken folder told and passed over. */
import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { expect, test } from 'vitest';
import { undescribed } from './described.ts';
import { folder, run, table } from './run.ts';

const SHADOW = table('GET /locks/{id} -> one', 'GET /locks/closed -> closed');
const FINE = table('GET /locks/closed -> closed', 'GET /locks/{id} -> one');
const settings = (name: string, more = ''): string => `services: [{ name: ${name}, routes: canal.routes.yaml }]\n${more}`;

function fleet(): string {
  return folder({
    'elm-gate.yaml': 'fleet: ["services/*"]\n',
    'services/a/elm-gate.yaml': settings('a'),
    'services/a/canal.routes.yaml': SHADOW,
    'services/b/elm-gate.yaml': settings('b', 'failOn: warning\n'),
    'services/b/canal.routes.yaml': FINE,
    'services/c/elm-gate.yaml': settings('c'),
    'services/c/canal.routes.yaml': 'routeTable: 1\nroutes:\n  - from: more\n',
    'services/c/more/locks/route.ts': 'export function GET() {}\n',
    'services/none/readme.txt': 'no settings here',
  });
}

/** What a run tells, and of how many folders it said that they are as before. */
function told(dir: string, isCounted = false): { status: number | null; rules: string[]; asBefore: number; err: string } {
  const cache = { XDG_CACHE_HOME: join(dir, '.cache') };
  const { out, status, err } = run(dir, ['check', '--format', 'json'], cache);
  const text = isCounted ? run(dir, ['check'], cache).out : '';
  expect(undescribed('check', out)).toEqual([]);
  const rules = JSON.parse(out).findings.map((f: { rule: string; at: { file: string } }) => `${f.at.file} ${f.rule}`);
  return {
    status,
    err,
    rules: rules.filter((r: string) => !r.includes('methods/')).sort(),
    asBefore: Number(/(\d+) folders? unchanged/u.exec(text)?.[1] ?? 0),
  };
}

test('check of a fleet: every folder, the same again without looking; each kind of change is looked at', () => {
  const dir = fleet();
  const at = (name: string): string => join(dir, name);
  const first = told(dir, true);
  expect(first).toMatchObject({ status: 1, rules: ['services/a/canal.routes.yaml paths/shadowed'], err: '', asBefore: 3 });
  // A table, a new file of a folder that was searched, known findings, settings: none of them is missed.
  writeFileSync(at('services/b/canal.routes.yaml'), SHADOW);
  expect(told(dir).rules).toEqual(['services/a/canal.routes.yaml paths/shadowed', 'services/b/canal.routes.yaml paths/shadowed']);
  writeFileSync(at('services/c/canal.routes.yaml'), 'routeTable: 1\nroutes:\n  - GET /locks/{id} -> one\n  - from: more\n');
  mkdirSync(at('services/c/more/locks/closed'));
  writeFileSync(at('services/c/more/locks/closed/route.ts'), 'export function GET() {}\n');
  expect(told(dir).rules).toHaveLength(3);
  rmSync(at('services/c/more/locks/closed'), { recursive: true });
  expect(told(dir).rules).toHaveLength(2);
  writeFileSync(at('services/a/elm-gate.yaml'), settings('a', 'levels: { paths/shadowed: off }\n'));
  expect(told(dir)).toMatchObject({ status: 1, rules: ['services/b/canal.routes.yaml paths/shadowed'] });
  expect(run(join(dir, 'services/b'), ['acknowledge', '--rule', 'paths', '--reason', 'soon']).status).toBe(0);
  expect(told(dir, true)).toMatchObject({ status: 0, rules: [], asBefore: 3 });
  const fresh = run(dir, ['check', '--fresh'], { XDG_CACHE_HOME: join(dir, '.cache') });
  expect(fresh.out).not.toContain('unchanged');
  expect(fresh.out).toContain('3 services in 3 folders');
});

test('a folder that cannot be read -> its sentence and status 2, the others are told; what is for one folder says so', () => {
  const dir = fleet();
  writeFileSync(join(dir, 'services/b/canal.routes.yaml'), 'routes: [');
  const broken = told(dir);
  expect(broken).toMatchObject({ status: 2, rules: ['services/a/canal.routes.yaml paths/shadowed'] });
  expect(broken.err).toMatch(/^services\/b\/canal\.routes\.yaml:\d+:\d+: /u);
  for (const args of [['check', '--watch'], ['table'], ['acknowledge', '--reason', 'x']])
    expect([args, run(dir, args)]).toEqual([
      args,
      expect.objectContaining({ status: 2, err: expect.stringMatching(/--config (?:FOLDER)/u) }),
    ]);
  writeFileSync(join(dir, 'elm-gate.yaml'), 'fleet: nothing/*\n');
  expect(run(dir, ['check'])).toMatchObject({ status: 2, err: expect.stringMatching(/no folder that fits nothing\/\*/u) });
});

test('many folders, shared out among threads -> the findings of each, in the order of the folders, all of them kept', () => {
  const files = Array.from({ length: 60 }, (_, i) => i).flatMap((i) => [
    [`services/s${i}/elm-gate.yaml`, settings(`s${i}`)],
    [`services/s${i}/canal.routes.yaml`, i === 41 ? 'routes: [' : i % 2 === 0 ? SHADOW : FINE],
  ]);
  const dir = folder({ 'elm-gate.yaml': 'fleet: "services/*"\n', ...Object.fromEntries(files) });
  const first = told(dir, true);
  const wanted = Array.from({ length: 30 }, (_, i) => `services/s${2 * i}/canal.routes.yaml paths/shadowed`);
  expect(first).toMatchObject({ status: 2, asBefore: 59, rules: wanted.sort() });
  expect(first.err.trim().split('\n')).toHaveLength(1);
});
