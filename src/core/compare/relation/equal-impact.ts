/** Bodies with which the same is wrong: what is told of one of them is told of all. */

import { groupOf, twinOf } from '../../schema/equality/equal-pairs.ts';
import type { Schema } from '../../schema/model/schema.ts';
import { causeOf, lossesOf } from './lost-properties.ts';
import type { Memory } from './session.ts';

export interface Alike {
  /** The same for all of them. */
  readonly those: object;
  /** Is this a cause that the others need not have? */
  readonly isOwn: (cause: object) => boolean;
}

/** Those that lead to the same as this old and new body; undefined where nothing is known of others. */
export function alikeWith({ directions, losses }: Memory, a: Schema, b: Schema, side: 'request' | 'response'): Alike | undefined {
  const { web } = directions[side];
  const lossWeb = losses[side];
  if (web.folds && lossWeb.folds) {
    const twin = twinOf(a, b);
    return twin.parts === undefined ? undefined : { those: groupOf(twin), isOwn: isFolded };
  }
  // Ways were found to be none: what is wrong is all that tells them apart.
  const [sent, taken] = side === 'request' ? [a, b] : [b, a];
  const wrong = web.flaws(web.pair(sent, taken));
  const lost = lossWeb.flaws(lossWeb.pair(a, b));
  if (wrong.length + lost.length === 0) return undefined;
  const causes = (): ReadonlySet<object> =>
    new Set<object>([
      ...wrong,
      ...lost,
      ...lost.flatMap(lossesOf).map(causeOf),
      ...lost.flatMap((p) => p.flaw?.quiet ?? []).map((q) => q.cause),
    ]);
  let all: ReadonlySet<object> | undefined;
  return {
    those: together(wrong, lost),
    isOwn: (cause) => {
      all ??= causes();
      return !all.has(cause);
    },
  };
}

/** Pairs that are alike have nothing wrong with themselves. */
function isFolded(cause: object): boolean {
  return 'twin' in cause && cause.twin !== undefined;
}

const pairs = new WeakMap<object, WeakMap<object, object>>();

/** One object for two lists. */
function together(one: object, other: object): object {
  const row = pairs.get(one) ?? new WeakMap<object, object>();
  pairs.set(one, row);
  const known = row.get(other) ?? {};
  row.set(other, known);
  return known;
}
