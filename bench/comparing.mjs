/** Comparing large documents: the built program beyond its start against parsing both, whole processes taken in turn. */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, statSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import { document } from './documents.mjs';
import { messy } from './messy.mjs';

const RUNS = Number(process.env.RUNS ?? 5);
const dir = mkdtempSync(join(tmpdir(), 'elm-gate-comparing-'));
const file = (name, value, indent = 1) => {
  writeFileSync(join(dir, name), JSON.stringify(value, null, indent));
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
  'the same 12 MB on one line, 1% changed': [document(13.6, 800), document(13.6, 800, { changed: 0.01 }), 0],
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
  '1 MB of unions, 10% changed': [messy({ components: 400, paths: 80 }), messy({ components: 400, paths: 80, changed: 0.1 })],
  '12 MB of unions, 1% changed': [
    messy({ components: 4600, paths: 800 }),
    messy({ components: 4600, paths: 800, changed: 0.01 }),
  ],
  '12 MB of unions, the same': [messy({ components: 4600, paths: 800 }), messy({ components: 4600, paths: 800 })],
  'a circle of 3,000': [9, 8].map((b) => single({ $ref: '#/components/schemas/C0' }, chain(3000, b))),
};

/** Routes that overlap a lot; every hundredth is left out of the second table. */
const routes = (kept, facts) => {
  const words = ['locks', 'gates', 'basins', 'vessels', '{a}', '{b:int}', '{c:slug}', 'tolls', 'berths', '{d}'];
  const list = Array.from({ length: 1_000 }, (_, i) => {
    const segments = [0, 1, 2, 3].slice(0, 2 + (i % 3)).map((n) => words[(i * 7 + n * 13 + ((i * i) % 11)) % 10]);
    const named = segments.map((s, n) => s.replace('{', `{p${n}`)).join('/');
    return `${['GET', 'POST', 'PUT', 'DELETE'][i % 4]} /${named}${i % 3 === 0 ? i : ''} -> h${i}`;
  });
  return { routeTable: 1, router: facts, routes: list.filter((_, i) => kept || i % 100 !== 50) };
};
const tables = {
  'first declared': {},
  'most specific, never back': { precedence: 'most-specific', deadEnds: 'give-up' },
  'types after the match': { types: 'after-match' },
  'wrong methods refused': { wrongMethod: 'refuse' },
};

const program = resolve('bin/elm-gate.js');
const atExit = "process.on('exit', () => process.stderr.write(String(process.resourceUsage().maxRSS / 1024)));";
const scripts = {
  parse: `${atExit} import { readFileSync } from 'node:fs'; const kept = process.argv.slice(1, 3).map((f) => JSON.parse(readFileSync(f, 'utf8'))); process.stdout.write(String(kept.length));`,
  table: `${atExit} process.argv.splice(1, 0, 'elm-gate', 'table'); await import(${JSON.stringify(program)});`,
  compare: `${atExit} process.argv.splice(1, 0, 'elm-gate', 'compare'); await import(${JSON.stringify(program)});`,
};
/** Milliseconds of the whole process, megabytes at its peak, and what it printed first. */
const run = (name, files) => {
  const started = performance.now();
  const options = { encoding: 'utf8', maxBuffer: 1e9, cwd: dir };
  const { stdout, stderr } = spawnSync(process.execPath, ['--input-type=module', '-e', scripts[name], '--', ...files], options);
  return { time: performance.now() - started, peak: Number(stderr), found: stdout.split('\n\n', 1)[0].replaceAll('\n', ' ') };
};
const median = (list, key) => list.map((f) => f[key]).sort((a, b) => a - b)[Math.floor(list.length / 2)];
const counts = (found) => /\d[^.]*(?=\.$)/u.exec(found)?.[0].replace(/^.*?says \w+\. /u, '') ?? 'nothing';

const tiny = [file('tiny.json', single({ type: 'object' })), file('tiny2.json', single({ type: 'object' }))];
/** Both programs with nothing to do, taken in turn with each case. */
const pairs = (files) => {
  const figures = { parse: [], compare: [], startParse: [], startCompare: [] };
  for (let i = 0; i < RUNS; i++) {
    figures.startParse.push(run('parse', tiny));
    figures.startCompare.push(run('compare', tiny));
    figures.parse.push(run('parse', files));
    figures.compare.push(run('compare', files));
  }
  const beyond = (name, start) => median(figures[name], 'time') - median(figures[start], 'time');
  return {
    parse: beyond('parse', 'startParse'),
    time: beyond('compare', 'startCompare'),
    memory: median(figures.compare, 'peak') / median(figures.parse, 'peak'),
    found: figures.compare[0].found,
  };
};

console.log(`medians of ${RUNS} runs in turn, whole processes beyond their start`);
let unit = 0;
for (const [name, [old, now, indent]] of Object.entries(cases)) {
  const files = [file('old.json', old, indent), file('new.json', now, indent)];
  const { parse, time, memory, found } = pairs(files);
  unit = parse;
  const size = (statSync(files[0]).size / 1e6).toFixed(1);
  console.log(
    `${name.padEnd(38)} ${(time / parse).toFixed(2)} x JSON.parse of both   memory ${memory.toFixed(2)} x (at most 3)   ${size} MB, ${counts(found)}`,
  );
}
console.log('\nmust not explode: time as a multiple of parsing both of the documents above');
const start = median(
  Array.from({ length: RUNS }, () => run('compare', tiny)),
  'time',
);
for (const [name, [old, now]] of Object.entries(wide)) {
  const { time, found } = run('compare', [file('old.json', old), file('new.json', now)]);
  console.log(`${name.padEnd(34)} ${((time - start) / unit).toFixed(2)}x, ${counts(found)}`);
}
console.log('\ntwo tables of 1,000 routes, 10 of them gone: time as a multiple of printing one of them');
for (const [name, facts] of Object.entries(tables)) {
  const files = [true, false].map((kept, i) => file(`${'ab'[i]}.routes.json`, routes(kept, facts)));
  const { time, found } = run('compare', files);
  const printed = run('table', ['--routes', files[0]]).time;
  console.log(`${name.padEnd(34)} ${(time / printed).toFixed(2)}x, ${counts(found)}`);
}
