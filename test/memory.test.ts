/** A process that lives long keeps nothing of the inputs that are gone. */
import { spawnSync } from 'node:child_process';
import { resolve } from 'node:path';
import { pathToFileURL } from 'node:url';
import { expect, test } from 'vitest';

/** Checks, compares and follows 700 tables that have no word and no type in common; heap in bytes ten times on the way. */
const PROCESS = `
import { buildRouter, check, compareContracts, expand, factsFrom, follow, readContract } from ${JSON.stringify(pathToFileURL(resolve('dist/index.js')).href)};
const place = { file: 'canal.routes.yaml', pointer: '' };
const heaps = [];
for (let n = 1; n <= 700; n++) {
  const routes = ['a', 'b', 'c', 'd', 'e', 'f', 'g', 'h'].flatMap((x) => [
    'GET /locks' + x + n + '/{id:int(1..' + n + ')}/{name:[a-z]{1,3}' + x + n + '} -> read' + x,
    'GET /locks' + x + n + '/{id:text}/{rest*} -> rest' + x,
  ]);
  const pattern = '^[a-z]{1,3}b' + n + '$';
  const schema = (maxLength) => ({ type: 'object', properties: { ['name' + n]: { type: 'string', pattern, maxLength } } });
  const contract = (most) => readContract({ openapi: '3.1.0', info: { title: 'Canal', version: '1' }, paths: { ['/locksb' + n + '/{id}/{name}']: { get: {
    parameters: ['id', 'name'].map((name) => ({ name, in: 'path', required: true, schema: { type: 'string', pattern } })),
    responses: { 200: { description: 'One', content: { 'application/json': { schema: schema(most) } } } } } } } }, 'canal.yaml').contract;
  const read = expand(routes, { style: 'brace', types: new Map(), place });
  const table = { service: 'canal', style: 'brace', facts: factsFrom({}), types: new Map(), place, ...read };
  check({ name: 'canal', table, contracts: n % 4 === 0 ? [contract(9)] : [] });
  if (n % 4 === 0) compareContracts(contract(9), contract(8), { versions: [] });
  follow(buildRouter(table), { method: 'GET', target: '/locksa' + n + '/1/aba' + n, headers: {} });
  if (n % 10 === 0) await new Promise(setImmediate);
  if (n % 70 === 0) {
    gc();
    heaps.push(process.memoryUsage().heapUsed);
  }
}
console.log(JSON.stringify(heaps));
`;

test('hundreds of tables in one process: memory levels off', () => {
  const args = ['--expose-gc', '--no-warnings', '--input-type=module', '-e', PROCESS];
  const { stdout, stderr } = spawnSync(process.execPath, args, { encoding: 'utf8', timeout: 100_000 });
  expect(stderr).toBe('');
  const heaps = JSON.parse(stdout) as readonly number[];
  // Kept for each table, it would be one and a half times as much.
  expect(Math.max(...heaps.slice(7)) / Math.max(...heaps.slice(3, 6)), heaps.join()).toBeLessThan(1.25);
});
