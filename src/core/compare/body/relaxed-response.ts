/** What a response sends that nobody was told of, by what let it through: a member, a bound, a property. */
import { brief } from '../../base/excerpt.ts';
import { isMapping, sameJson } from '../../base/json.ts';
import type { Schema } from '../../schema/model/schema.ts';
import { toDisjuncts } from '../../schema/normalise/flatten.ts';
import { validate } from '../../schema/validate/validate.ts';
import type { ChangeDraft } from '../changes/change.ts';
import type { RootCause } from '../relation/pair-flaw.ts';

const MOST_MEMBERS = 6;

/** Keywords that limit a value and don't say what it is. */
const BOUNDS = new Set([
  ...['minimum', 'maximum', 'exclusiveMinimum', 'exclusiveMaximum', 'minLength', 'maxLength'],
  ...['minItems', 'maxItems', 'minProperties', 'maxProperties'],
]);

const UNEXPECTED = {
  rule: 'versions/response-property-unexpected',
  advice: 'Send it in a new version, and declare answers as open.',
} as const;

/** The same change under the rule of its cause, where one cause explains all of it. O(size of the witness). */
export function widenedBy(
  { sent, taken, verdict }: Pick<RootCause, 'sent' | 'taken' | 'verdict'>,
  change: ChangeDraft,
): ChangeDraft {
  if (verdict.kind !== 'counterexample' || change.effect !== 'breaking') return change;
  const where = change.value === '' || change.value === null ? 'the body' : change.value;
  const members = newMembers(taken, sent);
  if (members.length > 0)
    return {
      ...change,
      rule: 'versions/response-member-added',
      message: memberText(where, members, taken),
      advice: 'Send it in a new version, or mark the enumeration as open (openEnumerations in the settings).',
    };
  // Under a name that a closed object doesn't declare nothing may stand.
  if (taken.keywords() === false && change.value !== '') return { ...change, ...UNEXPECTED };
  const wrong = validate(taken, verdict.witness, 'response', 'consumer');
  if (wrong.length === 0) return change;
  if (wrong.every((m) => BOUNDS.has(m.keyword))) return { ...change, rule: 'versions/response-bound-relaxed' };
  if (wrong.every((m) => m.keyword === 'additionalProperties' || m.keyword === 'unevaluatedProperties'))
    return { ...change, ...UNEXPECTED };
  return change;
}

/** What only the new enumeration has; nothing where more than that differs. */
function newMembers(old: Schema, now: Schema): readonly unknown[] {
  if (!isMapping(old.raw) || !isMapping(now.raw)) return [];
  const [a, ...others] = toDisjuncts(old, 2);
  const [b, ...more] = toDisjuncts(now, 2);
  if (a?.enum === undefined || b?.enum === undefined || others.length + more.length > 0) return [];
  const known = a.enum;
  return b.enum.filter((v) => !known.some((k) => sameJson(k, v)) && validate(now, v, 'response', 'producer').length === 0);
}

function memberText(where: string, members: readonly unknown[], taken: Schema): string {
  const before = toDisjuncts(taken, 1)[0]?.enum ?? [];
  return `${where} may now be ${inWords(members, 'or')}; allowed before: ${inWords(before, ',')}`;
}

/** A few values, and how many more there are. */
function inWords(values: readonly unknown[], join: 'or' | ','): string {
  const all = values.slice(0, MOST_MEMBERS).map((v) => brief(v, 40));
  const rest = values.length - all.length;
  if (rest > 0) return `${all.join(', ')} and ${rest} more`;
  const last = all.pop() as string;
  if (all.length === 0) return last;
  return join === ',' ? `${all.join(', ')}, ${last}` : `${all.join(', ')} or ${last}`;
}
