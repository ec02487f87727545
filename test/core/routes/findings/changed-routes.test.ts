/** What two tables don't have in common, against all that can be kept in order. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { changedLeaves } from '../../../../src/core/routes/findings/changed-routes.ts';
import { buildRouter } from '../../../../src/core/routes/index/router.ts';
import { runs } from '../../../runs.ts';
import { tableOf } from '../../tables.ts';

/** How many of one list can be found in the other in the same order: the plain way. */
function common(a: readonly string[], b: readonly string[]): number {
  const best = Array.from({ length: a.length + 1 }, () => Array.from({ length: b.length + 1 }, () => 0));
  for (let i = 1; i <= a.length; i++)
    for (let j = 1; j <= b.length; j++)
      (best[i] as number[])[j] =
        a[i - 1] === b[j - 1]
          ? ((best[i - 1] as number[])[j - 1] as number) + 1
          : Math.max((best[i - 1] as number[])[j] as number, (best[i] as number[])[j - 1] as number);
  return (best[a.length] as number[])[b.length] as number;
}

const WORDS = ['locks', 'gates', 'basins', 'tolls', 'berths', 'keepers', 'vessels', 'notices'];
const route = (word: string): string => `GET /${word} -> ${word}`;
/** Some of the words, shuffled. */
const words = fc.shuffledSubarray(WORDS);

test('as much as can be is kept where each route stands once, and nothing is changed of a table that is the same', () => {
  fc.assert(
    fc.property(words, words, (a, b) => {
      const [old, now] = [a, b].map((list) => buildRouter(tableOf(list.map(route))));
      if (old === undefined || now === undefined) return;
      expect(a.length - changedLeaves(old, now).length).toBe(common(a, b));
      expect(b.length - changedLeaves(now, old).length).toBe(common(a, b));
      expect(changedLeaves(old, buildRouter(tableOf(a.map(route))))).toEqual([]);
    }),
    { numRuns: runs(500) },
  );
});

test('what is kept stands in the same order in both, however often it stands', () => {
  const many = fc.array(fc.constantFrom(...WORDS.slice(0, 3)), { maxLength: 8 });
  fc.assert(
    fc.property(many, many, (a, b) => {
      const [old, now] = [a, b].map((list) => buildRouter(tableOf(list.map(route))));
      if (old === undefined || now === undefined) return;
      const changed = new Set(changedLeaves(old, now).map((l) => l.route.index));
      const kept = old.table.routes.filter((r) => !changed.has(r.index)).map((r) => r.handler);
      // In the other list it can be read from left to right.
      for (let i = 0, from = 0; i < kept.length; i++) {
        const found = b.indexOf(kept[i] as never, from);
        expect(found).toBeGreaterThanOrEqual(from);
        from = found + 1;
      }
    }),
    { numRuns: runs(500) },
  );
});

test('under other facts everything may fare otherwise', () => {
  const list = WORDS.map(route);
  const [old, now] = [{}, { letterCase: 'either' as const }].map((facts) => buildRouter(tableOf(list, facts)));
  expect(changedLeaves(old as never, now as never)).toHaveLength(WORDS.length);
});
