/** Builds what runs: the program with its compiled form, and the library in parts. Types come from the compiler. */
import { execFileSync } from 'node:child_process';
import { readFileSync, rmSync } from 'node:fs';
import { build } from 'esbuild';

/**
 * The framework sorts command names by the rules of a language, for which Node.js loads tables at every start: 25 ms.
 * Command names are ASCII, so plain order is the same order. Where its text is another one day, nothing is replaced.
 */
const plainOrder = {
  name: 'plain-order',
  setup(bundle) {
    bundle.onLoad({ filter: /@oclif.core.lib.config.plugin\.js$/ }, ({ path }) => ({
      contents: readFileSync(path, 'utf8').replaceAll('a.id.localeCompare(b.id)', '(a.id < b.id ? -1 : 1)'),
    }));
  },
};

rmSync('dist', { recursive: true, force: true });
const common = {
  outdir: 'dist',
  platform: 'node',
  target: 'node20',
  minify: true,
  legalComments: 'linked',
  plugins: [plainOrder],
};
await build({
  ...common,
  entryPoints: {
    index: 'src/core/index.ts',
    schemas: 'src/files/formats/schemas.ts',
    docs: 'src/docs.ts',
    reading: 'src/reading.ts',
  },
  bundle: true,
  splitting: true,
  format: 'esm',
});
await build({ ...common, entryPoints: { main: 'src/start.ts' }, format: 'esm' });
// The program itself is one file, so that its compiled form can be kept beside it: start.ts says why.
await build({
  ...common,
  entryPoints: { program: 'src/main.ts' },
  bundle: true,
  format: 'cjs',
  outExtension: { '.js': '.cjs' },
  external: ['typescript', 'tsx', 'ts-node'],
  supported: { 'dynamic-import': false },
});
execFileSync(process.execPath, ['scripts/keep.mjs'], {
  stdio: ['ignore', 'ignore', 'inherit'],
  env: { ...process.env, NODE_ENV: 'production' },
});
execFileSync(process.execPath, ['node_modules/typescript/bin/tsc', '-p', 'tsconfig.build.json'], { stdio: 'inherit' });
