import { execFileSync, spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join, resolve } from 'node:path';
import { expect, test } from 'vitest';

/** What the linter says of a line of code, were it in this file: it stands there in a copy of the project's rules. */
function lint(file: string, code: string): string {
  const dir = mkdtempSync(join(tmpdir(), 'elm-gate-lint-'));
  const { vcs: _, ...rules } = JSON.parse(readFileSync('biome.json', 'utf8'));
  writeFileSync(join(dir, 'biome.json'), JSON.stringify(rules));
  mkdirSync(dirname(join(dir, file)), { recursive: true });
  writeFileSync(join(dir, file), code);
  const { stdout, stderr } = spawnSync(resolve('node_modules/.bin/biome'), ['lint', file], { cwd: dir, encoding: 'utf8' });
  return stdout + stderr;
}

test.each([
  ['src/core/language/x.ts', "export * from '../paths/pattern.ts';"],
  ['src/core/paths/x.ts', "export * from '../routes/route.ts';"],
  ['src/core/routes/x.ts', "export * from '../checks/finding.ts';"],
  ['src/core/contract/x.ts', "export * from '../checks/finding.ts';"],
  ['src/core/checks/x.ts', "export * from '../../files/read.ts';"],
  ['src/core/checks/paths/x.ts', "export * from 'node:fs';"],
  ['src/files/x.ts', "export * from '../views/rendered.ts';"],
  ['src/views/x.ts', "export * from '../commands/base.ts';"],
])('%s may not import that', (file, code) => {
  expect(lint(file, `${code}\n`)).toContain('noRestrictedImports');
  expect(lint(file, 'export const fine = 1;\n')).not.toContain('noRestrictedImports');
});

test('files stay small', () => {
  const files = readdirSync('src', { recursive: true, encoding: 'utf8' }).filter((f) => f.endsWith('.ts'));
  const long = files.filter((f) => readFileSync(join('src', f), 'utf8').split('\n').length > 301);
  expect(long).toEqual([]);
});

test('no expression of an input is run by the engine of the language', () => {
  // These put together what is written in the code itself.
  const OWN = ['core/language/characters.ts', 'core/paths/angle.ts'];
  const files = readdirSync('src', { recursive: true, encoding: 'utf8' }).filter((f) => f.endsWith('.ts') && !OWN.includes(f));
  expect(files.filter((f) => /\bRegExp\(/u.test(readFileSync(join('src', f), 'utf8')))).toEqual([]);
});

test('the package works when it is packed and installed somewhere else', () => {
  const dir = mkdtempSync(join(tmpdir(), 'elm-gate-pack-'));
  const [packed] = JSON.parse(
    execFileSync('npm', ['pack', '--json', '--ignore-scripts', '--pack-destination', dir], { encoding: 'utf8' }),
  );
  execFileSync('npm', ['init', '-y'], { cwd: dir, stdio: 'ignore' });
  execFileSync('npm', ['install', '--offline', '--no-audit', '--no-fund', join(dir, packed.filename)], {
    cwd: dir,
    stdio: 'ignore',
  });
  const demo = execFileSync('npx', ['elm-gate', 'demo'], { cwd: dir, encoding: 'utf8' });
  expect(demo).toContain('can never be reached');
  expect(demo).toContain('GET /v2/locks/7 is taken by locks.read');
  const library = "import { readContract } from 'elm-gate'; console.log(readContract({ openapi: '3.1.0' }, 'x').ok)";
  expect(execFileSync(process.execPath, ['--input-type=module', '-e', library], { cwd: dir, encoding: 'utf8' })).toBe('true\n');
});
