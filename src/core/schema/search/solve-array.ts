/** Lists that hold some keywords and break others. */

import type { Schema } from '../model/schema.ts';
import { evaluatedPrefixLength, mayLookAtMore } from '../normalise/evaluated-items.ts';
import { type ArrayPlan, assignItems, type RequiredItem } from './assign-items.ts';
import { type Disjunct, EMPTY, joinResults, type SearchResult, type Solver, type Violated } from './problem.ts';

export function solveArray(way: Disjunct, solver: Solver): SearchResult {
  const special = specialPlaces(way);
  let found: SearchResult = EMPTY;
  for (const goal of goals(way, special, solver)) {
    found = joinResults(
      found,
      typeof goal === 'string' ? { kind: 'undecided', why: goal } : assignItems(way, goal, special, solver),
    );
    if (found.kind === 'witness') return found;
  }
  // More may be looked at than what always is.
  const isUnsure = way.pos.some(
    ({ k }) => k.unevaluatedItems !== undefined && mayLookAtMore(k, way.pos, way.declarers.length > 0),
  );
  return found.kind === 'none' && isUnsure ? { kind: 'undecided', why: 'unevaluatedItems' } : found;
}

/** How many places have something said of them alone; behind them one item is like the other. */
function specialPlaces({ pos, broken }: Disjunct): number {
  const looked = pos.map(({ k }) => (k.unevaluatedItems === undefined ? 0 : evaluatedPrefixLength(k)));
  const left = broken.map(({ unevaluatedItem }) =>
    unevaluatedItem === undefined ? 0 : unevaluatedItem.at + (unevaluatedItem.isTail ? 0 : 1),
  );
  return Math.max(0, ...[...pos, ...broken].map(({ k }) => k.prefixItems.length), ...looked, ...left);
}

/** Each combination of the ways in which the broken keywords can be broken, depth first. */
function* goals(way: Disjunct, special: number, solver: Solver): Generator<ArrayPlan | string> {
  const counts = way.pos.flatMap(({ k: { contains, minContains = 1, maxContains = Infinity } }) =>
    contains === undefined || (minContains === 0 && maxContains === Infinity)
      ? []
      : [{ schema: contains, low: minContains, high: maxContains }],
  );
  const first: ArrayPlan = {
    low: Math.max(0, ...way.pos.map(({ k }) => k.minItems ?? 0)),
    high: Math.min(Infinity, ...way.pos.map(({ k }) => k.maxItems ?? Infinity)),
    counts,
    needs: [],
    twice: undefined,
    unique: way.pos.some(({ k }) => k.uniqueItems),
  };
  yield* combined(way.broken, first, special, solver);
}

function* combined(broken: readonly Violated[], goal: ArrayPlan, special: number, solver: Solver): Generator<ArrayPlan | string> {
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

function breakOne({ k, keyword, unevaluatedItem }: Violated, goal: ArrayPlan, special: number): readonly (ArrayPlan | string)[] {
  const need = (at: number, isTail: boolean, ...neg: readonly Schema[]): ArrayPlan => {
    const one: RequiredItem = { at, isTail, neg };
    return { ...goal, needs: [...goal.needs, one] };
  };
  const count = (low: number, high: number): ArrayPlan => ({
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
        Array.from({ length: j }, (_x, i): ArrayPlan => ({ ...goal, twice: [i, j] })),
      ).flat();
    case 'contains':
      return k.minContains === 0 ? [] : [count(0, (k.minContains ?? 1) - 1)];
    case 'maxContains':
      return k.contains === undefined || k.maxContains === undefined ? [] : [count(k.maxContains + 1, Infinity)];
    case 'unevaluatedItems':
      // There were too many ways to tell what else looks at items.
      return unevaluatedItem === undefined
        ? ['unevaluatedItems']
        : [need(unevaluatedItem.at, unevaluatedItem.isTail, k.unevaluatedItems as Schema, ...unevaluatedItem.unlike)];
    case 'enum':
      return [goal];
    default:
      return [];
  }
}
