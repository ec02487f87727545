import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync, mkdirSync, mkdtempSync, readdirSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join, resolve } from 'node:path';
import { expect, test } from 'vitest';

/** The folders of src/core, each of which may import itself and those before it. */
const LAYERS = [
  ...['base', 'language', 'media', 'paths', 'listing'],
  ...['model', 'vocabulary', 'equality', 'normalise', 'validate', 'wire', 'search', 'subschema'].map((f) => `schema/${f}`),
  ...['table', 'request', 'index', 'reach', 'precedence', 'follow', 'examples', 'suggest', 'findings'].map((f) => `routes/${f}`),
  ...['model', 'document', 'read-schema', 'read', 'pairing', 'resources', 'request'].map((f) => `contract/${f}`),
  ...['changes/rules', 'changes', 'relation', 'body', 'operation', 'table'].map((f) => `compare/${f}`),
  'compare',
  ...['engine', 'document', 'media', 'methods', 'paths', 'types', 'versions'].map((f) => `checks/${f}`),
  ...['checks', 'rehearse', 'traffic', '.'],
];

type Import = readonly [from: string, to: string];

/** Imports that go up the list, or out of the folders that it names. */
function upward(imports: readonly Import[]): readonly Import[] {
  const at = (file: string): number => LAYERS.indexOf(dirname(file));
  return imports.filter(([from, to]) => at(to) < 0 || at(from) < 0 || at(to) > at(from));
}

/** Files that import each other in a circle, types counted: what is left when files that import nothing left are taken away. */
function circles(imports: readonly Import[]): readonly string[] {
  let left = imports;
  for (;;) {
    const importing = new Set(left.map(([from]) => from));
    const next = left.filter(([, to]) => importing.has(to));
    if (next.length === left.length) return [...importing];
    left = next;
  }
}

const IMPORT = /(?:\bfrom|\bimport\(|^import) ?['"](\.[^'"]+)['"]/gmu;

test('the import graph: files of src/core -> every import goes down the list of folders, and none in a circle', () => {
  const files = readdirSync('src/core', { recursive: true, encoding: 'utf8' }).filter((f) => f.endsWith('.ts'));
  const imports = files.flatMap((from) =>
    [...readFileSync(join('src/core', from), 'utf8').matchAll(IMPORT)].map(
      ([, spec = '']): Import => [from, join(dirname(from), spec)],
    ),
  );
  expect(imports.length).toBeGreaterThan(1_000);
  expect(upward(imports)).toEqual([]);
  expect(circles(imports)).toEqual([]);
  // The two can fail.
  expect(upward([['paths/x.ts', 'routes/table/route.ts']])).toHaveLength(1);
  expect(upward([['base/x.ts', '../files/read.ts']])).toHaveLength(1);
  expect(circles([...imports, ['base/json.ts', 'checks/index.ts']])).toContain('base/json.ts');
});

test('every folder of src/core has a README of at most 40 lines, unless its name says it all', () => {
  const PLAIN = ['language', 'media', 'compare/changes/rules', 'checks', '.'];
  const lines = (folder: string): number => {
    const file = join('src/core', folder, 'README.md');
    return existsSync(file) ? readFileSync(file, 'utf8').split('\n').length : 0;
  };
  const named = LAYERS.filter((f) => !PLAIN.includes(f) && !/^checks\/(?!engine)/u.test(f));
  expect(named.filter((f) => lines(f) === 0 || lines(f) > 41)).toEqual([]);
});

test('the linter: core imports a file of the program around it -> an error', () => {
  const dir = mkdtempSync(join(tmpdir(), 'elm-gate-lint-'));
  const { vcs: _, ...rules } = JSON.parse(readFileSync('biome.json', 'utf8'));
  writeFileSync(join(dir, 'biome.json'), JSON.stringify(rules));
  const wrong = [
    ['src/core/checks/paths/x.ts', 'node:fs'],
    ['src/core/base/x.ts', '../../files/read.ts'],
    ['src/files/x.ts', '../views/rendered.ts'],
    ['src/views/x.ts', '../commands/base.ts'],
  ] as const;
  for (const [file, from] of wrong) {
    mkdirSync(dirname(join(dir, file)), { recursive: true });
    writeFileSync(join(dir, file), `export * from '${from}';\n`);
  }
  const { stdout, stderr } = spawnSync(resolve('node_modules/.bin/biome'), ['lint', '.'], { cwd: dir, encoding: 'utf8' });
  for (const [file] of wrong) expect(stdout + stderr).toContain(`${file}:1:15 lint/style/noRestrictedImports`);
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
  expect(demo).toContain('GET /v2/locks/7 is handled by locks.read');
  // The example of docs/library.md prints what the page says.
  const [, code = '', printed] = /```js\n(.*?)```.*?```\n(.*?)```/su.exec(readFileSync('docs/library.md', 'utf8')) ?? [];
  expect(execFileSync(process.execPath, ['--input-type=module', '-e', code], { cwd: dir, encoding: 'utf8' })).toBe(printed);
});
