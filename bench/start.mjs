/** What a command costs on the demo against a bare Node.js, by the medians of runs in turn. Other versions: name their binaries. */
import { spawnSync } from 'node:child_process';
import { resolve } from 'node:path';

const RUNS = Number(process.env.RUNS ?? 15);
const NODES = process.argv.slice(2).length > 0 ? process.argv.slice(2) : [process.execPath];
const program = resolve('bin/elm-gate.js');
const jobs = {
  node: ['-e', '0'],
  '--version': [program, '--version'],
  follow: [program, 'follow', 'GET', '/v2/locks/7'],
  settings: [program, 'settings'],
  table: [program, 'table'],
  check: [program, 'check'],
};
for (const node of NODES) {
  const times = Object.fromEntries(Object.keys(jobs).map((name) => [name, []]));
  for (let i = 0; i <= RUNS; i++)
    for (const [name, args] of Object.entries(jobs)) {
      const started = performance.now();
      spawnSync(node, args, { cwd: resolve('demo') });
      // The first run of each keeps its compiled form.
      if (i > 0) times[name].push(performance.now() - started);
    }
  const median = (name) => times[name].sort((a, b) => a - b)[Math.floor(RUNS / 2)];
  const version = spawnSync(node, ['--version'], { encoding: 'utf8' }).stdout.trim();
  const ratios = Object.keys(jobs)
    .slice(1)
    .map((name) => `${name} ${(median(name) / median('node')).toFixed(2)}`);
  console.log(`start on the demo x node -e 0, Node ${version}: ${ratios.join(', ')}`);
}
