/** Lists that hold some keywords and break others. */

import type { Schema } from '../model/schema.ts';
import { firstLooked, mayLookAtMore } from '../normalise/evaluated-items.ts';
import { type Goal, type Need, placed } from './assign-items.ts';
import { type Broken, better, type Found, NOT_FOUND, type Solver, type Way } from './problem.ts';

export function solveArray(way: Way, solver: Solver): Found {
  const special = specialPlaces(way);
  let found: Found = NOT_FOUND;
  for (const goal of goals(way, special, solver)) {
    found = better(found, typeof goal === 'string' ? { kind: 'undecided', why: goal } : placed(way, goal, special, solver));
    if (found.kind === 'witness') return found;
  }
  // More may be looked at than what always is.
  const isUnsure = way.pos.some(({ k }) => k.unevaluatedItems !== undefined && mayLookAtMore(k, way.pos, way.sources.length > 0));
  return found.kind === 'none' && isUnsure ? { kind: 'undecided', why: 'unevaluatedItems' } : found;
}

/** How many places have something said of them alone; behind them one item is like the other. */
function specialPlaces({ pos, broken }: Way): number {
  const looked = pos.map(({ k }) => (k.unevaluatedItems === undefined ? 0 : firstLooked(k)));
  const left = broken.map(({ leftItem }) => (leftItem === undefined ? 0 : leftItem.at + (leftItem.isTail ? 0 : 1)));
  return Math.max(0, ...[...pos, ...broken].map(({ k }) => k.prefixItems.length), ...looked, ...left);
}

/** Each combination of the ways in which the broken keywords can be broken, depth first. */
function* goals(way: Way, special: number, solver: Solver): Generator<Goal | string> {
  const counts = way.pos.flatMap(({ k: { contains, minContains = 1, maxContains = Infinity } }) =>
    contains === undefined || (minContains === 0 && maxContains === Infinity)
      ? []
      : [{ schema: contains, low: minContains, high: maxContains }],
  );
  const first: Goal = {
    low: Math.max(0, ...way.pos.map(({ k }) => k.minItems ?? 0)),
    high: Math.min(Infinity, ...way.pos.map(({ k }) => k.maxItems ?? Infinity)),
    counts,
    needs: [],
    twice: undefined,
    unique: way.pos.some(({ k }) => k.uniqueItems),
  };
  yield* combined(way.broken, first, special, solver);
}

function* combined(broken: readonly Broken[], goal: Goal, special: number, solver: Solver): Generator<Goal | string> {
  const [b, ...rest] = broken;
  if (b === undefined) {
    solver.count();
    yield goal;
    return;
  }
  for (const option of breakOne(b, goal, special)) {
    if (typeof option === 'string') yield option;
    else if (option.low <= option.high) yield* combined(rest, option, special, solver);
  }
}

function breakOne({ k, keyword, leftItem }: Broken, goal: Goal, special: number): readonly (Goal | string)[] {
  const need = (at: number, isTail: boolean, ...neg: readonly Schema[]): Goal => {
    const one: Need = { at, isTail, neg };
    return { ...goal, needs: [...goal.needs, one] };
  };
  const count = (low: number, high: number): Goal => ({
    ...goal,
    counts: [...goal.counts, { schema: k.contains as Schema, low, high }],
  });
  switch (keyword) {
    case 'minItems':
      return [{ ...goal, high: Math.min(goal.high, (k.minItems as number) - 1) }];
    case 'maxItems':
      return [{ ...goal, low: Math.max(goal.low, (k.maxItems as number) + 1) }];
    case 'prefixItems':
      return k.prefixItems.map((s, i) => need(i, false, s));
    case 'items':
      return [need(k.prefixItems.length, true, k.items as Schema)];
    case 'uniqueItems':
      if (goal.unique) return [];
      // One pair of places is made the same; whoever else wants that is content with it.
      if (goal.twice !== undefined) return [goal];
      return Array.from({ length: special + 2 }, (_, j) =>
        Array.from({ length: j }, (_x, i): Goal => ({ ...goal, twice: [i, j] })),
      ).flat();
    case 'contains':
      return k.minContains === 0 ? [] : [count(0, (k.minContains ?? 1) - 1)];
    case 'maxContains':
      return k.contains === undefined || k.maxContains === undefined ? [] : [count(k.maxContains + 1, Infinity)];
    case 'unevaluatedItems':
      // There were too many ways to tell what else looks at items.
      return leftItem === undefined
        ? ['unevaluatedItems']
        : [need(leftItem.at, leftItem.isTail, k.unevaluatedItems as Schema, ...leftItem.unlike)];
    case 'enum':
      return [goal];
    default:
      return [];
  }
}
