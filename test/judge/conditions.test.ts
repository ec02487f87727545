/** Routes that want more than a path and a method, against every combination of what a request may bring. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { compareTables } from '../../src/core/compare/compare-tables.ts';
import { requestFor, shadowOf } from '../../src/core/routes/findings/shadow.ts';
import { follow } from '../../src/core/routes/follow/follow.ts';
import type { RoutingOutcome } from '../../src/core/routes/follow/outcome.ts';
import { buildRouter, type Router } from '../../src/core/routes/index/router.ts';
import type { Request } from '../../src/core/routes/request/request.ts';
import { tableOf } from '../core/tables.ts';
import { runs } from '../runs.ts';

const RUNS = runs(50);
const HOSTS = ['desk.canal.example', 'elsewhere.example'];
const TYPES = ['application/json', 'text/csv', 'image/png'];

/** Most want one thing more, or nothing. */
const entry = fc
  .record(
    {
      path: fc.constantFrom('/locks', '/{a}', '/{b:int}', '/{rest*}', '/7'),
      method: fc.constantFrom('GET', 'GET', 'POST', 'ANY'),
      host: fc.constantFrom('desk.canal.example', '*.canal.example'),
      takes: fc.constantFrom(['application/json'], ['text/*'], ['application/json', 'text/csv']),
      returns: fc.constantFrom(['application/json'], ['text/csv'], ['text/csv', 'application/json']),
      headers: fc.constant({ 'X-Lock': 'open' }),
      query: fc.constant({ limit: '7' }),
    },
    { requiredKeys: ['path', 'method'] },
  )
  .chain(({ path, method, ...conditions }) =>
    fc
      .subarray(Object.entries(conditions), { maxLength: Math.min(2, Object.keys(conditions).length) })
      .map((kept) => ({ route: `${method} ${path}`, ...Object.fromEntries(kept) })),
  );
const entries = fc.array(entry, { minLength: 2, maxLength: 5 });
const facts = fc.record(
  {
    precedence: fc.constantFrom('first-declared', 'last-declared', 'most-specific'),
    ties: fc.constantFrom('ambiguous', 'first-declared'),
  },
  { requiredKeys: ['precedence'] },
);

/** Everything that a request may bring, one by one and together. */
const REQUESTS: readonly Request[] = ['GET', 'POST'].flatMap((method) =>
  ['/locks', '/7', '/locks/elm'].flatMap((path) =>
    ['', '?limit=7'].flatMap((query) =>
      HOSTS.flatMap((Host) =>
        ['open', undefined].flatMap((lock) =>
          (method === 'GET' ? [undefined] : [...TYPES, undefined]).flatMap((type) =>
            [...TYPES.slice(0, 2), '*/*'].map((Accept) => ({
              method,
              target: path + query,
              headers: {
                Host,
                Accept,
                ...(lock === undefined ? {} : { 'X-Lock': lock }),
                ...(type === undefined ? {} : { 'Content-Type': type }),
              },
            })),
          ),
        ),
      ),
    ),
  ),
);

const fate = ({ leaf, outcome }: RoutingOutcome): string => leaf?.route.handler ?? outcome;
const named = (list: readonly object[], name: string): readonly object[] =>
  list.map((e, i) => ({ ...e, handler: `${name}${i}` }));

function routerOf(list: readonly object[], settings: object): Router {
  return buildRouter(tableOf(list as never, settings as never));
}

test('a shadowed route is reached by none of all requests, and a free one by the request that is named for it', () => {
  let [dead, free] = [0, 0];
  fc.assert(
    fc.property(entries, facts, (list, settings) => {
      const router = routerOf(named(list, 'h'), settings);
      const reached = new Set(REQUESTS.map((r) => follow(router, r).leaf?.route));
      for (const route of router.table.routes) {
        const shadow = shadowOf(router, route);
        if (shadow !== undefined && 'why' in shadow) continue;
        if (shadow?.whole === true) {
          dead += 1;
          expect(reached.has(route), route.handler).toBe(false);
        }
        const request = shadow === undefined ? requestFor(router, route) : undefined;
        if (request === undefined) continue;
        free += 1;
        expect(['ambiguous', route.handler]).toContain(fate(follow(router, request)));
      }
    }),
    { numRuns: RUNS },
  );
  expect(Math.min(dead, free)).toBeGreaterThan(RUNS / 8);
});

test('what is told of two such tables happens to its request, and what any request loses is told', () => {
  let lost = 0;
  const pairs = fc.tuple(entries, fc.nat(), entry, fc.constantFrom('gone', 'changed', 'first'));
  fc.assert(
    fc.property(pairs, facts, ([list, at, other, how], settings) => {
      const before = named(list, 'h');
      const now = [...before];
      const [taken] = now.splice(at % now.length, 1);
      if (how === 'changed') now.splice(at % list.length, 0, { ...other, handler: (taken as { handler: string }).handler });
      if (how === 'first') now.unshift(taken as object);
      const [a, b] = [routerOf(before, settings), routerOf(now, settings)];
      const { changes } = compareTables(a, b);
      if (changes.some((c) => c.effect === 'undecided')) return;
      for (const { witness } of changes) {
        if (witness?.kind !== 'request') throw new Error('no request');
        const [was, is] = [follow(a, witness), follow(b, witness)];
        expect([was, is].map((f) => f.leaf?.route.handler ?? null)).toEqual([witness.wasTakenBy, witness.isTakenBy]);
      }
      const effects = changes.map((c) => c.effect);
      for (const request of REQUESTS) {
        const [was, is] = [follow(a, request), follow(b, request)];
        if (was.outcome !== 'routed' || fate(was) === fate(is)) continue;
        lost += 1;
        expect(effects, JSON.stringify([request, fate(was), fate(is)])).toContain('breaking');
      }
    }),
    { numRuns: RUNS },
  );
  expect(lost).toBeGreaterThan(RUNS);
});
