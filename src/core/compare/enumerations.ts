/** New members of enumerations that are open: legal, and known to hurt. */
import { brief } from '../brief.ts';
import { isMapping } from '../json.ts';
import { isType } from '../schema/kinds.ts';
import type { Schema } from '../schema/node.ts';
import { type Affected, type Made, plain } from './change.ts';
import type { Blamed, Memory } from './memory.ts';
import { tell } from './telling.ts';

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
