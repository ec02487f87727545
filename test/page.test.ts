/** The report as one page: nothing of an input is markup, and in a real browser it filters, follows and stays by itself. */
import { cpSync, existsSync, readFileSync } from 'node:fs';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import fc from 'fast-check';
import { type Browser, chromium, type Page } from 'playwright-core';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { Change } from '../src/core/compare/changes/change.ts';
import { follow } from '../src/core/routes/follow/follow.ts';
import { buildRouter } from '../src/core/routes/index/router.ts';
import type { RouteTable } from '../src/core/routes/table/route.ts';
import { type Packed, pack, unpack } from '../src/page/packed.ts';
import { htmlPage } from '../src/views/formats/html.ts';
import type { Item } from '../src/views/items.ts';
import { entries, PATHS, tableOf } from './core/tables.ts';
import { folder, run } from './run.ts';
import { runs } from './runs.ts';

const CHROMIUM = [process.env.CHROMIUM ?? '', '/usr/bin/chromium', '/usr/bin/chromium-browser'].find((path) => existsSync(path));
/** On a machine without a browser these are left out, but never where the whole is checked. */
const inBrowser = test.skipIf(CHROMIUM === undefined && process.env.CI === undefined);

let browser: Browser | undefined;
let [address, demo] = ['', ''];
beforeAll(async () => {
  demo = folder();
  cpSync('demo', demo, { recursive: true });
  expect(run(demo, ['check', '--format', 'html', '--output', 'gate.html']).status).toBe(1);
  address = pathToFileURL(join(demo, 'gate.html')).href;
  if (CHROMIUM !== undefined) browser = await chromium.launch({ executablePath: CHROMIUM, args: ['--no-sandbox'] });
});
afterAll(() => browser?.close());

/** Opens the page; what it asks for and what goes wrong in it is noted. */
async function opened(options: object = {}, hash = '', at = address): Promise<{ readonly page: Page; readonly noted: string[] }> {
  const page = await (browser as Browser).newPage(options);
  const noted: string[] = [];
  page.on('console', (m) => noted.push(`${m.type()}: ${m.text()}`));
  page.on('pageerror', (e) => noted.push(e.message));
  page.on('request', (r) => (r.url().split('#')[0] === at ? undefined : noted.push(r.url())));
  await page.goto(at + hash);
  return { page, noted };
}

inBrowser('a request is followed in the page, its address asks it again, findings are filtered, and nothing leaves', async () => {
  const { page, noted } = await opened();
  const bare = (text: string): string => text.replace(/\s+/gu, '');
  // What the page answers is what follow prints.
  for (const [method, target] of [
    ['GET', '/v2/locks/7'],
    ['DELETE', '/v2/locks'],
    ['GET', '/v2/passages?date=soon'],
    ['GET', '/locks/7'],
  ] as const) {
    await page.fill('#method', method);
    await page.fill('#target', target);
    await page.click('#asking button');
    const own = bare((await page.textContent('#answer')) ?? '').replace(/^request/u, '');
    expect(own).toBe(bare(run(demo, ['follow', method, target]).out));
  }
  await page.fill('#method', 'POST');
  await page.fill('#target', '/v2/passages');
  await page.fill('#headers', 'Content-Type: application/json');
  await page.fill('#body', '{\n  "lockId": "seven"\n}');
  await page.click('#asking button');
  const answer = (await page.textContent('#answer')) ?? '';
  expect(answer).toMatch(/should answer 4\d\d.*body.*\/lockId/u);
  const again = await opened({}, new URL(page.url()).hash);
  expect(await again.page.textContent('#answer')).toBe(answer);
  const shown = async (): Promise<number> => Number(((await page.textContent('#shown')) ?? '').split(' ')[0]);
  const all = await shown();
  await page.uncheck('[value=note]');
  const some = await shown();
  await page.fill('#filter', 'paths/shadowed');
  expect([all > some, await shown(), await page.locator('.finding:visible').count()]).toEqual([true, 2, 2]);
  expect([...noted, ...again.noted]).toEqual([]);
});

