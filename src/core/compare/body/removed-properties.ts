/** What clients could read, and never can any more: the changes that say so. */
import type { Schema } from '../../schema/model/schema.ts';
import { tell, touchedBefore } from '../changes/cause-log.ts';
import { type Affected, type Made, plain } from '../changes/change.ts';
import { lackWitness, lossWitness, pointerOf } from '../relation/loss-witness.ts';
import { causeOf, type Loss, lossWords } from '../relation/lost-properties.ts';
import type { Blamed, Stopped } from '../relation/pair-flaw.ts';
import type { Memory } from '../relation/session.ts';

/** What one loss is told as: of one cause each name is told once. */
export function lostKey({ name }: Loss): string {
  return `lost ${name}`;
}

/** What could be read, and can never come any more. */
export function lostChanges(memory: Memory, lost: readonly Loss[], a: Schema, b: Schema, at: Affected): readonly Made[] {
  if (touchedBefore(memory, lost, lostKey, 'lost', at, causeOf)) return [];
  return lost.flatMap((l) =>
    tell(memory, causeOf(l), lostKey(l), at, () => {
      const witness = (l.required ? lackWitness(memory, a, b, l) : undefined) ?? lossWitness(memory, a, b, l);
      // What could never come isn't lost.
      if (witness === 'never') return undefined;
      const [old, now] = [causeOf(l).a, causeOf(l).b];
      const value = pointerOf(memory.losses.response, a, b, l);
      const words = lossWords(l, value);
      if ('why' in witness)
        return {
          ...plain(at, 'versions/response-property-lost', 'undecided', old, now),
          value,
          message: `whether ${words} could ever come, and is lost, could not be decided`,
          undecided: unshown(witness),
        };
      const key = memory.keyLost(at, a, l.name, value);
      return {
        ...plain(at, 'versions/response-property-lost', 'breaking', old, now),
        value,
        message: `${words} is no longer returned${key === undefined ? '' : `, and ${key} is addressed by it`}`,
        advice: `Keep sending ${words} until clients no longer read it.`,
        witness,
      };
    }),
  );
}

const losing = new WeakMap<readonly Loss[], (part: Pick<Blamed, 'sent' | 'taken'>) => boolean>();

/**
 * Is a part to blame for nothing but what is told as lost? What could never come is lost to nobody, and is not told. One
 * answer for each list, so that what is made of it is remembered.
 */
export function alreadyLost(memory: Memory, lost: readonly Loss[]): (part: Pick<Blamed, 'sent' | 'taken'>) => boolean {
  const known = losing.get(lost);
  if (known !== undefined) return known;
  const pairs = new Map<Schema, Map<Schema, Loss[]>>();
  for (const loss of lost) {
    if (!loss.required) continue;
    const { a, b } = loss.pair;
    const row = pairs.get(b) ?? new Map<Schema, Loss[]>();
    pairs.set(b, row.set(a, [...(row.get(a) ?? []), loss]));
  }
  const isToldOf = (l: Loss): boolean => memory.told.get(causeOf(l))?.has(lostKey(l)) === true;
  const made = ({ sent, taken }: Pick<Blamed, 'sent' | 'taken'>): boolean => pairs.get(sent)?.get(taken)?.some(isToldOf) === true;
  losing.set(lost, made);
  return made;
}

/** What stopped a whole body that shows it. */
export function unshown({ why }: Stopped): string {
  return `${why}, while a whole body was put together,`;
}
