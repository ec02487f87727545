/** Forms of one schema beside each other: what a value that is one of them is not besides. */

import type { Schema } from '../model/schema.ts';
import type { Side } from '../model/side.ts';
import { type DeclaredNames, declaredNamesOf, namesOfOtherBranches } from './declared-names.ts';
import { areClosedBranchesDisjoint, isObviouslyDisjoint } from './disjoint.ts';
import { closeBranch, producerBranch } from './union-view.ts';

/** More pairs of forms than this that are not plainly apart leave a `oneOf` undecided. */
const MOST_PAIRS = 400;
/** Stops the search where a keyword is not decided. */
export class LimitReached extends Error {}

/**
 * What a value that is one form of a `oneOf` must not be besides: as it is written none of the others; as a sender means
 * it none of the others closed. To a taker it may be several, which a witness is held against in the end.
 */
export function branchesToExclude(
  form: Schema,
  forms: readonly Schema[],
  reading: 'standard' | 'producer' | 'consumer',
  beside: DeclaredNames,
  side: Side,
): readonly Schema[] {
  if (reading === 'consumer') return [];
  const others = forms.filter((o) => o !== form && !isObviouslyDisjoint(form, o, side));
  if (reading === 'standard') return others;
  return others.filter((o) => !areClosedBranchesDisjoint(form, o, beside, side)).map((o) => closeBranch(o, beside));
}

/**
 * Who sends a form of an `anyOf` may send what others declare, where a value may be both. Where anything may come anyway,
 * as the form says or what stands beside it, the others say nothing of it.
 */
export function otherBranchNames(form: Schema, forms: readonly Schema[], side: Side, beside: DeclaredNames): readonly Schema[] {
  if (beside.allowsOthers || declaredNamesOf(form).allowsOthers) return [];
  const others = forms.filter((o) => o !== form && !isObviouslyDisjoint(form, o, side));
  const declaring = namesOfOtherBranches(form, others);
  return declaring === undefined ? [] : [declaring];
}

/**
 * Forms that no value may be both of: as they are written; or to a receiver, each closed with the properties that are
 * declared beside it.
 */
export function* overlappingBranchPairs(
  forms: readonly Schema[],
  sent: boolean,
  beside: DeclaredNames,
  side: Side,
): Generator<readonly [Schema, Schema]> {
  let tried = 0;
  for (const [i, a] of forms.entries()) {
    for (const b of forms.slice(i + 1)) {
      if (isObviouslyDisjoint(a, b, side) || (sent && areClosedBranchesDisjoint(a, b, beside, side))) continue;
      tried += 1;
      if (tried > MOST_PAIRS) throw new LimitReached('oneOf');
      yield sent ? [producerBranch(a, beside), producerBranch(b, beside)] : [a, b];
    }
  }
}
