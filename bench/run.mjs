/** Prints what counts as ratios measured in one run: start-up, and the checks against parsing the same file. */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { routes, tableFile } from './generate.mjs';

const RUNS = Number(process.env.RUNS ?? 15);
const program = resolve('bin/elm-gate.js');
const dir = mkdtempSync(join(tmpdir(), 'elm-gate-bench-'));
const table = join(dir, 'gateway.routes.yaml');
writeFileSync(table, tableFile(routes(2000)));
const parse = `import { load } from ${JSON.stringify(resolve('node_modules/js-yaml/dist/js-yaml.mjs'))}; import { readFileSync } from 'node:fs'; load(readFileSync(process.argv[1], 'utf8'));`;

const node = ['-e', '0'];
const commands = {
  node,
  parse: ['--input-type=module', '-e', parse, table],
  version: [program, '--version'],
  help: [program, 'check', '--help'],
  // Anew: what was printed before would be printed again.
  check: [program, 'check', '--fresh', '--routes', table],
};

/** Runs all commands in turn, so that a slow moment of the machine hits each of them. */
const times = Object.fromEntries(Object.keys(commands).map((name) => [name, []]));
for (let i = 0; i < RUNS; i++) {
  for (const [name, args] of Object.entries(commands)) {
    const started = process.hrtime.bigint();
    spawnSync(process.execPath, args, { cwd: dir });
    times[name].push(Number(process.hrtime.bigint() - started) / 1e6);
  }
}
const median = (name) => times[name].sort((a, b) => a - b)[Math.floor(RUNS / 2)];
const ratio = (a, b) => (median(a) / median(b)).toFixed(2);

console.log(`medians of ${RUNS} runs in turn, Node ${process.version}`);
console.log(`elm-gate --version          ${ratio('version', 'node')} x node -e 0        (at most 2.0)`);
console.log(`elm-gate check --help       ${ratio('help', 'node')} x node -e 0        (all of oclif loaded)`);
console.log(`check of 2,000 routes       ${ratio('check', 'parse')} x node and parsing  (at most 3.0)`);
