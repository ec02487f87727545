/** What clients could read, and never can any more: the changes that say so. */
import type { Schema } from '../../schema/model/schema.ts';
import { addAffectedIfReported, reportOnce } from '../changes/cause-log.ts';
import { type Affected, type ChangeDraft, newChange } from '../changes/change.ts';
import { lossWitness, missingPropertyWitness, pointerOf } from '../relation/loss-witness.ts';
import { causeOf, type LocatedLoss, lossWords } from '../relation/lost-properties.ts';
import type { NotShown, RootCause } from '../relation/pair-flaw.ts';
import type { ComparisonSession } from '../relation/session.ts';

/** What one loss is told as: of one cause each name is told once. */
export function lossKind({ name }: LocatedLoss): string {
  return `lost ${name}`;
}

/** What could be read, and can never come any more. */
export function lostChanges(
  memory: ComparisonSession,
  lost: readonly LocatedLoss[],
  a: Schema,
  b: Schema,
  at: Affected,
): readonly ChangeDraft[] {
  if (addAffectedIfReported(memory, lost, lossKind, 'lost', at, causeOf)) return [];
  return lost.flatMap((l) =>
    reportOnce(memory, causeOf(l), lossKind(l), at, () => {
      const witness = (l.required ? missingPropertyWitness(memory, a, b, l) : undefined) ?? lossWitness(memory, a, b, l);
      // What could never come isn't lost.
      if (witness === 'never') return undefined;
      const [old, now] = [causeOf(l).a, causeOf(l).b];
      const value = pointerOf(memory.losses.response, a, b, l);
      const words = lossWords(l, value);
      if ('why' in witness)
        return {
          ...newChange(at, 'versions/response-property-lost', 'undecided', old, now),
          value,
          message: `whether ${words} could ever come, and is lost, could not be decided`,
          undecided: notShownReason(witness),
        };
      const key = memory.keyLost(at, a, l.name, value);
      return {
        ...newChange(at, 'versions/response-property-lost', 'breaking', old, now),
        value,
        message: `${words} is no longer returned${key === undefined ? '' : `, and ${key} is addressed by it`}`,
        advice: `Keep sending ${words} until clients no longer read it.`,
        witness,
      };
    }),
  );
}

const lossPredicates = new WeakMap<readonly LocatedLoss[], (part: Pick<RootCause, 'sent' | 'taken'>) => boolean>();

/**
 * Is a part to blame for nothing but what is told as lost? What could never come is lost to nobody, and is not told. One
 * answer for each list, so that what is made of it is remembered.
 */
export function isReportedAsLost(
  memory: ComparisonSession,
  lost: readonly LocatedLoss[],
): (part: Pick<RootCause, 'sent' | 'taken'>) => boolean {
  const known = lossPredicates.get(lost);
  if (known !== undefined) return known;
  const pairs = new Map<Schema, Map<Schema, LocatedLoss[]>>();
  for (const loss of lost) {
    if (!loss.required) continue;
    const { a, b } = loss.pair;
    const row = pairs.get(b) ?? new Map<Schema, LocatedLoss[]>();
    pairs.set(b, row.set(a, [...(row.get(a) ?? []), loss]));
  }
  const isToldOf = (l: LocatedLoss): boolean => memory.told.get(causeOf(l))?.has(lossKind(l)) === true;
  const made = ({ sent, taken }: Pick<RootCause, 'sent' | 'taken'>): boolean =>
    pairs.get(sent)?.get(taken)?.some(isToldOf) === true;
  lossPredicates.set(lost, made);
  return made;
}

/** What stopped a whole body that shows it. */
export function notShownReason({ why }: NotShown): string {
  return `${why}, while a whole body was put together,`;
}