inBrowser('without script -> every finding can be read, and what needs it is not there', async () => {
  const { page } = await opened({ javaScriptEnabled: false });
  expect(await page.locator('.finding').count()).toBeGreaterThan(140);
  expect(await page.locator('.needs-script:visible').count()).toBe(0);
});

inBrowser.each([
  ['light', { colorScheme: 'light' }, ''],
  ['dark on a phone', { colorScheme: 'dark', viewport: { width: 360, height: 700 } }, "{ runOnly: ['color-contrast'] }"],
] as const)('%s: axe finds nothing, and no line is wider than the page', async (_, options, rules) => {
  // One service has every part of a page, and takes a tenth of the time.
  const args = ['--routes', 'toll-office.routes.yaml', '--document', 'toll-office.openapi.yaml'];
  run(demo, ['check', ...args, '--format', 'html', '--output', 'small.html']);
  const { page } = await opened({ ...options, bypassCSP: true }, '', pathToFileURL(join(demo, 'small.html')).href);
  expect(await page.locator('svg.sets, .grid, .tree, .finding, #asking').count()).toBeGreaterThan(8);
  await page.evaluate(() => {
    for (const d of document.querySelectorAll('details')) d.open = true;
  });
  await page.evaluate(readFileSync('node_modules/axe-core/axe.min.js', 'utf8'));
  const violations = (await page.evaluate(
    `axe.run(${rules}).then((r) => r.violations.map((v) => v.id + " " + v.nodes[0].html))`,
  )) as string[];
  expect(violations).toEqual([]);
  expect(await page.evaluate(() => document.documentElement.scrollWidth - document.documentElement.clientWidth)).toBe(0);
});

test('packed and revived: a table in the page follows every request as the table itself', () => {
  fc.assert(
    fc.property(entries, (list) => {
      const table = tableOf(list);
      const again = unpack(JSON.parse(JSON.stringify(pack(table))) as Packed) as RouteTable;
      const [one, other] = [buildRouter(table), buildRouter(again)];
      for (const target of PATHS) {
        const [a, b] = [one, other].map((r) => follow(r, { method: 'GET', target, headers: {} }));
        expect([a?.outcome, a?.leaf?.route.handler, a?.status]).toEqual([b?.outcome, b?.leaf?.route.handler, b?.status]);
      }
    }),
    { numRuns: runs(25) },
  );
});

test('markup in every text of an input -> text in the page', () => {
  const evil = '<img src=x onerror=alert(1)>"\'</script><script>alert(2)</script><!--';
  const at = { file: evil, line: 1, column: 1, pointer: evil, what: evil };
  const own = { rule: evil, group: evil, message: evil, witness: evil, advice: evil, fingerprint: undefined };
  const one = { kind: 'value', side: 'request', validUnder: 'old', invalidUnder: 'new', body: { [evil]: evil } } as const;
  const change = { witness: one, value: `/${evil.replaceAll('/', '~1')}` } as unknown as Change;
  const sides = { old: { [evil]: evil }, now: { [evil]: [evil] } };
  const item: Item = { ...own, level: 'error', at, related: [{ ...at, role: 'shadowed by' }], change: { change, ...sides } };
  const table = { ...tableOf([`GET /locks -> locks.list`]), service: evil };
  const routes = table.routes.map((r) => ({ ...r, handler: evil, path: `/${evil}` }));
  const html = htmlPage({
    ...{ command: 'check', version: evil, items: [item], summary: [evil], failOn: 'error', known: 0, title: evil, script: '' },
    services: [{ name: evil, table: { ...table, routes }, documents: [evil], files: [{ file: evil, value: { [evil]: evil } }] }],
    firstGrids: [],
    grids: [{ title: evil, of: evil, count: evil, columns: [evil], rows: [{ head: evil, cells: [{ text: evil, look: '' }] }] }],
    locate: () => ({ line: 1, column: 1 }),
    textOf: () => evil,
  });
  expect(html).not.toMatch(/<img|<script>alert|<!--/u);
  expect(html.match(/<script/gu)?.length).toBe(2);
});
