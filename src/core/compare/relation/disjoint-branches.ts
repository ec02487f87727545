/** Unions of forms that are told apart: what one form loses is lost, whatever others still send. */

import { type Keywords, NO_KEYWORDS, type Schema } from '../../schema/model/schema.ts';
import { apart } from '../../schema/normalise/disjoint.ts';
import { unionWithin, type Within } from '../../schema/normalise/union-view.ts';
import { type FormPair, pairedForms } from '../../schema/subschema/match-branches.ts';

export interface ToldApart {
  /** Old forms with what they became, which no other new form could be. */
  readonly pairs: readonly FormPair[];
  /** What the old schema says besides. */
  readonly rest: Schema;
}

/** Undefined where there are no two such unions. Cost: the forms of one times those of the other. */
export function toldApart(a: Schema, b: Schema, side: 'request' | 'response'): ToldApart | undefined {
  const [old, now] = [unionWithin(a), unionWithin(b)];
  if (old === undefined || now === undefined) return undefined;
  const pairs = pairedForms(old.union.forms, now.union.forms, b, side, (form) => form).filter(
    (pair) => now.union.forms.includes(pair.b) && now.union.forms.every((form) => form === pair.b || apart(pair.a, form, side)),
  );
  if (pairs.length === 0) return undefined;
  const done = new Set(pairs.map((p) => p.a));
  return { pairs, rest: restOf(a, old, done) };
}

function restOf({ place }: Schema, { union, beside }: Within, done: ReadonlySet<Schema>): Schema {
  const left = union.forms.filter((f) => !done.has(f));
  const keywords: Keywords = { ...NO_KEYWORDS, allOf: beside, ...(left.length === 0 ? {} : { anyOf: left }) };
  return { place, raw: undefined, keywords: () => keywords };
}
