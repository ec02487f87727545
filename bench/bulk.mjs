/**
 * Following requests in bulk: 10,000 routes of every shape and a log in which a tenth of the requests match nothing, against
 * one process that parses each line, looks it up in a bare router and writes an answer.
 */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';

const ROUTES = Number(process.env.ROUTES ?? 10_000);
const LINES = Number(process.env.LINES ?? 200_000);
const RUNS = Number(process.env.RUNS ?? 3);
let state = 7;
const random = (n) => {
  state = (state * 1103515245 + 12345) % 2147483648;
  return Math.floor((state / 2147483648) * n);
};
const pick = (list) => list[random(list.length)];

const NOUNS = ['locks', 'passages', 'vessels', 'basins', 'berths', 'stoppages', 'tolls', 'keepers', 'gates', 'notices'];
const SHAPES = [
  { ours: (s) => `/${s}`, find: (s) => `/${s}`, ask: (s) => `/${s}` },
  { ours: (s) => `/${s}/{id}`, find: (s) => `/${s}/:id`, ask: (s) => `/${s}/${random(9000)}` },
  { ours: (s) => `/${s}/{id:uint}/gates`, find: (s) => `/${s}/:id(^\\d+$)/gates`, ask: (s) => `/${s}/${random(9000)}/gates` },
  {
    ours: (s) => `/${s}/{id}/berths/{berth}`,
    find: (s) => `/${s}/:id/berths/:berth`,
    ask: (s) => `/${s}/b${random(99)}/berths/${random(99)}`,
  },
  {
    ours: (s) => `/${s}/files/{name}.{ext}`,
    find: (s) => `/${s}/files/:name.:ext`,
    ask: (s) => `/${s}/files/plan${random(99)}.pdf`,
  },
  { ours: (s) => `/${s}/v1.2/state`, find: (s) => `/${s}/v1.2/state`, ask: (s) => `/${s}/v1.2/state` },
  { ours: (s) => `/${s}/raw/{rest:any}`, find: (s) => `/${s}/raw/*`, ask: (s) => `/${s}/raw/${pick(NOUNS)}/${random(99)}.txt` },
];
const routes = Array.from({ length: ROUTES }, (_, i) => {
  const stem = `s${Math.floor(i / (NOUNS.length * SHAPES.length))}/${NOUNS[Math.floor(i / SHAPES.length) % NOUNS.length]}`;
  return { shape: SHAPES[i % SHAPES.length], stem, handler: `h${i}`, method: pick(['GET', 'GET', 'POST']) };
});
const dir = mkdtempSync(join(tmpdir(), 'elm-gate-bulk-'));
const table = join(dir, 'bulk.routes.yaml');
writeFileSync(
  table,
  `routeTable: 1\nservice: bulk\nrouter: { precedence: most-specific }\nroutes:\n${routes.map((r) => `  - "${r.method} ${r.shape.ours(r.stem)} -> ${r.handler}"\n`).join('')}`,
);
const lines = Array.from({ length: LINES }, () => {
  const route = pick(routes);
  const miss = random(10) === 0;
  const asked = route.shape.ask(route.stem);
  const target = miss
    ? pick([`/x${asked}`, `${asked}/extra/${random(999)}`, asked.replace(/^\/s/u, '/t'), `/nothing/${random(9999)}`])
    : asked;
  return JSON.stringify({ method: route.method, target });
});
const requests = join(dir, 'requests.jsonl');
writeFileSync(requests, `${lines.join('\n')}\n`);
writeFileSync(join(dir, 'routes.json'), JSON.stringify(routes.map((r) => [r.method, r.shape.find(r.stem), r.handler])));

const bare = `
import { createReadStream, createWriteStream, readFileSync } from 'node:fs';
import { createInterface } from 'node:readline';
import { createRequire } from 'node:module';
const findMyWay = createRequire(${JSON.stringify(resolve('package.json'))})('find-my-way');
const router = findMyWay();
for (const [method, path, handler] of JSON.parse(readFileSync('routes.json', 'utf8'))) router.on(method, path, () => {}, handler);
const out = createWriteStream('bare.jsonl', { highWaterMark: 1 << 20 });
for await (const line of createInterface({ input: createReadStream('requests.jsonl') })) {
  const { method, target } = JSON.parse(line);
  const found = router.find(method, target);
  out.write(JSON.stringify({ method, target, handler: found?.store ?? null, params: found?.params ?? {} }) + '\\n');
}
out.end();`;
writeFileSync(join(dir, 'bare.mjs'), bare);

const time = (args) => {
  const started = process.hrtime.bigint();
  const { status, stderr } = spawnSync(process.execPath, args, { cwd: dir, encoding: 'utf8' });
  if (status !== 0) throw new Error(stderr);
  return Number(process.hrtime.bigint() - started) / 1e6;
};
const ours = [];
const theirs = [];
const program = resolve('bin/elm-gate.js');
for (let i = 0; i < RUNS; i++) {
  ours.push(time([program, 'follow', '--routes', table, '--requests', requests, '--output', 'ours.jsonl']));
  theirs.push(time(['bare.mjs']));
}
const median = (list) => list.sort((a, b) => a - b)[Math.floor(list.length / 2)];
console.log(
  `follow --requests, ${ROUTES} routes of ${SHAPES.length} shapes, ${LINES} lines, a tenth of which match nothing: ${(median(ours) / median(theirs)).toFixed(2)} x a bare router (at most 2.0); ${Math.round(LINES / median(ours))} thousand a second against ${Math.round(LINES / median(theirs))}`,
);
