/** Changes as the settings weigh them: `levels` speaks of changes as of findings. */
import { type Change, EFFECTS, type Effect, verdictOf } from './changes/change.ts';
import type { Comparison } from './compare-contracts.ts';

type Level = 'error' | 'warning' | 'note';

/** What stands for a level among effects. */
const EFFECT: Readonly<Record<Level, Effect>> = { error: 'breaking', warning: 'risky', note: 'compatible' };

/** The comparison with each change at the effect that its rule has in the settings, and the verdict on what is left. O(changes). */
export function weighed(comparison: Comparison, levels: Readonly<Record<string, Level | 'off'>>): Comparison {
  let count = 0;
  const changes = comparison.changes.flatMap((change): readonly Change[] => {
    const level = levels[change.rule];
    const effect = level === undefined ? change.effect : level === 'off' ? undefined : EFFECT[level];
    // What is undecided stays so, unless it is of no weight either way.
    if (effect === change.effect || (change.effect === 'undecided' && level !== 'off' && level !== 'note')) return [change];
    count += 1;
    return effect === undefined ? [] : [{ ...change, effect }];
  });
  if (count === 0) return comparison;
  const order = (c: Change): number => EFFECTS.indexOf(c.effect);
  return {
    ...comparison,
    verdict: verdictOf(changes, false),
    changes: changes.sort((a, b) => order(a) - order(b)),
    weighed: count,
  };
}
