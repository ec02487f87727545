/** Which forms of one union are held against which of another. */

import { isTextEqual } from '../equality/equal-pairs.ts';
import { dereference, type Schema } from '../model/schema.ts';
import type { Side } from '../model/side.ts';
import { declaredNamesOf } from '../normalise/declared-names.ts';
import { isObviouslyDisjoint } from '../normalise/disjoint.ts';
import { asConjunction, asUnion, isSameBranchText } from '../normalise/union-view.ts';

export interface FormPair {
  readonly a: Schema;
  readonly b: Schema;
}

/**
 * Each form of a sender's union with the taker's form that it became: of the same name, or the only one left that it could
 * be, or alike, or at the same place. A branch without a successor is compared with the whole new union. Where
 * no branch has one, nothing is compared branch by branch. `asSent` is what a sender means by a branch. O(branches of both),
 * plus what it takes to tell them apart.
 */
export function matchBranches(
  sent: readonly Schema[],
  taken: readonly Schema[],
  whole: Schema,
  side: Side,
  asSent: (form: Schema, became: boolean) => Schema,
): readonly FormPair[] {
  const named = new Map(taken.map((form) => [nameOf(form), form]));
  named.delete(undefined);
  const byName = sent.map((form) => named.get(nameOf(form)));
  const left = taken.map((form) => (byName.includes(form) ? undefined : form));
  const union = asUnion(whole) === undefined ? asConjunction(whole)?.find((p) => asUnion(p)?.forms === taken) : whole;
  const alike = sent.map((form, i) => byName[i] ?? sameAs(form, left[i], left, side));
  // What stayed as it was became nothing else besides.
  const changed = left.map((form) => (form !== undefined && alike.includes(form) ? undefined : form));
  const successor = sent.map((form, i) => alike[i] ?? mostSimilar(form, changed[i], changed, side));
  // Unions that have nothing in common are one change.
  if (successor.every((b) => b === undefined)) return [];
  return sent.flatMap((form, i): readonly FormPair[] => {
    const b = successor[i] ?? union;
    return b === undefined ? [] : [{ a: isSameBranchText(form, b) ? form : asSent(form, successor[i] !== undefined), b }];
  });
}

/** The name of a component, where a form is a reference to one. */
function nameOf(form: Schema): string | undefined {
  const at = dereference(form);
  return at === form ? undefined : at.place.pointer;
}

type Left = readonly (Schema | undefined)[];

function sameAs(form: Schema, same: Schema | undefined, left: Left, side: Side): Schema | undefined {
  if (same !== undefined && isTextEqual(form, same)) return same;
  return left.find((t) => t !== undefined && !isObviouslyDisjoint(form, t, side) && isTextEqual(form, t));
}

function mostSimilar(form: Schema, same: Schema | undefined, left: Left, side: Side): Schema | undefined {
  const could = left.filter((t): t is Schema => t !== undefined && !isObviouslyDisjoint(form, t, side));
  const kin = could.map((t) => similarity(form, t));
  const most = Math.max(0, ...kin);
  if (most < MIN_SIMILARITY) return undefined;
  const best = could.filter((_, i) => kin[i] === most);
  return best.length === 1 ? best[0] : best.find((t) => t === same);
}

/** The least kinship of two forms that may be the same one: half of their names. */
const MIN_SIMILARITY = 1;

/** How much two forms declare together: 2 where all names are the same, and a little more where they require the same. */
function similarity(a: Schema, b: Schema): number {
  const [x, y] = [declaredNamesOf(a), declaredNamesOf(b)];
  const [needsX, needsY] = [requiredOf(a), requiredOf(b)];
  let both = 0;
  for (const name of x.names) if (y.names.has(name)) both += 1;
  const all = Math.max(x.names.size, y.names.size);
  const required = needsX.size === needsY.size && [...needsX].every((n) => needsY.has(n)) ? 0.1 : 0;
  return (all === 0 ? 2 : (both * 2) / all) + required;
}

function requiredOf(schema: Schema): ReadonlySet<string> {
  const k = dereference(schema).keywords();
  return new Set(typeof k === 'boolean' ? [] : k.required);
}
