/** Reading a combined log on a table of 500 routes, against loops that only cut the same lines, in one run. */
import { spawnSync } from 'node:child_process';
import { closeSync, mkdtempSync, openSync, writeFileSync, writeSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';

const LINES = Number(process.env.LINES ?? 1_000_000);
const RUNS = Number(process.env.RUNS ?? 3);
let state = 11;
const random = (n) => {
  state = (state * 1103515245 + 12345) % 2147483648;
  return Math.floor((state / 2147483648) * n);
};
const AGENTS = [
  'lock-keeper/2.1 (canal)',
  'signal-box/1.0',
  'curl/8.5.0',
  'towpath-app/4.0 (phone; build 77) canal-kit/3.2 (en)',
];
const dir = mkdtempSync(join(tmpdir(), 'elm-gate-traffic-'));
const routes = Array.from({ length: 125 }, (_, i) => [
  ['GET', `/r${i}`],
  ['POST', `/r${i}`],
  ['GET', `/r${i}/{id:int}`],
  ['GET', `/r${i}/{id:int}/parts`],
]).flat();
writeFileSync(
  join(dir, 'canal.routes.yaml'),
  `routeTable: 1\nservice: canal\nroutes:\n${routes.map(([m, p], i) => `  - ${m} ${p} -> h${i}\n`).join('')}`,
);
const line = (i) => {
  const [method, path] = routes[random(routes.length)];
  const s = Math.floor(i / 80);
  const time = `${String(1 + (Math.floor(s / 86400) % 28)).padStart(2, '0')}/Nov/2026:${[3600, 60, 1].map((n) => String(Math.floor(s / n) % (n === 3600 ? 24 : 60)).padStart(2, '0')).join(':')}`;
  return `10.0.0.${i % 250} - - [${time} +0000] "${method} ${path.replace('{id:int}', String(random(60)))} HTTP/1.1" ${i % 50 === 0 ? 404 : 200} ${i % 5000} "-" "${AGENTS[i % 4]}"\n`;
};
const log = join(dir, 'access.log');
const file = openSync(log, 'w');
for (let i = 0; i < LINES; i += 10_000)
  writeSync(file, Array.from({ length: Math.min(10_000, LINES - i) }, (_, k) => line(i + k)).join(''));
closeSync(file);
writeFileSync(join(dir, 'one.log'), line(0));

const LOOP = `import fs from 'node:fs'; let n = 0; for await (const c of fs.createReadStream(process.argv[1], { highWaterMark: 1 << 18 })) for (const l of c.toString('latin1').split('\\n')) n += FIELDS;`;
const gate = (name) => [resolve('bin/elm-gate.js'), 'traffic', name, '--format', 'json'];
const jobs = {
  'cut into lines': ['--input-type=module', '-e', LOOP.replace('FIELDS', '1'), log],
  'cut into fields': ['--input-type=module', '-e', LOOP.replace('FIELDS', "l.split(' ').length"), log],
  node: ['-e', '0'],
  'one line': gate('one.log'),
  traffic: gate('access.log'),
};
const times = Object.fromEntries(Object.keys(jobs).map((name) => [name, []]));
for (let run = 0; run < RUNS; run++)
  for (const [name, args] of Object.entries(jobs)) {
    const start = performance.now();
    const { status, stderr } = spawnSync(process.execPath, args, { cwd: dir, encoding: 'utf8', maxBuffer: 1 << 28 });
    if (status !== 0) throw new Error(`${name}: ${stderr}`);
    times[name].push(performance.now() - start);
  }
const median = (name) => times[name].sort((a, b) => a - b)[Math.floor(RUNS / 2)];
const own = median('traffic') - median('one line');
console.log(
  `traffic: ${LINES} lines on ${routes.length} routes, ${Math.round(LINES / (own / 1000)).toLocaleString('en')} lines a second beyond the start`,
);
for (const name of ['cut into lines', 'cut into fields'])
  console.log(`  x a loop that only has them ${name}: ${(own / (median(name) - median('node'))).toFixed(2)}`);
