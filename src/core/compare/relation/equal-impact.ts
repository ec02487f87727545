/** Bodies with which the same is wrong: what is told of one of them is told of all. */

import { compareText, groupOf } from '../../schema/equality/equal-pairs.ts';
import type { Schema } from '../../schema/model/schema.ts';
import { causeOf, lossesOf } from './lost-properties.ts';
import type { ComparisonSession } from './session.ts';

export interface EquivalentBodies {
  /** The same for all of them. */
  readonly classKey: object;
  /** Is this a cause that the others need not have? */
  readonly isNotShared: (cause: object) => boolean;
}

/** Those that lead to the same as this old and new body; undefined where nothing is known of others. */
export function equivalentBodies(
  { directions, losses }: ComparisonSession,
  a: Schema,
  b: Schema,
  side: 'request' | 'response',
): EquivalentBodies | undefined {
  const { web } = directions[side];
  const lossWeb = losses[side];
  if (web.folds && lossWeb.folds) {
    const twin = compareText(a, b);
    return twin.differingChildren === undefined ? undefined : { classKey: groupOf(twin), isNotShared: isCondensed };
  }
  // Ways were found to be none: what is wrong is all that tells them apart.
  const [sent, taken] = side === 'request' ? [a, b] : [b, a];
  const wrong = web.failuresBelow(web.nodeFor(sent, taken));
  const lost = lossWeb.failuresBelow(lossWeb.nodeFor(a, b));
  if (wrong.length + lost.length === 0) return undefined;
  const causes = (): ReadonlySet<object> =>
    new Set<object>([
      ...wrong,
      ...lost,
      ...lost.flatMap(lossesOf).map(causeOf),
      ...lost.flatMap((p) => p.localFailure?.quiet ?? []).map((q) => q.cause),
    ]);
  let all: ReadonlySet<object> | undefined;
  return {
    classKey: pairKey(wrong, lost),
    isNotShared: (cause) => {
      all ??= causes();
      return !all.has(cause);
    },
  };
}

/** Pairs that are alike have nothing wrong with themselves. */
function isCondensed(cause: object): boolean {
  return 'twin' in cause && cause.twin !== undefined;
}

const pairKeys = new WeakMap<object, WeakMap<object, object>>();

/** One object for two lists. */
function pairKey(one: object, other: object): object {
  const row = pairKeys.get(one) ?? new WeakMap<object, object>();
  pairKeys.set(one, row);
  const known = row.get(other) ?? {};
  row.set(other, known);
  return known;
}
