/** Which items of a list nothing else looks at, for `unevaluatedItems` (JSON Schema 2020-12 Core, 11.2). */

import type { Keywords, Schema } from '../model/schema.ts';
import {
  type Disabling,
  type EvaluatedSet,
  evaluatedBy,
  evaluatedByText,
  type Holding,
  MOST_WAYS,
  mayEvaluateBeyond,
  type ReadKeywords,
} from './evaluated-names.ts';

/** One way in which an item can be left over. */
export interface UnevaluatedItemCase {
  /** The place of the item. */
  readonly at: number;
  /** It, or any behind it. */
  readonly isTail: boolean;
  /** What the item must not be, because it would be looked at then. */
  readonly unlike: readonly Schema[];
  readonly failing: readonly Schema[];
  readonly holding: readonly Schema[];
}

/** Why an item is left over: what could look at it is none of it, or it is not what that looks for. */
type Left = Disabling & { readonly unlike?: Schema };

/** Every way in which an item can be left over; undefined where there are too many. */
export function unevaluatedItemCases(k: Keywords, read: ReadKeywords): readonly UnevaluatedItemCase[] | undefined {
  const looking = evaluatedBy(k, read);
  const last = lastOf(looking);
  const out: UnevaluatedItemCase[] = [];
  for (let at = 0; at <= last; at++) {
    const ways = leaving(looking, at);
    if (ways === undefined || out.length > MOST_WAYS) return undefined;
    for (const way of ways)
      out.push({
        at,
        isTail: at === last,
        unlike: way.flatMap((l) => l.unlike ?? []),
        failing: way.flatMap((l) => l.failing ?? []),
        holding: way.flatMap((l) => l.holding ?? []),
      });
  }
  return out;
}

/** Behind these places one is like the other. */
function lastOf({ first, branches }: EvaluatedSet): number {
  return Math.max(first, ...branches.map((b) => lastOf(b.inner)));
}

function leaving({ every, first, contains, branches }: EvaluatedSet, at: number): readonly (readonly Left[])[] | undefined {
  if (every || at < first) return [];
  let ways: readonly (readonly Left[])[] = [contains.map((unlike) => ({ unlike }))];
  for (const { inner, off } of branches) {
    // What a name asks for is nothing of a list.
    if (off.some((o) => o.absent !== undefined)) continue;
    const left = leaving(inner, at);
    if (left === undefined) return undefined;
    if (left.some((w) => w.length === 0)) continue;
    const options = [...off.map((o): readonly Left[] => [o]), ...left];
    ways = ways.flatMap((w) => options.map((o) => [...w, ...o]));
    if (ways.length > MOST_WAYS) return undefined;
  }
  return ways;
}

/** What looks at the item at a place, where these keywords hold: something always does, or one of these where it holds the item. */
export function evaluatorsOfItem(k: Keywords, at: number, held: readonly Holding[]): readonly Schema[] | 'always' {
  const out: Schema[] = [];
  const looks = ({ every, first, contains, branches }: EvaluatedSet): boolean => {
    out.push(...contains);
    return every || at < first || branches.some((b) => held.some((h) => h.schema === b.schema) && looks(b.inner));
  };
  return looks(evaluatedByText(k)) ? 'always' : out;
}

/** How many first places may be looked at by themselves. */
export function evaluatedPrefixLength(k: Keywords): number {
  return lastOf(evaluatedByText(k));
}

/** May more items be looked at than by what is known to hold? */
export function mayLookAtMore(k: Keywords, held: readonly Holding[], sent: boolean): boolean {
  return mayEvaluateBeyond(k, held, sent, ({ first, every, contains }) => every || first + contains.length > 0);
}
