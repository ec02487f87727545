/** Runs the program's tests on the other versions of Node.js that people run; their binaries come as registry packages. */
import { execFileSync, spawnSync } from 'node:child_process';
import { existsSync, mkdtempSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';

const VERSIONS = ['20', '22', '24', '26'];
const own = process.versions.node.split('.')[0];
const folder = mkdtempSync(join(tmpdir(), 'elm-gate-nodes-'));
let failed = 0;
for (const version of VERSIONS.filter((v) => v !== own)) {
  const prefix = join(folder, version);
  const name = `node-${process.platform}-${process.arch}`;
  execFileSync('npm', ['install', '--no-save', '--no-package-lock', '--prefix', prefix, `${name}@${version}`], {
    stdio: ['ignore', 'ignore', 'inherit'],
  });
  const node = join(prefix, 'node_modules', name, 'bin', 'node');
  if (!existsSync(node)) throw new Error(`the package ${name}@${version} has no bin/node`);
  console.log(`Node ${version}: ${execFileSync(node, ['--version'], { encoding: 'utf8' }).trim()}`);
  const { status } = spawnSync(
    'npx',
    [
      'vitest',
      'run',
      'test/program.test.ts',
      'test/grids.test.ts',
      'test/from.test.ts',
      'test/rehearse.test.ts',
      'test/review.test.ts',
      'test/formats.test.ts',
      'test/traffic.test.ts',
      'test/gateway.test.ts',
      'test/fleet.test.ts',
      'test/expect.test.ts',
      'test/watch.test.ts',
    ],
    {
      stdio: 'inherit',
      env: { ...process.env, ELM_GATE_NODE: node },
    },
  );
  if (status !== 0) failed += 1;
}
process.exitCode = failed === 0 ? 0 : 1;
