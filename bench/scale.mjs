/**
 * Path checks on tables of 1,000, 10,000 and 100,000 routes, against a router that registers the same routes in the same
 * process; then cases that must not explode. Prints ratios and growth, never asserts.
 */
import { spawnSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import findMyWay from 'find-my-way';
import { check, expand, factsFrom, RULE_IDS } from '../dist/index.js';
import { random, routes, tableFile } from './generate.mjs';

const place = { file: 'gateway.routes.yaml', pointer: '' };
const now = () => Number(process.hrtime.bigint()) / 1e6;

function tableOf(entries, router = {}) {
  const types = new Map();
  const { routes: list, flaws } = expand(entries, { style: 'brace', types, place });
  return { service: 'gateway', style: 'brace', facts: factsFrom(router), types, routes: list, flaws, place };
}

/** The path checks alone. */
const levels = Object.fromEntries(RULE_IDS.filter((id) => !id.startsWith('paths/')).map((id) => [id, 'off']));

/** What find-my-way calls the same pattern. */
const theirs = (path) =>
  path.replaceAll(
    /\{(\w+)(?::(\w+))?\}/gu,
    (_, name, type) => `:${name}${{ int: '(^-?\\d+$)', uuid: '(^[0-9a-f-]{36}$)', slug: '(^[a-z0-9-]+$)' }[type] ?? ''}`,
  );

function register(list) {
  const router = findMyWay();
  for (const [method, path] of list) {
    try {
      router.on(method, theirs(path), () => undefined);
    } catch {
      // It refuses a route that it has already.
    }
  }
  return router;
}

function measure(run) {
  globalThis.gc?.();
  const before = process.memoryUsage().heapUsed;
  const started = now();
  const result = run();
  const time = now() - started;
  globalThis.gc?.();
  return { time, result, memory: process.memoryUsage().heapUsed - before };
}

/** Small tables first, so that both have met a warm engine. */
for (let i = 0; i < 10; i++) {
  const small = routes(2_000, { seed: i });
  register(small);
  check({ name: 'warm', table: tableOf(small.map(([m, p, h]) => `${m} ${p} -> ${h}`)), contracts: [] }, levels);
}

console.log('routes    checks/registering   growth   reading the table   findings   kB a route beyond the input');
let last;
for (const count of [1_000, 10_000, 100_000]) {
  const list = routes(count, { seed: count });
  const entries = list.map(([m, p, h]) => `${m} ${p} -> ${h}`);
  const runs = count > 10_000 ? 3 : count > 1_000 ? 15 : 45;
  // Tables of their own, because what is found out about a table is kept.
  const read = Array.from({ length: runs }, () => tableOf(entries));
  const turns = Array.from({ length: runs }, () => ({
    registering: measure(() => register(list)),
    expanding: measure(() => tableOf(entries)),
    checking: measure(() => {
      const table = read.pop();
      return { table, findings: check({ name: 'gateway', table, contracts: [] }, levels) };
    }),
  }));
  const median = (side) => turns.map((t) => t[side]).sort((a, b) => a.time - b.time)[Math.floor(turns.length / 2)];
  const [registering, expanding, checking] = [median('registering'), median('expanding'), median('checking')];
  const growth = last === undefined ? '' : `${(checking.time / last).toFixed(1)}x`;
  last = checking.time;
  const ratio = (checking.time / registering.time).toFixed(2);
  console.log(
    `${String(count).padEnd(9)} ${ratio.padEnd(20)} ${growth.padEnd(8)} ${(expanding.time / registering.time).toFixed(2).padEnd(19)} ${String(checking.result.findings.length).padEnd(10)} ${(checking.memory / 1024 / count).toFixed(2)}`,
  );
}

const cases = {
  '2,000 that all overlap': Array.from({ length: 1000 }, (_, i) => [`GET /{a}/x${i} -> a${i}`, `GET /x${i}/{b} -> b${i}`]).flat(),
  '200 tails': Array.from({ length: 200 }, (_, i) => [
    `GET /t${i % 20}/{rest*} -> a${i}`,
    `GET /{a}/u${i}/{rest+} -> b${i}`,
  ]).flat(),
  '500 regular expressions': Array.from(
    { length: 500 },
    (_, i) => `GET /r/{x:[a-m]{${(i % 9) + 1},12}${String.fromCharCode(97 + (i % 26))}[0-9]{${(i % 5) + 1}}} -> r${i}`,
  ),
  'types like (a|aa)*b': Array.from({ length: 20 }, (_, i) => `GET /n/{x:(a|aa){${i},40}b*} -> n${i}`),
  '1,000 covering one': [
    ...Array.from({ length: 1000 }, (_, i) => `GET /c/${i} -> c${i}`),
    'GET /c/{n:int(0..999)} -> all',
    'GET /c/{m:among(1,2,3)} -> few',
  ],
};
console.log('\nmust not explode: time as a multiple of registering 10,000 routes');
const unit = measure(() => register(routes(10_000))).time;
for (const [name, entries] of Object.entries(cases)) {
  const { time, result } = measure(() => check({ name, table: tableOf(entries), contracts: [] }, levels));
  const undecided = result.filter((f) => f.undecided !== undefined).length;
  console.log(`${name.padEnd(26)} ${(time / unit).toFixed(2)}x, ${result.length} findings, ${undecided} undecided`);
}

/** Requests that never come again, one in fifty of them for nothing that is served. */
function requestLines(list, count) {
  const next = random(5);
  const value = (type, i) =>
    ({ uuid: `00000000-0000-4000-8000-${String(i).padStart(12, '0')}`, slug: `elm-${i}` })[type] ?? String(i);
  return Array.from({ length: count }, (_, i) => {
    const [method, path] = list[Math.floor(next() * list.length)];
    const target = path.replaceAll(/\{\w+(?::(\w+))?\}/gu, (_, type) => value(type, i));
    return `${JSON.stringify({ method, target: target + (next() < 0.02 ? '/nowhere' : '') })}\n`;
  });
}

const dir = mkdtempSync(join(tmpdir(), 'elm-gate-scale-'));
const list = routes(10_000);
writeFileSync(join(dir, 'gateway.routes.yaml'), tableFile(list));
const lines = requestLines(list, 500_000);
writeFileSync(join(dir, 'one.jsonl'), lines[0]);
writeFileSync(join(dir, 'all.jsonl'), lines.join(''));
const program = resolve('bin/elm-gate.js');
const timed = (file) => {
  const started = now();
  const args = [program, 'follow', '--requests', file, '--output', 'answers.jsonl'];
  const { status } = spawnSync(process.execPath, args, { cwd: dir });
  return status === 0 ? now() - started : Number.NaN;
};
const turns = Array.from({ length: 3 }, () => timed('all.jsonl') - timed('one.jsonl')).sort((a, b) => a - b);
console.log(
  `\nfollow --requests, 10,000 routes, ${lines.length} lines that never come again: ${Math.round(lines.length / turns[1])} thousand requests a second beyond start-up (at least 50), ${Math.round(lines.length / turns[0])} in the best of three runs`,
);
