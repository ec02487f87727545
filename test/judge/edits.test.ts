/** One edit of a route table, a router fact among them: what fares otherwise is told, as it fares; a rewrite is nothing. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { compareTables } from '../../src/core/compare/compare-tables.ts';
import { seen } from '../../src/core/compare/table/routing-changes.ts';
import { follow } from '../../src/core/routes/follow/follow.ts';
import { buildRouter, type Router } from '../../src/core/routes/index/router.ts';
import type { Request } from '../../src/core/routes/request/request.ts';
import { FACTS, type RouterSettings } from '../../src/core/routes/table/router-facts.ts';
import { PATHS, settings, tableOf, versioning } from '../core/tables.ts';
import { runs } from '../runs.ts';

const RUNS = runs(50);

interface Row {
  readonly method: string;
  readonly path: string;
  readonly handler: string;
  readonly [condition: string]: unknown;
}

const row = fc
  .record(
    {
      method: fc.constantFrom('GET', 'GET', 'GET', 'POST', 'GET|POST', 'ANY'),
      path: fc.constantFrom(
        '/locks',
        '/locks/{a}',
        '/locks/{b:int}',
        '/locks/closed',
        '/{c}',
        '/{rest*}',
        '/closed/',
        '/{f}.json',
        '/7',
      ),
      returns: fc.constantFrom(['application/json'], ['text/csv', 'application/json'], ['application/json', 'text/csv']),
      takes: fc.constantFrom(['application/json'], ['text/csv']),
      version: fc.constantFrom(['1'], ['2'], ['1', '2']),
      host: fc.constantFrom('desk.canal.example'),
    },
    { requiredKeys: ['method', 'path'] },
  )
  .chain(({ method, path, ...conditions }) =>
    fc
      .subarray(Object.entries(conditions), { maxLength: Math.min(1, Object.keys(conditions).length) })
      .map((kept) => ({ method, path, ...Object.fromEntries(kept) })),
  );
const rows = fc.array(row, { minLength: 2, maxLength: 5 }).map((list) => list.map((r, i): Row => ({ ...r, handler: `h${i}` })));

type Edit = (list: readonly Row[], at: number, to: number, other: Omit<Row, 'handler'>) => readonly Row[];
const changed = (list: readonly Row[], at: number, more: object): readonly Row[] =>
  list.map((r, i) => (i === at ? { ...r, ...more } : r));
/** What people do to a table. */
const EDITS: Readonly<Record<string, Edit>> = {
  reorder: (list, at, to) => {
    const rest = list.filter((_, i) => i !== at);
    return [...rest.slice(0, to), list[at] as Row, ...rest.slice(to)];
  },
  remove: (list, at) => list.filter((_, i) => i !== at),
  literalBefore: (list) => [{ method: 'GET', path: '/locks/closed', handler: 'n' }, ...list],
  literalAfter: (list) => [...list, { method: 'GET', path: '/locks/closed', handler: 'n' }],
  renamed: (list, at) => changed(list, at, { handler: 'n' }),
  swapped: (list, at, to) => changed(changed(list, at, { handler: list[to]?.handler }), to, { handler: list[at]?.handler }),
  path: (list, at, _, { path }) => changed(list, at, { path }),
  method: (list, at, _, { method }) => changed(list, at, { method }),
  prefix: (list) => list.map((r) => ({ ...r, path: `/locks${r.path}` })),
  conditions: (list, at, _, { path: __, method: ___, ...more }) => changed(list, at, more),
};

const routerOf = (list: readonly Row[], facts: RouterSettings): Router =>
  buildRouter(
    tableOf(list.map(({ method, path, ...more }) => ({ route: `${method} ${path}`, ...more })) as never, facts),
    versioning,
  );

const SPELT = [
  '/LOCKS',
  '/locks//7',
  '/locks/./7',
  '/x/../locks',
  '/l%6Fcks',
  '/locks%2F7',
  '/locks/%',
  '/locks/7/',
  '/locks/7//',
  '/7.json',
];
const asked: fc.Arbitrary<Request> = fc.record({
  method: fc.constantFrom('GET', 'GET', 'POST', 'HEAD', 'DELETE', 'OPTIONS'),
  target: fc.oneof(fc.constantFrom(...PATHS), fc.constantFrom(...SPELT)),
  headers: fc.record(
    {
      Accept: fc.constantFrom('text/csv', 'application/json', '*/*', 'image/png'),
      'Content-Type': fc.constantFrom('text/csv', 'application/json', 'image/png'),
      'Desk-Version': fc.constantFrom('1', '2', '9'),
      Host: fc.constantFrom('desk.canal.example', 'elsewhere.example'),
    },
    { requiredKeys: [] },
  ),
});

