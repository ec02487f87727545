/** New members of enumerations that are open: legal, and known to hurt. */
import { brief } from '../../base/excerpt.ts';
import { isMapping } from '../../base/json.ts';
import { isType } from '../../schema/model/json-types.ts';
import type { Schema } from '../../schema/model/schema.ts';
import { reportOnce } from '../changes/cause-log.ts';
import { type Affected, type ChangeDraft, newChange } from '../changes/change.ts';
import type { RootCause } from '../relation/pair-flaw.ts';
import type { ComparisonSession } from '../relation/session.ts';

/** A new member of an enumeration that was marked as open is legal, and known to hurt. */
export function openChange(
  memory: ComparisonSession,
  { taken, verdict }: RootCause,
  change: ChangeDraft,
): ChangeDraft | undefined {
  const { openEnumerations } = memory;
  if (openEnumerations === undefined || verdict.kind !== 'counterexample' || !isMapping(taken.raw)) return undefined;
  const k = taken.keywords();
  if (typeof k === 'boolean' || k.enum === undefined || (taken.raw[openEnumerations] ?? false) === false) return undefined;
  if (k.types !== undefined && !k.types.some((t) => isType(verdict.witness, t))) return undefined;
  return { ...change, ...memberWords(change.value ?? '', verdict.witness), rule: MEMBER, effect: 'risky' };
}

const MEMBER = 'versions/enumeration-member-added';

function memberWords(pointer: string, value: unknown): Pick<ChangeDraft, 'message' | 'advice'> {
  return {
    message: `${pointer === '' ? 'the body' : pointer} may be ${brief(value, 80)} now, a new member of an open enumeration`,
    advice: 'Tell clients; those that know the old members alone may stumble.',
  };
}

/** New members of enumerations that are unions with their bare type: the values are the same, and still clients may stumble. */
export function memberChanges(memory: ComparisonSession, a: Schema, b: Schema, at: Affected): readonly ChangeDraft[] {
  const root = memory.losses.response.nodeFor(a, b);
  const growing = memory.losses.response.failuresBelow(root).filter((pair) => (pair.localFailure?.members.length ?? 0) > 0);
  return growing.flatMap((pair) =>
    reportOnce(memory, pair, MEMBER, at, () => {
      const pointer = memory.losses.response.shortestPath(root, pair)?.pointer ?? '';
      return {
        ...newChange(at, MEMBER, 'risky', pair.a, pair.b),
        value: pointer,
        ...memberWords(pointer, pair.localFailure?.members[0]),
      };
    }),
  );
}
