/** Known findings: what they survive, and how branches that write them down merge. */
import { execFileSync } from 'node:child_process';
import { cpSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { folder, run, runAll, table } from './run.ts';
import { runs, SEED } from './runs.ts';

function demo(): string {
  const dir = folder();
  cpSync('demo', dir, { recursive: true });
  return dir;
}

const summaryOf = (out: string): Record<string, number> => JSON.parse(out).summary;

/** Edits after which every finding is the same one, each by file. */
const EDITS: Readonly<Record<string, (text: string) => string>> = {
  'lines move': (text) => `# moved\n#\n${text.replace('routes:', '# down\n\nroutes:')}`,
  'a parameter gets another name': (text) =>
    text.replaceAll('rentalId', 'rentId').replaceAll('tenantId', 'who').replaceAll('lockId', 'lockNo'),
  'handlers get other names': (text) =>
    text.replace('handlers: rentals.', 'handlers: hires.').replace('handlers: keys.', 'handlers: latches.'),
};
const NAMES = Object.keys(EDITS);
const FILES = ['mooring-office.routes.yaml', 'mooring-office.openapi.yaml'];

test('known findings survive moved lines and other names of parameters and handlers', () => {
  const drawn = fc.sample(fc.subarray(NAMES, { minLength: 1 }), { numRuns: runs(3), seed: SEED });
  const start = demo();
  expect(run(start, ['acknowledge', '--service', 'mooring-office', '--reason', 'before']).status).toBe(0);
  const dirs = drawn.map((names) => {
    const dir = folder();
    cpSync(start, dir, { recursive: true });
    for (const file of FILES) {
      const text = readFileSync(join(dir, file), 'utf8');
      writeFileSync(
        join(dir, file),
        names.reduce((t, name) => (EDITS[name] as (t: string) => string)(t), text),
      );
    }
    return dir;
  });
  const before = summaryOf(run(start, ['check', '--format', 'json']).out);
  const ran = runAll(dirs.map((dir) => ({ dir, args: ['check', '--format', 'json'] })));
  for (const [i, { out }] of ran.entries()) expect([drawn[i], summaryOf(out)]).toEqual([drawn[i], before]);
  expect(before.known).toBeGreaterThan(30);
});

test('known findings survive another route source: a printed listing, in another style of patterns', () => {
  const line = fc.tuple(
    fc.constantFrom('GET', 'PUT', 'POST'),
    fc.constantFrom(
      '/locks/{lockId}',
      '/locks/closed',
      '/locks/{name}',
      '/locks/{a}/gates',
      '/locks/closed/gates',
      '/basins/{id}',
    ),
  );
  const drawn = fc.sample(fc.array(line, { minLength: 3, maxLength: 9 }), { numRuns: runs(8), seed: SEED });
  const listed = drawn.map((lines) => lines.map(([method, path], i) => [method, path, `canal.h${i}`] as const));
  const dirs = listed.map((lines) =>
    folder({ 'canal.routes.yaml': table(...lines.map(([method, path, handler]) => `${method} ${path} -> ${handler}`)) }),
  );
  const all = (args: readonly string[]): readonly string[] => runAll(dirs.map((dir) => ({ dir, args }))).map((r) => r.out);
  const before = all(['check', '--brief']);
  expect(before.filter((out) => / (?:error|warning) /u.test(out)).length).toBeGreaterThan(drawn.length / 2);
  all(['acknowledge', '--reason', 'before']);
  for (const [i, lines] of listed.entries()) {
    const rows = lines.map(
      ([method, path, handler]) => `${method.padEnd(6)}${path.replace(/\{(\w+)\}/gu, ':$1').padEnd(30)}${handler}\n`,
    );
    writeFileSync(join(dirs[i] as string, 'printed.txt'), rows.join(''));
    writeFileSync(join(dirs[i] as string, 'canal.routes.yaml'), table('from: printed.txt'));
  }
  for (const [i, out] of all(['check', '--brief']).entries())
    expect({ routes: listed[i], out }).toEqual({
      routes: listed[i],
      out: expect.stringMatching(/^(?:\d+ known findings? left out .*\n)?Nothing found/u),
    });
});

test('what is told once for many places stays known when the first of them goes, and when its file gets another name', () => {
  const path = (name: string): string =>
    `  /${name}: { get: { responses: { 200: { description: ok } } }, post: { responses: { 201: { description: ok } } } }\n`;
  const document = (...names: string[]): string =>
    `openapi: 3.1.0\ninfo: { title: canal, version: '1' }\npaths:\n${names.map(path).join('')}`;
  const dir = folder({ 'canal.openapi.yaml': document('locks', 'basins', 'tolls') });
  const check = (): string => run(dir, ['check', '--brief']).out;
  expect(check()).toMatch(/\/locks can be created .*\(and 2 more\)/u);
  expect(run(dir, ['acknowledge', '--reason', 'before']).status).toBe(0);
  writeFileSync(join(dir, 'canal.openapi.yaml'), document('basins', 'tolls'));
  expect(check()).toMatch(/1 known finding left out .*\nNothing found/u);
  renameSync(join(dir, 'canal.openapi.yaml'), join(dir, 'desk.openapi.yaml'));
  expect(check()).toMatch(/1 known finding left out .*\nNothing found/u);
});

test('acknowledge: counted and left out, told again past the date, pruned when gone', () => {
  const dir = folder({
    'canal.routes.yaml':
      'routeTable: 1\nrouter: { precedence: first-declared }\nroutes:\n  - "GET /locks/{id} -> locks.read"\n  - GET /locks/closed -> locks.closed\n',
  });
  expect(run(dir, ['acknowledge'])).toMatchObject({ status: 2, err: expect.stringContaining("--reason 'goes with version 3'") });
  const args = ['--rule', 'paths/shadowed', '--reason', 'soon', '--by', 'keeper', '--until', '2027-06-30'];
  expect(run(dir, ['acknowledge', ...args]).out).toBe('1 finding acknowledged; elm-gate.known.yaml has 1 known finding now.\n');
  expect(run(dir, ['check', '--rule', 'paths/shadowed', '--today', '2027-06-29'])).toMatchObject({ status: 0 });
  // Another path is another finding.
  writeFileSync(
    join(dir, 'canal.routes.yaml'),
    'routeTable: 1\nrouter: { precedence: first-declared }\nroutes:\n  - "GET /locks/{id} -> locks.read"\n  - GET /locks/open -> locks.closed\n',
  );
  expect(run(dir, ['check', '--today', '2027-06-29'])).toMatchObject({
    status: 1,
    out: expect.stringContaining('no longer there'),
  });
  writeFileSync(
    join(dir, 'canal.routes.yaml'),
    'routeTable: 1\nrouter: { precedence: first-declared }\nroutes:\n  - "GET /locks/{id} -> locks.read"\n  - GET /locks/closed -> locks.closed\n',
  );
  const over = run(dir, ['check', '--today', '2027-06-30']);
  expect([over.status, over.out]).toEqual([1, expect.stringContaining('1 known finding past its date, and told again')]);
  writeFileSync(join(dir, 'canal.routes.yaml'), 'routeTable: 1\nroutes:\n  - GET /locks/closed -> locks.closed\n');
  expect(run(dir, ['check', '--today', '2027-06-29']).out).toContain('1 known finding no longer there');
  expect(run(dir, ['acknowledge', '--prune']).out).toBe('1 entry taken out; elm-gate.known.yaml has 0 known findings now.\n');
  writeFileSync(
    join(dir, 'elm-gate.known.yaml'),
    'knownFindings: 1\nfindings:\n  elm: { rule: a, at: b, message: c, reason: d }\n',
  );
  expect(run(dir, ['check'])).toMatchObject({
    status: 2,
    err: expect.stringContaining('expected a fingerprint of 16 hexadecimal digits'),
  });
});

test('two branches that acknowledge other findings merge without a conflict', () => {
  const dir = demo();
  const git = (...args: string[]): string =>
    execFileSync('git', ['-c', 'user.name=keeper', '-c', 'user.email=keeper@canal.example', ...args], {
      cwd: dir,
      encoding: 'utf8',
    });
  git('init', '-q', '-b', 'main');
  run(dir, ['acknowledge', '--service', 'mooring-office', '--reason', 'before', '--by', 'keeper']);
  git('add', '.');
  git('commit', '-qm', 'start');
  const branches = [
    ['left', 'paths/shadowed'],
    ['right', 'types/clash'],
  ] as const;
  for (const [branch, rule] of branches) {
    git('checkout', '-q', '-b', branch, 'main');
    expect(run(dir, ['acknowledge', '--rule', rule, '--reason', branch, '--by', 'keeper']).status).toBe(0);
    git('commit', '-qam', branch);
  }
  git('merge', '-q', '--no-edit', 'left');
  expect(git('status', '--porcelain')).toBe('');
  expect(run(dir, ['check', '--rule', 'paths/shadowed', '--rule', 'types/clash', '--brief']).out).toMatch(/^Nothing found/u);
});