/** What is told holds, and every request that fares otherwise belongs to something that is told. */
function holds(old: Router, now: Router, requests: readonly Request[]): number {
  const { changes } = compareTables(old, now);
  for (const { rule, witness, effect } of changes) {
    if (effect === 'undecided') continue;
    if (witness?.kind !== 'request') throw new Error(`${rule} has no request`);
    const [was, is] = [follow(old, witness), follow(now, witness)];
    expect([was, is].map((f) => f.leaf?.route.handler ?? null)).toEqual([witness.wasTakenBy, witness.isTakenBy]);
    expect(seen(was), rule).not.toBe(seen(is));
    if (effect === 'breaking') expect(was.outcome).toBe('routed');
  }
  const effects = changes.map((c) => c.effect);
  let differing = 0;
  for (const request of requests) {
    const [was, is] = [follow(old, request), follow(now, request)];
    if (seen(was) === seen(is)) continue;
    differing += 1;
    const [from, to] = [was, is].map((f) => (f.outcome === 'routed' ? f.leaf?.route.handler : undefined));
    const said = JSON.stringify([request, seen(was), seen(is), changes.map((c) => c.message)]);
    if (was.outcome === 'undecided' || is.outcome === 'undecided') expect(changes.length, said).toBeGreaterThan(0);
    else if (from !== undefined && to === undefined) expect(effects, said).toContain('breaking');
    else if (from !== undefined && from !== to && to !== 'n') expect(effects, said).toContain('breaking');
    else if (from === undefined || from !== to || was.responseType?.type !== undefined)
      expect(changes.length, said).toBeGreaterThan(0);
  }
  return differing;
}

test('an edit of the routes: every request that fares otherwise is told', () => {
  let differing = 0;
  const edit = fc.constantFrom(...Object.values(EDITS));
  fc.assert(
    fc.property(
      rows,
      edit,
      fc.nat(),
      fc.nat(),
      row,
      settings,
      fc.array(asked, { minLength: 60, maxLength: 60 }),
      (list, make, at, to, other, facts, requests) => {
        const now = make(list, at % list.length, to % list.length, other);
        differing += holds(routerOf(list, facts), routerOf(now, facts), requests);
      },
    ),
    { numRuns: RUNS },
  );
  expect(differing).toBeGreaterThan(RUNS);
});

/** Facts that are applied when a table is read, or by which a service does not come up. */
const OTHER = new Set(['prefix', 'groupRoot', 'unmatched', 'duplicates', 'sameShape']);
const facts = Object.entries(FACTS).flatMap(([name, { values }]) =>
  OTHER.has(name) ? [] : values.map((value) => [name, value] as const),
);

test('another router fact: every request that fares otherwise is told, and of a fact without effect none does', () => {
  let differing = 0;
  fc.assert(
    fc.property(
      rows,
      fc.constantFrom(...facts),
      settings,
      fc.array(asked, { minLength: 60, maxLength: 60 }),
      (list, [name, value], base, requests) => {
        const [old, now] = [routerOf(list, base), routerOf(list, { ...base, [name]: value })];
        const some = holds(old, now, requests);
        differing += some;
        const { factsWithoutEffect = [], changes } = compareTables(old, now);
        if (changes.length === 0 && old.facts[name as 'head'] !== value)
          expect(factsWithoutEffect.map((f) => f.fact)).toEqual([name]);
      },
    ),
    { numRuns: RUNS },
  );
  expect(differing).toBeGreaterThan(RUNS / 8);
});

test('a rewrite without meaning is no change', () => {
  fc.assert(
    fc.property(rows, settings, (list, base) => {
      const plain = routerOf(list, base);
      const renamed = list.map((r) => ({ ...r, path: r.path.replace(/\{(\w)(?=[:}])/gu, '{$1$1') }));
      expect(compareTables(plain, routerOf(renamed, base)).changes.map((c) => c.message)).toEqual([]);
      const grouped = { within: '/', routes: list.map(({ method, path, ...more }) => ({ route: `${method} ${path}`, ...more })) };
      const inGroup = buildRouter(tableOf([grouped] as never, base), versioning);
      if (base.options !== 'by-group' && base.unmatched !== 'end' && base.groupRoot === undefined)
        expect(compareTables(plain, inGroup).changes.map((c) => c.message)).toEqual([]);
    }),
    { numRuns: RUNS },
  );
});
