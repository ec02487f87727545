/** Reading large documents: the whole program against its parser alone, in processes of their own, taken in turn. */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { dump } from 'js-yaml';
import { document } from './documents.mjs';

const RUNS = Number(process.env.RUNS ?? 7);
const dir = mkdtempSync(join(tmpdir(), 'elm-gate-reading-'));
const json = join(dir, 'large.openapi.json');
const yaml = join(dir, 'large.openapi.yaml');
writeFileSync(json, JSON.stringify(document(13.6), null, 1));
writeFileSync(yaml, dump(document(11.6)));

const files = "import { readFileSync } from 'node:fs';";
const ours = `import { read } from ${JSON.stringify(resolve('dist/reading.js'))}; `;
const report = 'console.log(JSON.stringify({ time: performance.now() - started, peak: process.resourceUsage().maxRSS / 1024 }));';
const scripts = {
  json: `${files} const started = performance.now(); JSON.parse(readFileSync(process.argv[1], 'utf8')); ${report}`,
  'json read': `${ours} const started = performance.now(); read(process.argv[1]); ${report}`,
  yaml: `import { load } from ${JSON.stringify(resolve('node_modules/js-yaml/dist/js-yaml.mjs'))}; ${files} const started = performance.now(); load(readFileSync(process.argv[1], 'utf8')); ${report}`,
  'yaml read': `${ours} const started = performance.now(); read(process.argv[1]); ${report}`,
};
const figures = Object.fromEntries(Object.keys(scripts).map((name) => [name, []]));
for (let i = 0; i < RUNS; i++) {
  for (const [name, script] of Object.entries(scripts)) {
    const run = spawnSync(process.execPath, ['--input-type=module', '-e', script, name.startsWith('json') ? json : yaml], {
      encoding: 'utf8',
    });
    figures[name].push(JSON.parse(run.stdout));
  }
}
const median = (name, key) => figures[name].map((f) => f[key]).sort((a, b) => a - b)[Math.floor(RUNS / 2)];
const ratio = (a, b, key) => (median(a, key) / median(b, key)).toFixed(2);
const megabytes = (file) => (statSync(file).size / 1e6).toFixed(1);
console.log(`medians of ${RUNS} runs in turn, each in a process of its own`);
console.log(
  `JSON, ${megabytes(json)} MB, 800 paths   ${ratio('json read', 'json', 'time')} x JSON.parse   (at most 1.5)   memory ${ratio('json read', 'json', 'peak')} x (at most 2)`,
);
console.log(
  `YAML, ${megabytes(yaml)} MB, 800 paths   ${ratio('yaml read', 'yaml', 'time')} x load         (at most 1.3)   memory ${ratio('yaml read', 'yaml', 'peak')} x (at most 2)`,
);
