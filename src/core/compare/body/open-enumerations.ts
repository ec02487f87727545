/** New members of enumerations that are open: legal, and known to hurt. */
import { brief } from '../../base/excerpt.ts';
import { isMapping } from '../../base/json.ts';
import { isType } from '../../schema/model/json-types.ts';
import type { Schema } from '../../schema/model/schema.ts';
import { tell } from '../changes/cause-log.ts';
import { type Affected, type Made, plain } from '../changes/change.ts';
import type { Blamed } from '../relation/pair-flaw.ts';
import type { Memory } from '../relation/session.ts';

/** A new member of an enumeration that was marked as open is legal, and known to hurt. */
export function openChange(memory: Memory, { taken, verdict }: Blamed, change: Made): Made | undefined {
  const { openEnumerations } = memory;
  if (openEnumerations === undefined || verdict.kind !== 'outside' || !isMapping(taken.raw)) return undefined;
  const k = taken.keywords();
  if (typeof k === 'boolean' || k.enum === undefined || (taken.raw[openEnumerations] ?? false) === false) return undefined;
  if (k.types !== undefined && !k.types.some((t) => isType(verdict.witness, t))) return undefined;
  return { ...change, ...memberWords(change.value ?? '', verdict.witness), rule: MEMBER, effect: 'risky' };
}

const MEMBER = 'versions/enumeration-member-added';

function memberWords(pointer: string, value: unknown): Pick<Made, 'message' | 'advice'> {
  return {
    message: `${pointer === '' ? 'the body' : pointer} may be ${brief(value, 80)} now, a new member of an open enumeration`,
    advice: 'Tell clients; those that know the old members alone may stumble.',
  };
}

/** New members of enumerations that are unions with their bare type: the values are the same, and still clients may stumble. */
export function memberChanges(memory: Memory, a: Schema, b: Schema, at: Affected): readonly Made[] {
  const root = memory.losses.response.pair(a, b);
  const growing = memory.losses.response.flaws(root).filter((pair) => (pair.flaw?.members.length ?? 0) > 0);
  return growing.flatMap((pair) =>
    tell(memory, pair, MEMBER, at, () => {
      const pointer = memory.losses.response.wayBetween(root, pair)?.pointer ?? '';
      return { ...plain(at, MEMBER, 'risky', pair.a, pair.b), value: pointer, ...memberWords(pointer, pair.flaw?.members[0]) };
    }),
  );
}
