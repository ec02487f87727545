/** Forms of one schema beside each other: what a value that is one of them is not besides. */

import type { Schema } from '../model/schema.ts';
import type { Side } from '../model/side.ts';
import { type Declared, declaredBy, declaredWith } from './declared-names.ts';
import { apart, closedApart } from './disjoint.ts';
import { closedForm, meantForm } from './union-view.ts';

/** More pairs of forms than this that are not plainly apart leave a `oneOf` undecided. */
const MOST_PAIRS = 400;
/** Stops the search where a keyword is not decided. */
export class NotDecided extends Error {}

/**
 * What a value that is one form of a `oneOf` must not be besides: as it is written none of the others; as a sender means
 * it none of the others closed. To a taker it may be several, which a witness is held against in the end.
 */
export function excluded(
  form: Schema,
  forms: readonly Schema[],
  reading: 'written' | 'sent' | 'taken',
  beside: Declared,
  side: Side,
): readonly Schema[] {
  if (reading === 'taken') return [];
  const others = forms.filter((o) => o !== form && !apart(form, o, side));
  if (reading === 'written') return others;
  return others.filter((o) => !closedApart(form, o, beside, side)).map((o) => closedForm(o, beside));
}

/**
 * Who sends a form of an `anyOf` may send what others declare, where a value may be both. Where anything may come anyway,
 * as the form says or what stands beside it, the others say nothing of it.
 */
export function sentBeside(form: Schema, forms: readonly Schema[], side: Side, beside: Declared): readonly Schema[] {
  if (beside.open || declaredBy(form).open) return [];
  const others = forms.filter((o) => o !== form && !apart(form, o, side));
  const declaring = declaredWith(form, others);
  return declaring === undefined ? [] : [declaring];
}

/**
 * Forms that no value may be both of: as they are written; or to a receiver, each closed with the properties that are
 * declared beside it.
 */
export function* formPairs(
  forms: readonly Schema[],
  sent: boolean,
  beside: Declared,
  side: Side,
): Generator<readonly [Schema, Schema]> {
  let tried = 0;
  for (const [i, a] of forms.entries()) {
    for (const b of forms.slice(i + 1)) {
      if (apart(a, b, side) || (sent && closedApart(a, b, beside, side))) continue;
      tried += 1;
      if (tried > MOST_PAIRS) throw new NotDecided('oneOf');
      yield sent ? [meantForm(a, beside), meantForm(b, beside)] : [a, b];
    }
  }
}
