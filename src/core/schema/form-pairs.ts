/** Which forms of one union are held against which of another. */
import { apart } from './apart.ts';
import { declaredNames } from './declared.ts';
import type { Side } from './fits.ts';
import { type Schema, target } from './node.ts';
import { sameText } from './same.ts';
import { partsOf, unionOf } from './unions.ts';

export interface FormPair {
  readonly a: Schema;
  readonly b: Schema;
}

/**
 * Each form of a sender's union with the taker's form that it became: of the same name, or the only one left that it could
 * be, or alike, or at the same place. One that became none is held against the whole union; there is
 * nothing to tell of single forms where all became none. `asSent` is what a sender means
 * by a form. O(forms of both), plus what it takes to tell them apart.
 */
export function formPairs(
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
  const union = unionOf(whole) === undefined ? partsOf(whole)?.find((p) => unionOf(p)?.forms === taken) : whole;
  const became = sent.map((form, i) => byName[i] ?? like(form, left[i], left, side));
  // Unions that have nothing in common are one change.
  if (became.every((b) => b === undefined)) return [];
  return sent.flatMap((form, i): readonly FormPair[] => {
    const b = became[i] ?? union;
    return b === undefined ? [] : [{ a: sameText(form, b) ? form : asSent(form, became[i] !== undefined), b }];
  });
}

/** The name of a component, where a form is a reference to one. */
function nameOf(form: Schema): string | undefined {
  const at = target(form);
  return at === form ? undefined : at.place.pointer;
}

function like(form: Schema, same: Schema | undefined, left: readonly (Schema | undefined)[], side: Side): Schema | undefined {
  if (same !== undefined && sameText(form, same)) return same;
  const could = left.filter((t) => t !== undefined && !apart(form, t, side) && isAkin(form, t)) as Schema[];
  if (could.length < 2) return could[0];
  return could.find((t) => sameText(form, t)) ?? could.find((t) => t === same);
}

/** Most of the names that one declares are the other's. */
function isAkin(a: Schema, b: Schema): boolean {
  const [x, y] = [declaredNames([a]).names, declaredNames([b]).names];
  let both = 0;
  for (const name of x) if (y.has(name)) both += 1;
  return both * 2 >= Math.max(x.size, y.size);
}
