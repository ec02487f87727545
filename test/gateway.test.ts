/** Services behind a gateway: requests are passed on as a plain reading of the settings says, and what is told of routes is so. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { undescribed } from './described.ts';
import { folder, run, runAll, table } from './run.ts';
import { runs, SEED } from './runs.ts';

const MOUNTS = ['/', '/tolls', '/tolls/quotes', '/tolls/old/quotes', '/locks'];
const PATHS = ['/', '/{id}', '/quotes', '/quotes/{id}', '/old/{x}/{id}', '/tolls/{id}'];
const TARGETS = [
  '/',
  '/tolls',
  '/tolls/7',
  '/tolls/quotes',
  '/tolls/quotes/9',
  '/tolls/old/quotes',
  '/tolls/old/quotes/9',
  '/locks/7',
  '/tollsx',
];

interface Behind {
  readonly mount: string;
  readonly host: boolean;
  readonly routes: readonly string[];
}
const drawn = fc.record({
  choose: fc.constantFrom('order', 'longest-prefix'),
  services: fc.array(
    fc.record({
      mount: fc.constantFrom(...MOUNTS),
      host: fc.boolean(),
      routes: fc.uniqueArray(fc.constantFrom(...PATHS), { minLength: 1, maxLength: 4 }),
    }),
    { minLength: 2, maxLength: 4 },
  ),
});

const HOST = 'canal.example';
const segments = (path: string): readonly string[] => path.split('/').filter((s) => s !== '');
const isBelow = (target: string, mount: string): boolean => segments(mount).every((s, i) => target.slice(1).split('/')[i] === s);

/** The service that the settings say, read plainly. */
function reading(choose: string, services: readonly Behind[], target: string, host: string | undefined): number {
  const fits = [...services.keys()].filter((i) => {
    const { mount, host: needs } = services[i] as Behind;
    return isBelow(target, mount) && (!needs || host === HOST);
  });
  const weight = (i: number): number =>
    segments((services[i] as Behind).mount).length * 10 + ((services[i] as Behind).host ? 1 : 0);
  return choose === 'order' ? (fits[0] ?? -1) : (fits.sort((a, b) => weight(b) - weight(a) || a - b)[0] ?? -1);
}

test('follow through a gateway -> the service of a plain reading; a route that is told as hidden gets nothing that is passed on', () => {
  const cases = fc.sample(drawn, { numRuns: runs(10), seed: SEED });
  const dirs = cases.map(({ choose, services }) =>
    folder({
      'elm-gate.yaml': `gateway: { choose: ${choose} }\nservices:\n${services
        .map((s, i) => `  - { name: s${i}, routes: s${i}.routes.yaml, mount: ${s.mount}${s.host ? `, host: ${HOST}` : ''} }\n`)
        .join('')}`,
      ...Object.fromEntries(
        services.map((s, i) => [`s${i}.routes.yaml`, table(...s.routes.map((p, k) => `"GET ${p} -> s${i}h${k}"`))]),
      ),
    }),
  );
  const asked = [undefined, HOST].flatMap((host) => TARGETS.map((target) => ({ target, host })));
  const ran = runAll(
    dirs.flatMap((dir) => [
      { dir, args: ['check', '--rule', 'paths/hidden-by-service', '--format', 'json'] },
      ...asked.map(({ target, host }) => ({
        dir,
        args: ['follow', 'GET', target, ...(host === undefined ? [] : ['-H', `Host: ${host}`]), '--format', 'json'],
      })),
    ]),
  );
  let told = 0;
  const witnesses: { readonly dir: string; readonly args: readonly string[]; readonly owner: string }[] = [];
  for (const [k, { choose, services }] of cases.entries()) {
    const own = ran.slice(k * (asked.length + 1), (k + 1) * (asked.length + 1));
    const { findings } = JSON.parse(own[0]?.out ?? '');
    const whole = new Set<string>();
    for (const f of findings) {
      const spots = [
        f.at.what,
        ...f.related.filter((r: { role: string }) => r.role === 'the same').map((r: { what: string }) => r.what),
      ];
      if (f.level === 'error') for (const what of spots) whole.add(what.split(' -> ')[1]);
      told += 1;
      const { method, target, headers } = f.witness;
      const own = Object.entries(headers).flatMap(([name, value]) => ['-H', `${name}: ${value}`]);
      witnesses.push({ dir: dirs[k] as string, args: ['follow', method, target, ...own, '--format', 'json'], owner: f.service });
    }
    for (const [i, { target, host }] of asked.entries()) {
      const { out } = own[i + 1] as { out: string };
      const answer = JSON.parse(out);
      const wanted = reading(choose, services, target, host);
      expect({ services, choose, target, host, service: answer.service }).toEqual({
        ...{ services, choose, target, host },
        service: wanted < 0 ? null : `s${wanted}`,
      });
      // A host that is not asked for leaves a service to others: what is hidden is hidden for every request.
      expect([services, target, host, whole.has(answer.route?.handler)]).toEqual([services, target, host, false]);
      if (i === 0) expect(undescribed('follow', out)).toEqual([]);
    }
  }
  expect(told).toBeGreaterThan(cases.length / 4);
  // The request of a finding, whole or in part, is passed to another service or to none.
  for (const [i, { out }] of runAll(witnesses).entries())
    expect([witnesses[i]?.args, JSON.parse(out).service === witnesses[i]?.owner]).toEqual([witnesses[i]?.args, false]);
});

