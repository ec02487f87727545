/** Two route tables against what happens to every request of a sample. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { compareTables } from '../../src/core/compare/compare-tables.ts';
import { follow } from '../../src/core/routes/follow/follow.ts';
import type { RoutingOutcome } from '../../src/core/routes/follow/outcome.ts';
import { buildRouter } from '../../src/core/routes/index/router.ts';
import { entries, PATHS, settings, tableOf } from '../core/tables.ts';
import { runs } from '../runs.ts';

const RUNS = runs(50);

/** Two tables that have most of their entries in common: some go, some come, one moves. */
const pairs = fc.tuple(entries, entries, fc.nat(), fc.nat(), fc.boolean()).map(([a, b, at, to, moves]) => {
  const now = [...a];
  const [taken = ''] = now.splice(at % now.length, 1);
  if (moves) now.splice(to % (now.length + 1), 0, taken);
  else now.splice(to % (now.length + 1), 0, ...b.slice(0, 1 + (at % 2)).map((e) => e.replace('h', 'n')));
  return [a, now] as const;
});

const fate = ({ leaf, outcome, status, allow }: RoutingOutcome): string =>
  leaf === undefined ? `answered ${status ?? outcome} ${allow}` : leaf.route.handler;

test('what is told of two tables happens to its request, and what happens to a request is told', () => {
  let lost = 0;
  fc.assert(
    fc.property(pairs, settings, ([a, b], facts) => {
      const [old, now] = [a, b].map((list) => buildRouter(tableOf(list, facts)));
      if (old === undefined || now === undefined) return;
      const { changes } = compareTables(old, now);
      for (const { rule, witness, effect } of changes) {
        if (effect === 'undecided') return;
        if (witness?.kind !== 'request') throw new Error(`${rule} has no request`);
        const [was, is] = [follow(old, witness), follow(now, witness)];
        expect([was.leaf?.route.handler ?? null, is.leaf?.route.handler ?? null]).toEqual([
          witness.wasTakenBy,
          witness.isTakenBy,
        ]);
        expect(`${fate(was)} ${was.outcome}`).not.toBe(`${fate(is)} ${is.outcome}`);
        // Breaking: somebody took it, and takes it no more; compatible: nobody is worse off.
        if (effect === 'breaking') expect(was.outcome).toBe('routed');
        if (effect === 'compatible') expect(was.outcome === 'routed' ? is.outcome : 'routed').toBe('routed');
      }
      const told = new Set(changes.flatMap(({ rule, old: place }) => (place === undefined ? [] : [`${rule} ${place.pointer}`])));
      for (const target of PATHS) {
        for (const method of ['GET', 'POST']) {
          const request = { method, target, headers: {} };
          const [was, is] = [follow(old, request), follow(now, request)];
          if (was.outcome !== 'routed' || is.outcome === 'ambiguous') continue;
          const isLost = is.leaf === undefined;
          if (isLost) lost += 1;
          if (isLost)
            expect([...told], `${method} ${target}`).toContain(`versions/routing-lost ${was.leaf?.route.place.pointer}`);
          // Behind the same path a handler may have a new name.
          if (fate(was) !== fate(is) && !is.leaf?.route.handler.startsWith('n'))
            expect(
              changes.map((c) => c.effect),
              `${method} ${target}`,
            ).toContain('breaking');
        }
      }
    }),
    { numRuns: RUNS },
  );
  expect(lost).toBeGreaterThan((RUNS * 2) / 3);
});
