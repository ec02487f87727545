/** `check` of many folders against loading them: all of them anew, one that changed, none that changed. */
import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';

const FOLDERS = Number(process.env.FOLDERS ?? 500);
const RUNS = Number(process.env.RUNS ?? 3);
const dir = mkdtempSync(join(tmpdir(), 'elm-gate-fleet-'));
const STEPS = [
  ['GET', '', 'list'],
  ['POST', '', 'create'],
  ['GET', '/{id:int}', 'read'],
  ['DELETE', '/{id:int}', 'delete'],
];
for (let i = 0; i < FOLDERS; i++) {
  const folder = join(dir, `s${i}`);
  mkdirSync(folder);
  const nouns = Array.from({ length: 10 }, (_, k) => `things${k}`);
  const lines = nouns.flatMap((n) => STEPS.map(([m, p, h]) => `  - "${m} /${n}${p} -> ${n}.${h}"\n`));
  writeFileSync(join(folder, 'canal.routes.yaml'), `routeTable: 1\nservice: s${i}\nroutes:\n${lines.join('')}`);
  const body = (k) => ({ content: { 'application/json': { schema: { $ref: `#/components/schemas/Thing${k}` } } } });
  const id = { name: 'id', in: 'path', required: true, schema: { type: 'integer', minimum: 0 } };
  const paths = Object.fromEntries(
    nouns.flatMap((n, k) => [
      [
        `/${n}`,
        {
          get: { operationId: `${n}.list`, responses: { 200: { description: 'ok', ...body(k) } } },
          post: {
            operationId: `${n}.create`,
            requestBody: { required: true, ...body(k) },
            responses: { 201: { description: 'made', ...body(k) } },
          },
        },
      ],
      [
        `/${n}/{id}`,
        {
          parameters: [id],
          get: { operationId: `${n}.read`, responses: { 200: { description: 'ok', ...body(k) } } },
          delete: { operationId: `${n}.delete`, responses: { 204: { description: 'gone' } } },
        },
      ],
    ]),
  );
  const thing = (k) => ({
    type: 'object',
    required: ['id', 'name'],
    properties: {
      id: { type: 'integer', readOnly: true },
      name: { type: 'string' },
      [`note${i % 7}`]: { type: 'string', maxLength: 20 + k },
    },
  });
  const schemas = Object.fromEntries(nouns.map((_, k) => [`Thing${k}`, thing(k)]));
  const document = { openapi: '3.1.0', info: { title: `s${i}`, version: '1' }, paths, components: { schemas } };
  writeFileSync(join(folder, 'canal.openapi.json'), JSON.stringify(document, null, 1));
  writeFileSync(
    join(folder, 'elm-gate.yaml'),
    `services: [{ name: s${i}, routes: canal.routes.yaml, document: canal.openapi.json, mount: /s${i} }]\n`,
  );
}
writeFileSync(join(dir, 'elm-gate.yaml'), 'fleet: "s*"\n');
const service = (i) =>
  `  - { name: s${i}, routes: s${i}/canal.routes.yaml, document: s${i}/canal.openapi.json, mount: /s${i} }\n`;
writeFileSync(join(dir, 'all.yaml'), `services:\n${Array.from({ length: FOLDERS }, (_, i) => service(i)).join('')}`);
const env = { ...process.env, XDG_CACHE_HOME: join(dir, '.cache') };
const timed = (args) => {
  const started = performance.now();
  const { status, stderr } = spawnSync(process.execPath, [resolve('bin/elm-gate.js'), ...args], {
    cwd: dir,
    env,
    encoding: 'utf8',
  });
  if (status === 2 || status === null) throw new Error(stderr);
  return performance.now() - started;
};
const table = join(dir, 's7', 'canal.routes.yaml');
const touch = (k) => writeFileSync(table, `routeTable: 1\nservice: s7\nroutes:\n  - GET /things0 -> list${k}\n`);
const median = (list) => list.sort((a, b) => a - b)[Math.floor(list.length / 2)];
const turns = { load: [], anew: [], one: [], none: [], services: [] };
for (let i = 0; i < RUNS; i++) {
  // `settings` opens what `check` opens, and checks nothing; a table has changed since the last time.
  turns.load.push(timed(['settings', '--config', 'all.yaml']));
  turns.anew.push(timed(['check', '--fresh']));
  touch(i);
  turns.one.push(timed(['check']));
  turns.none.push(timed(['check']));
  turns.services.push(timed(['check', '--fresh', '--config', 'all.yaml']));
}
const load = median(turns.load);
const ratio = (name) => (median(turns[name]) / load).toFixed(2);
console.log(
  `fleet, ${FOLDERS} folders of 40 routes and a document, x loading them: anew ${ratio('anew')}, one changed ${ratio('one')}, none changed ${ratio('none')}; as services of one file ${ratio('services')}`,
);
