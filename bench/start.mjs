/**
 * What a command costs on the demo against a bare Node.js, by the medians of runs in turn: looked at anew, and again where nothing
 * changed. Other versions: name their binaries.
 */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';

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
const KEPT = ['settings', 'table', 'check'];
for (const node of NODES) {
  const cache = mkdtempSync(join(tmpdir(), 'elm-gate-start-'));
  const env = { ...process.env, XDG_CACHE_HOME: cache };
  const forget = () => rmSync(join(cache, 'elm-gate', 'results'), { recursive: true, force: true });
  const times = {};
  const timed = (name, args, isCounted) => {
    const started = performance.now();
    spawnSync(node, args, { cwd: resolve('demo'), env });
    if (isCounted) times[name] = [...(times[name] ?? []), performance.now() - started];
  };
  for (let i = 0; i <= RUNS; i++)
    for (const [name, args] of Object.entries(jobs)) {
      forget();
      // The first run of each keeps its compiled form.
      timed(name, args, i > 0);
      if (KEPT.includes(name)) timed(`${name} again`, args, i > 0);
    }
  rmSync(cache, { recursive: true, force: true });
  const median = (name) => times[name].sort((a, b) => a - b)[Math.floor(RUNS / 2)];
  const version = spawnSync(node, ['--version'], { encoding: 'utf8' }).stdout.trim();
  const ratios = Object.keys(times)
    .slice(1)
    .map((name) => `${name} ${(median(name) / median('node')).toFixed(2)}`);
  console.log(`start on the demo x node -e 0, Node ${version}: ${ratios.join(', ')}`);
}
