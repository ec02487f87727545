/** Whatever a finding says of a request is what `follow` answers for it, on tables with every fact and every condition. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { contextOf, type Service } from '../../../src/core/checks/engine/context.ts';
import { check } from '../../../src/core/checks/index.ts';
import { requestFor, type Shadow } from '../../../src/core/routes/findings/shadow.ts';
import { follow } from '../../../src/core/routes/follow/follow.ts';
import { expand } from '../../../src/core/routes/table/expand.ts';
import { type Route, type RouteTable, routeLine } from '../../../src/core/routes/table/route.ts';
import { FACTS, factsFrom, type RouterSettings } from '../../../src/core/routes/table/router-facts.ts';
import { runs } from '../../runs.ts';
import { SEGMENTS, versioning } from '../tables.ts';

const RUNS = runs(40);

const segment = fc.constantFrom(...SEGMENTS, '{n:int?}');
const tail = fc.constantFrom('', '', '', '/{rest*}', '/{rest+}', '/{rest:any}', '/');
const path = fc.tuple(fc.array(segment, { minLength: 1, maxLength: 3 }), tail).map(([s, t]) => `/${s.join('/')}${t}`);
const conditions = fc.record(
  {
    version: fc.constantFrom('1', '2', ['1', '2']),
    host: fc.constantFrom('desk.canal.example', '*.canal.example'),
    takes: fc.constantFrom(['application/json'], ['text/*', 'application/json']),
    returns: fc.constantFrom(['application/json'], ['text/csv', 'application/json']),
    headers: fc.constant({ 'X-Lock': 'open' }),
    query: fc.constant({ state: 'open' }),
    parameters: fc.constant({ a: 'int' }),
  },
  { requiredKeys: [] },
);
/** Most routes want nothing more than a path and a method. */
const route = fc
  .tuple(fc.constantFrom('GET', 'GET', 'POST', 'HEAD', 'OPTIONS', 'GET|POST', 'ANY'), path, fc.option(conditions, { freq: 3 }))
  .map(([method, p, more]) => ({ method, path: p, more: more ?? {} }));
const group = fc.record({
  prefix: fc.constantFrom(undefined, undefined, '/locks', '/{g}'),
  unmatched: fc.constantFrom('continue' as const, 'continue' as const, 'end' as const),
  routes: fc.array(route, { minLength: 1, maxLength: 4 }),
});

/** Any value of any fact, most of them at their default. */
const facts: fc.Arbitrary<RouterSettings> = fc.record(
  {
    ...Object.fromEntries(Object.entries(FACTS).map(([name, { values }]) => [name, fc.constantFrom(...values)])),
    longestValue: fc.constantFrom(2, 5),
  },
  { requiredKeys: [] },
) as never;

function tableOf(
  groups: readonly { prefix: string | undefined; unmatched: 'continue' | 'end'; routes: readonly object[] }[],
  router: RouterSettings,
): RouteTable {
  let n = 0;
  const entries = groups.flatMap(({ prefix, unmatched, routes }): object[] => {
    const inside = routes.map((r) => {
      const { method, path: p, more } = r as { method: string; path: string; more: object };
      return { route: `${method} ${p}`, handler: `h${n++}`, ...more };
    });
    return prefix === undefined ? inside : [{ within: prefix, unmatched, routes: inside }];
  });
  const place = { file: 'canal.routes.yaml', pointer: '' };
  const set = factsFrom(router);
  const { routes, flaws } = expand(entries as never, {
    style: 'brace',
    types: new Map(),
    place,
    unmatched: set.unmatched,
    textPrefix: set.prefix === 'text',
    ...(set.groupRoot === 'unknown' ? {} : { groupRoot: set.groupRoot }),
  });
  return { service: 'canal', style: 'brace', facts: set, types: new Map(), routes, flaws, place };
}

test('every request of a finding is answered as it says, and what is not called unreachable is reached', () => {
  let told = 0;
  let reached = 0;
  fc.assert(
    fc.property(fc.array(group, { minLength: 1, maxLength: 3 }), facts, (groups, router) => {
      const table = tableOf(groups, router);
      const service: Service = { name: 'canal', table, contracts: [], versioning };
      const context = contextOf(service);
      const asked = context.router as NonNullable<typeof context.router>;
      for (const { rule, witness, message, data, at } of check(service)) {
        if (witness?.kind !== 'request') continue;
        const { leaf, outcome, status } = follow(asked, witness.request);
        const what = `${rule} ${JSON.stringify(data)} by ${JSON.stringify(witness.request)}`;
        expect([leaf?.route.handler ?? null, status], what).toEqual([witness.takenBy, witness.status]);
        if (rule === 'paths/ambiguous') expect(outcome, what).toBe('ambiguous');
        if (rule === 'paths/shadowed' && message !== 'undecided')
          expect(leaf === undefined ? '' : routeLine(leaf.route), what).not.toBe(at.what);
        told += 1;
      }
      const shadows = new Map<Route, Shadow | { why: string }>(context.shadows().map((s) => [s.route, s]));
      for (const one of table.routes) {
        const shadow = shadows.get(one);
        if (one.isBarrier || shadow !== undefined || asked.facts.precedence === 'unknown') continue;
        const request = requestFor(asked, one);
        const title = `${one.methods.join('|')} ${one.path} of ${JSON.stringify(groups)}`;
        expect(request, title).toBeDefined();
        const { leaf, outcome } = follow(asked, request as never);
        if (outcome === 'ambiguous' || outcome === 'undecided') continue;
        expect(leaf?.route, `${title} by ${JSON.stringify(request)}`).toBe(one);
        reached += 1;
      }
    }),
    { numRuns: RUNS },
  );
  expect(told).toBeGreaterThan(RUNS / 2);
  expect(reached).toBeGreaterThan(RUNS);
});
