/** Known findings: what they survive, and how branches that write them down merge. */
import { execFileSync } from 'node:child_process';
import { cpSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { folder, run, runAll } from './run.ts';
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