test('headers and versions choose too; ids and default types that differ between services are told; table --gateway is one table', () => {
  const document = (id: string, type: string): string =>
    `openapi: 3.1.0\ninfo: { title: x, version: '1' }\npaths:\n  /a: { get: { operationId: ${id}, responses: { 200: { description: ok, content: { ${type}: {} } } } } }\n`;
  const dir = folder({
    'elm-gate.yaml': `gateway: { choose: longest-prefix }
versioning: { selector: header, name: Canal-Version, versions: [{ id: 1 }, { id: 2 }], default: 1 }
services:
  - { name: one, routes: one.routes.yaml, document: one.openapi.yaml, mount: /x }
  - { name: two, routes: two.routes.yaml, document: two.openapi.yaml, mount: /x, version: 2 }
  - { name: beta, routes: beta.routes.yaml, mount: /x, headers: { X-Ring: beta, X-More: "1" } }
`,
    'one.routes.yaml': table('GET /a -> one.a'),
    'two.routes.yaml': table('GET /a -> two.a'),
    'beta.routes.yaml': table('GET /a -> beta.a'),
    'one.openapi.yaml': document('list', 'application/json'),
    'two.openapi.yaml': document('list', 'application/xml'),
  });
  const handler = (...headers: string[]): string =>
    JSON.parse(run(dir, ['follow', 'GET', '/x/a', ...headers.flatMap((h) => ['-H', h]), '--format', 'json']).out).route?.handler;
  expect([handler(), handler('Canal-Version: 2'), handler('Canal-Version: 2', 'X-Ring: beta', 'X-More: 1')]).toEqual([
    'one.a',
    'two.a',
    'beta.a',
  ]);
  const rules = JSON.parse(run(dir, ['check', '--format', 'json']).out).findings.map((f: { rule: string }) => f.rule);
  expect(rules).toEqual(expect.arrayContaining(['methods/shared-operation-id', 'media/default-between-services']));
  expect(rules).not.toContain('paths/hidden-by-service');
  const text = run(dir, ['table', '--gateway']).out;
  expect(text).toMatch(/beta: beta\.a[\s\S]*two: two\.a[\s\S]*one: one\.a[\s\S]*3 routes of the gateway/u);
});

test('expectations and drafts behind a gateway: check says what follow says, whichever service knows the path', () => {
  const dir = folder({
    'elm-gate.yaml': `gateway: { choose: longest-prefix }
services:
  - { name: tolls, routes: tolls.routes.yaml, mount: /tolls }
  - { name: quotes, routes: quotes.routes.yaml, mount: /tolls/quotes }
expect:
  - { request: GET /tolls/quotes/9, status: 404 }
  - { request: GET /elsewhere, status: 404 }
  - { request: GET /tolls/7, handler: quotes.list }
`,
    'tolls.routes.yaml': table('GET /quotes/{quoteId} -> tolls.quote', 'GET /{tollId} -> tolls.read'),
    'quotes.routes.yaml': table('GET / -> quotes.list'),
  });
  const broken = (): readonly string[] =>
    JSON.parse(run(dir, ['check', '--rule', 'paths/unexpected-outcome', '--format', 'json']).out).findings.map(
      (f: { at: { what: string } }) => f.at.what,
    );
  expect(broken()).toEqual(['GET /tolls/7']);
  const drafts = run(dir, ['expect']).out;
  expect(drafts).toContain('handler: quotes.list');
  expect(drafts).not.toContain('tolls.quote');
  run(dir, ['expect', '--write']);
  expect(broken()).toEqual(['GET /tolls/7']);
});

test('a document alone below a mount -> its paths stand there, and nothing says that they lack a prefix', () => {
  const dir = folder({
    'elm-gate.yaml': 'services: [{ name: canal, document: canal.openapi.yaml, mount: /canal }]\n',
    'canal.openapi.yaml':
      "openapi: 3.1.0\ninfo: { title: canal, version: '1' }\nservers: [{ url: https://canal.example/v1 }]\npaths:\n  /locks: { get: { responses: { 200: { description: ok } } } }\n  /gates: { get: { responses: { 200: { description: ok } } } }\n",
  });
  expect(run(dir, ['check', '--brief'])).toMatchObject({ status: 0, out: expect.stringMatching(/^Nothing found/u) });
  expect(run(dir, ['follow', 'GET', '/canal/v1/locks']).out).toMatch(/^GET \/canal\/v1\/locks is handled by/u);
});
