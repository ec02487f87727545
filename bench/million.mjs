/** Path checks of many services behind one gateway, as one table: time, growth and memory, with planted faults that must be found. */
import { spawnSync } from 'node:child_process';
import { resolve } from 'node:path';

const SIZES = (process.env.SIZES ?? '100000,1000000').split(',').map(Number);
const code = `
import { check, expand, factsFrom, RULE_IDS } from ${JSON.stringify(resolve('dist/index.js'))};
const place = { file: 'gateway.routes.yaml', pointer: '' };
const levels = Object.fromEntries(RULE_IDS.filter((id) => !id.startsWith('paths/')).map((id) => [id, 'off']));
const shapes = [['GET',''],['POST',''],['GET','/recent'],['GET','/{id:int}'],['PUT','/{id:int}'],['DELETE','/{id:int}'],['GET','/{id:int}/parts'],['GET','/{id:int}/parts/{part}']];
const entries = [];
for (let s = 0; entries.length < Number(process.argv[1]); s++)
  for (let k = 0; k < 5; k++) for (const [m, p] of shapes) entries.push(m + ' /service-' + s + '/res' + k + p + ' -> h' + entries.length);
for (let i = 0; i < 10; i++) entries.push('GET /service-' + i + '/res1/{x:int}/parts -> twice' + i, 'GET /service-' + i + '/res2/7 -> late' + i);
const types = new Map();
const started = performance.now();
const { routes, flaws } = expand(entries, { style: 'brace', types, place, most: Infinity });
const expanded = performance.now();
const table = { service: 'gateway', style: 'brace', facts: factsFrom({}), types, routes, flaws, place };
const found = check({ name: 'gateway', table, contracts: [] }, levels);
process.stdout.write(JSON.stringify({ expand: expanded - started, check: performance.now() - expanded, rss: process.memoryUsage().rss, rules: found.map((f) => f.rule) }));
`;
let last;
for (const size of SIZES) {
  const args = ['--max-old-space-size=4096', '--input-type=module', '-e', code, String(size)];
  const { status, stdout, stderr } = spawnSync(process.execPath, args, { encoding: 'utf8' });
  if (status !== 0) throw new Error(stderr.slice(0, 500));
  const { expand, check, rss, rules } = JSON.parse(stdout);
  const planted = ['paths/duplicate', 'paths/shadowed'].map((rule) => rules.filter((r) => r === rule).length);
  const growth = last === undefined ? '' : `, ${(check / last).toFixed(1)} x the size before`;
  console.log(
    `${size} routes: checks ${(check / 1000).toFixed(1)} s${growth}, expanding ${(expand / 1000).toFixed(1)} s, ${Math.round(rss / 1e6)} MB; planted duplicates and shadows found: ${planted.join(' and ')} of 10 each`,
  );
  last = check;
}
