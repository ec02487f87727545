/** Builds what runs: one bundle, split so that a command loads only what it needs. Types come from the compiler. */
import { execFileSync } from 'node:child_process';
import { rmSync } from 'node:fs';
import { build } from 'esbuild';

rmSync('dist', { recursive: true, force: true });
await build({
  entryPoints: { main: 'src/main.ts', index: 'src/core/index.ts', schemas: 'src/files/formats/schemas.ts', docs: 'src/docs.ts' },
  outdir: 'dist',
  bundle: true,
  splitting: true,
  format: 'esm',
  platform: 'node',
  target: 'node20',
  minify: true,
  legalComments: 'linked',
  external: ['typescript', 'tsx', 'ts-node'],
  banner: { js: "import { createRequire } from 'node:module'; const require = createRequire(import.meta.url);" },
});
execFileSync(process.execPath, ['node_modules/typescript/bin/tsc', '-p', 'tsconfig.build.json'], { stdio: 'inherit' });
