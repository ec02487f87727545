/** Every bench, one after another; `--quick` with smaller inputs and fewer runs, under a minute. */
import { spawnSync } from 'node:child_process';
import { join } from 'node:path';

const isQuick = process.argv.includes('--quick');
const BENCHES = [
  ['start.mjs', { RUNS: 3 }],
  ['run.mjs', { RUNS: 3 }],
  ['reading.mjs', undefined],
  ['comparing.mjs', undefined],
  ['bulk.mjs', { ROUTES: 2_000, LINES: 20_000, RUNS: 1 }],
  ['traffic.mjs', { LINES: 100_000, RUNS: 1 }],
  ['fleet.mjs', { FOLDERS: 40, RUNS: 1 }],
  ['million.mjs', { SIZES: '10000,40000' }],
  ['scale.mjs', undefined],
];
for (const [file, quick] of BENCHES) {
  // Those that need large documents or minutes are left out of the quick run.
  if (isQuick && quick === undefined) continue;
  const env = { ...process.env, ...(isQuick ? Object.fromEntries(Object.entries(quick).map(([k, v]) => [k, String(v)])) : {}) };
  console.log(`\n== ${file}`);
  const { status } = spawnSync(process.execPath, ['--expose-gc', join(import.meta.dirname, file)], { stdio: 'inherit', env });
  if (status !== 0) process.exitCode = 1;
}
