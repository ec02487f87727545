/** review on repositories made for it, and the pipeline and hook of its page as they stand there. */
import { execFileSync, spawnSync } from 'node:child_process';
import { chmodSync, mkdirSync, readdirSync, readFileSync, renameSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from 'vitest';
import { undescribed } from './described.ts';
import { folder, NODE, PROGRAM, run } from './run.ts';

const KEEPER = ['-c', 'user.name=keeper', '-c', 'user.email=keeper@canal.example', '-c', 'init.defaultBranch=main'];
function git(dir: string, ...args: readonly string[]): string {
  return execFileSync('git', [...KEEPER, ...args], { cwd: dir, encoding: 'utf8', stdio: ['ignore', 'pipe', 'ignore'] });
}

/** A repository with one commit of these files. */
function repository(files: Readonly<Record<string, string>>): string {
  const dir = folder(files);
  git(dir, 'init', '-q');
  git(dir, 'add', '.');
  git(dir, 'commit', '-qm', 'start');
  return dir;
}

function edit(dir: string, file: string, from: string | RegExp, to: string): void {
  writeFileSync(join(dir, file), readFileSync(join(dir, file), 'utf8').replace(from, to));
}

const TABLE =
  'routeTable: 1\nroutes:\n  - GET /locks/{id} -> locks.read\n  - GET /locks/closed -> locks.closed\n  - include: more.yaml\n';
const MORE = 'routeTable: 1\nroutes:\n  - GET /gates -> gates.list\n';
const DOCUMENT = (kind: string): string =>
  `openapi: 3.1.0\ninfo: { title: Canal, version: 1.0.0 }\npaths:\n  /gates: { get: { responses: { 200: { description: All, content: { application/json: { schema: { $ref: "parts/gate.yaml" } } } } } } }\n`.replace(
    'KIND',
    kind,
  );
const GATE = 'type: object\nrequired: [name]\nproperties: { name: { type: string } }\n';
const SETTINGS =
  'services: [{ name: canal, routes: canal.routes.yaml, document: canal.openapi.yaml }]\nclients: [{ name: signal box, accept: application/json }]\n';
const FILES = {
  'canal.routes.yaml': TABLE,
  'more.yaml': MORE,
  'canal.openapi.yaml': DOCUMENT(''),
  'parts/gate.yaml': GATE,
  'elm-gate.yaml': SETTINGS,
};

test('new, gone and breaking -> told, with the client that breaks; the work tree and the temporary folder are left as they were', () => {
  const dir = repository(FILES);
  git(dir, 'checkout', '-qb', 'change');
  expect(run(dir, ['review'])).toMatchObject({
    status: 0,
    out: expect.stringContaining('-> the work tree: passes. For clients: none; 0 new findings, 0 gone'),
  });
  edit(dir, 'canal.routes.yaml', '  - GET /locks/closed -> locks.closed\n', '');
  edit(dir, 'more.yaml', 'GET /gates ->', 'GET /gates/{id} -> gates.read\n  - GET /gates/open -> gates.open\n  - GET /gates ->');
  edit(dir, 'parts/gate.yaml', '{ name: { type: string } }', '{ name: { type: integer } }');
  const asides = (): readonly string[] => readdirSync(tmpdir()).filter((f) => f.startsWith('elm-gate-base-'));
  const before = [git(dir, 'status', '--porcelain'), asides()];
  const json = run(dir, ['review', '--format', 'json']);
  expect(undescribed('review', json.out)).toEqual([]);
  expect([git(dir, 'status', '--porcelain'), asides()]).toEqual(before);
  const told = JSON.parse(json.out);
  expect([json.status, told.verdict, told.fails, told.clients]).toEqual([
    1,
    'major',
    ['1 new finding', '1 breaking change'],
    ['signal box'],
  ]);
  expect(told.added.map((f: { rule: string; message: string }) => f.message)).toContain('GET /gates/open can never be reached');
  expect(told.gone.map((f: { message: string }) => f.message)).toContain('GET /locks/closed can never be reached');
  // Standard input can be read once, and weighs findings and changes alike.
  const asked = (target: string): string => `{"method":"GET","target":"${target}","status":200}\n`;
  const log = asked('/gates') + asked('/gates') + asked('/gates/open');
  const weighed = run(dir, ['review', '--format', 'json', '--traffic', '-'], {}, log).out;
  expect(undescribed('review', weighed)).toEqual([]);
  const { added, changes } = JSON.parse(weighed);
  const shadow = added.find((f: { message: string }) => f.message === 'GET /gates/open can never be reached');
  const breaking = changes.find((c: { effect: string }) => c.effect === 'breaking');
  expect([shadow.traffic.requests, breaking.traffic.requests, breaking.traffic.of]).toEqual([1, 2, 3]);
  const text = run(dir, ['review']).out.replace(/\s+/gu, ' ');
  expect(text).toContain('with what is not committed: fails (1 new finding, 1 breaking change). For clients: major');
  expect(text).toContain('Clients that break: signal box.');
  const sarif = JSON.parse(run(dir, ['review', '--format', 'sarif']).out);
  const states = sarif.runs[0].results.map((r: { baselineState: string }) => r.baselineState);
  expect(new Set(states)).toEqual(new Set(['new', 'absent', 'unchanged']));
  edit(dir, 'canal.openapi.yaml', 'version: 1.0.0', 'version: 2.0.0');
  expect(JSON.parse(run(dir, ['review', '--allow-breaking', '--format', 'json']).out).fails).toEqual(['1 new finding']);
  // What fails in a pipeline's report is what fails the run.
  const failures = (...args: string[]): string | undefined =>
    / failures="(\d+)"/u.exec(run(dir, ['review', '--format', 'junit', ...args]).out)?.[1];
  expect([failures(), failures('--allow-breaking')]).toEqual(['2', '1']);
});

test('renamed files, moved lines and other names are no news', () => {
  const dir = repository(FILES);
  git(dir, 'checkout', '-qb', 'change');
  renameSync(join(dir, 'canal.openapi.yaml'), join(dir, 'gates.openapi.yaml'));
  mkdirSync(join(dir, 'tables'));
  renameSync(join(dir, 'more.yaml'), join(dir, 'tables/more.yaml'));
  edit(dir, 'canal.routes.yaml', 'include: more.yaml', 'include: tables/more.yaml');
  edit(dir, 'canal.routes.yaml', /^/u, '# moved\n\n');
  edit(dir, 'canal.routes.yaml', '{id} -> locks.read', '{lockId} -> locks.one');
  edit(dir, 'elm-gate.yaml', 'canal.openapi.yaml', 'gates.openapi.yaml');
  const { out, status } = run(dir, ['review', '--format', 'json']);
  const { added, gone, verdict, changes } = JSON.parse(out);
  expect([status, added, gone, verdict]).toEqual([0, [], [], 'minor']);
  expect(changes.map((c: { rule: string }) => c.rule)).toEqual(['versions/handler-renamed']);
});

test('a service taken out of another behind one gateway -> its routes have moved, and only what nobody answers any more is lost', () => {
  const services = (more: string): string =>
    `gateway: { choose: longest-prefix }\nservices:\n  - { name: yard, routes: yard.routes.yaml, mount: / }\n  - { name: tolls, routes: tolls.routes.yaml, mount: /tolls }\n${more}`;
  const table = (...routes: readonly string[]): string => `routeTable: 1\nroutes:\n${routes.map((r) => `  - ${r}\n`).join('')}`;
  const dir = repository({
    'elm-gate.yaml': services(''),
    'yard.routes.yaml': table(
      'GET /locks -> locks.list',
      'GET /quotes/{quoteId} -> quotes.read',
      'POST /quotes -> quotes.create',
    ),
    'tolls.routes.yaml': table('GET /due -> tolls.due'),
  });
  writeFileSync(join(dir, 'elm-gate.yaml'), services('  - { name: quotes, routes: quotes.routes.yaml, mount: /quotes }\n'));
  writeFileSync(join(dir, 'yard.routes.yaml'), table('GET /locks -> locks.list'));
  writeFileSync(join(dir, 'quotes.routes.yaml'), table('GET /{id} -> quote', 'PUT /{id} -> replace'));
  const asked = (method: string, target: string): string => `${JSON.stringify({ method, target, status: 200 })}\n`;
  const log = asked('GET', '/quotes/7') + asked('POST', '/quotes') + asked('POST', '/quotes') + asked('GET', '/locks');
  const { out, status } = run(dir, ['review', 'HEAD', '--format', 'json', '--traffic', '-'], {}, log);
  expect([status, undescribed('review', out)]).toEqual([1, []]);
  const told = JSON.parse(out).changes.map((c: { rule: string; message: string; traffic: { requests: number } }) => [
    c.rule.slice('versions/routing-'.length),
    c.message,
    c.traffic.requests,
  ]);
  expect(told).toEqual([
    ['lost', 'POST /quotes was handled by quotes.create and is answered 404 by quotes now', 2],
    ['moved', 'GET /quotes/{quoteId} was handled by yard and is handled by quotes now', 1],
    ['answer', expect.stringMatching(/^DELETE \/quotes was answered 405 .* and is answered 404 now$/u), 0],
    // A method more is allowed.
    ['answer', expect.stringMatching(/^DELETE \/quotes\/7 was answered 405 .* and is answered 405/u), 0],
    ['added', expect.stringMatching(/^PUT \/quotes\/\S+ is handled by replace now$/u), 0],
  ]);
});

test('what git can not answer -> a sentence and status 2; an earlier state that can not be read -> all is new', () => {
  const bare = folder(FILES);
  const sentence = (dir: string, words: string, ...args: string[]): void =>
    expect(run(dir, ['review', ...args])).toMatchObject({ status: 2, out: '', err: expect.stringContaining(words) });
  sentence(bare, 'is in no git repository');
  git(bare, 'init', '-q');
  sentence(bare, 'has no commit yet');
  const dir = repository({ ...FILES, 'elm-gate.yaml': 'services: 7\n' });
  sentence(dir, 'git has no commit nowhere', 'nowhere');
  sentence(dir, 'git has no commit --all', '--', '--all');
  git(dir, 'checkout', '-qb', 'change');
  writeFileSync(join(dir, 'elm-gate.yaml'), SETTINGS);
  const { out, status } = run(dir, ['review']);
  expect([status, out.replace(/\s+/gu, ' ')]).toEqual([
    1,
    expect.stringMatching(/nothing could be read, so every finding counts as new \(elm-gate\.yaml:1:\d+: /u),
  ]);
  git(dir, 'commit', '-qam', 'settings');
  const shallow = folder();
  execFileSync('git', ['clone', '-q', '--depth', '1', '--branch', 'change', `file://${dir}`, shallow], { stdio: 'ignore' });
  sentence(shallow, 'this is a shallow clone', 'main~7');
});

test('the pipeline and the hook of docs/review.md do what they say', () => {
  const [pipeline, hook] = [...readFileSync('docs/review.md', 'utf8').matchAll(/```sh\n([\s\S]*?)```/gu)].map(
    ([, text]) => text as string,
  );
  const dir = repository(FILES);
  const bin = folder({ npx: `#!/bin/sh\nshift 2\nexec ${NODE} ${PROGRAM} "$@"\n` });
  chmodSync(join(bin, 'npx'), 0o755);
  const env = { ...process.env, PATH: `${bin}:${process.env.PATH}`, NO_COLOR: '1' };
  const shell = (command: string) => spawnSync('sh', ['-c', command], { cwd: dir, encoding: 'utf8', env });
  edit(dir, 'canal.routes.yaml', '  - GET /locks/closed -> locks.closed\n', '');
  git(dir, 'commit', '-qam', 'mend');
  expect(shell(pipeline as string)).toMatchObject({ status: 0, stdout: expect.stringContaining('the work tree') });
  expect(readFileSync(join(dir, 'review.md'), 'utf8')).toMatch(/^### elm-gate review/u);
  git(dir, 'clean', '-qfd');
  writeFileSync(join(dir, '.git/hooks/pre-commit'), hook as string, { mode: 0o755 });
  edit(dir, 'more.yaml', 'GET /gates ->', 'GET /gates/{id} -> gates.read\n  - GET /gates/open -> gates.open\n  - GET /gates ->');
  const refused = shell(`git ${KEEPER.map((k) => `'${k}'`).join(' ')} commit -qam worse`);
  expect([refused.status, refused.stderr]).toEqual([1, expect.stringContaining('GET /gates/open can never be reached')]);
  expect(readdirSync(dir).sort()).not.toContain('gate.sarif');
});
