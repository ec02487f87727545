/** Comparing large documents: reading and comparing both against parsing both, in processes of their own, taken in turn. */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { document } from './documents.mjs';

const RUNS = Number(process.env.RUNS ?? 5);
const dir = mkdtempSync(join(tmpdir(), 'elm-gate-comparing-'));
const file = (name, value) => {
  writeFileSync(join(dir, name), JSON.stringify(value, null, 1));
  return join(dir, name);
};

/** One operation that sends and answers this. */
const single = (schema, components = {}) => {
  const content = { 'application/json': { schema } };
  const put = { requestBody: { content }, responses: { 200: { description: 'Done', content } } };
  return {
    openapi: '3.1.0',
    info: { title: 'One', version: '1.0.0' },
    paths: { '/locks': { put } },
    components: { schemas: components },
  };
};
const form = (i, bound) => ({
  type: 'object',
  required: ['kind', 'n'],
  properties: { kind: { const: `k${i}` }, n: { type: 'integer', maximum: bound } },
});
const optional = (bound) => ({
  type: 'object',
  properties: Object.fromEntries(
    Array.from({ length: 30 }, (_, i) => [`p${i}`, { type: 'integer', maximum: i === 29 ? bound : 9 }]),
  ),
});
const chain = (length, bound) =>
  Object.fromEntries(
    Array.from({ length }, (_, i) => [
      `C${i}`,
      {
        type: 'object',
        properties: { n: { type: 'integer', maximum: bound }, next: { $ref: `#/components/schemas/C${(i + 1) % length}` } },
      },
    ]),
  );
const cases = {
  '12 MB, 1% changed (at most 4)': [document(13.6, 800), document(13.6, 800, { changed: 0.01 })],
  '12 MB, 20% changed (at most 8)': [document(13.6, 800), document(13.6, 800, { changed: 0.2 })],
  '12 MB, 1% changed, most of it breaks': [document(13.6, 800), document(13.6, 800, { broken: 0.01 })],
  '12 MB, 20% changed, most of it breaks': [document(13.6, 800), document(13.6, 800, { broken: 0.2 })],
  '12 MB, the same': [document(13.6, 800), document(13.6, 800)],
};
const wide = {
  'oneOf of 200': [9, 8].map((b) => single({ oneOf: Array.from({ length: 200 }, (_, i) => form(i, i === 150 ? b : 9)) })),
  'allOf of 50': [9, 8].map((b) =>
    single({
      allOf: Array.from({ length: 50 }, (_, i) => ({
        properties: { [`p${i}`]: { type: 'integer', maximum: i === 40 ? b : 9 } },
      })),
    }),
  ),
  '30 optional properties': [9, 8].map((b) => single(optional(b))),
  'anyOf of allOf': [9, 8].map((b) =>
    single({ anyOf: Array.from({ length: 20 }, (_, i) => ({ allOf: [form(i, 9), { properties: { n: { maximum: b } } }] })) }),
  ),
  'a circle of 3,000': [9, 8].map((b) => single({ $ref: '#/components/schemas/C0' }, chain(3000, b))),
};

const report =
  'console.log(JSON.stringify({ time: performance.now() - started, peak: process.resourceUsage().maxRSS / 1024, found }));';
const scripts = {
  parse: `import { readFileSync } from 'node:fs'; const started = performance.now(); const kept = process.argv.slice(1, 3).map((f) => JSON.parse(readFileSync(f, 'utf8'))); const found = kept.length; ${report}`,
  compare: `import { compare } from ${JSON.stringify(resolve('dist/reading.js'))}; const started = performance.now(); const found = compare(process.argv[1], process.argv[2]).reduce((all, e) => ({ ...all, [e]: (all[e] ?? 0) + 1 }), {}); ${report}`,
};
const run = (name, files) =>
  JSON.parse(spawnSync(process.execPath, ['--input-type=module', '-e', scripts[name], ...files], { encoding: 'utf8' }).stdout);
const median = (list, key) => list.map((f) => f[key]).sort((a, b) => a - b)[Math.floor(list.length / 2)];
const words = (found) =>
  Object.entries(found)
    .map(([effect, n]) => `${n} ${effect}`)
    .join(', ') || 'nothing';

console.log(`medians of ${RUNS} runs in turn, each in a process of its own`);
let unit = 0;
for (const [name, [old, now]] of Object.entries(cases)) {
  const files = [file('old.json', old), file('new.json', now)];
  const figures = { parse: [], compare: [] };
  for (let i = 0; i < RUNS; i++) for (const side of ['parse', 'compare']) figures[side].push(run(side, files));
  const ratio = (key) => (median(figures.compare, key) / median(figures.parse, key)).toFixed(2);
  unit = median(figures.parse, 'time');
  const size = (statSync(files[0]).size / 1e6).toFixed(1);
  console.log(
    `${name.padEnd(38)} ${ratio('time')} x JSON.parse of both   memory ${ratio('peak')} x (at most 3)   ${size} MB, ${words(figures.compare[0].found)}`,
  );
}
console.log('\nmust not explode: time as a multiple of parsing both of the documents above');
for (const [name, [old, now]] of Object.entries(wide)) {
  const { time, found } = run('compare', [file('old.json', old), file('new.json', now)]);
  console.log(`${name.padEnd(26)} ${(time / unit).toFixed(2)}x, ${words(found)}`);
}
