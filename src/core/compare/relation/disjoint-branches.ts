/** Unions of forms that are told apart: what one form loses is lost, whatever others still send. */

import { EMPTY_KEYWORDS, type Keywords, type Schema } from '../../schema/model/schema.ts';
import { isObviouslyDisjoint } from '../../schema/normalise/disjoint.ts';
import { type EmbeddedUnion, findUnion } from '../../schema/normalise/union-view.ts';
import { type FormPair, matchBranches } from '../../schema/subschema/match-branches.ts';

export interface DisjointBranches {
  /** Old forms with what they became, which no other new form could be. */
  readonly pairs: readonly FormPair[];
  /** What the old schema says besides. */
  readonly rest: Schema;
}

/** Undefined where there are no two such unions. Cost: the forms of one times those of the other. */
export function pairDisjointBranches(a: Schema, b: Schema, side: 'request' | 'response'): DisjointBranches | undefined {
  const [old, now] = [findUnion(a), findUnion(b)];
  if (old === undefined || now === undefined) return undefined;
  const pairs = matchBranches(old.union.forms, now.union.forms, b, side, (form) => form).filter(
    (pair) =>
      now.union.forms.includes(pair.b) &&
      now.union.forms.every((form) => form === pair.b || isObviouslyDisjoint(pair.a, form, side)),
  );
  if (pairs.length === 0) return undefined;
  const done = new Set(pairs.map((p) => p.a));
  return { pairs, rest: restOf(a, old, done) };
}

function restOf({ place }: Schema, { union, beside }: EmbeddedUnion, done: ReadonlySet<Schema>): Schema {
  const left = union.forms.filter((f) => !done.has(f));
  const keywords: Keywords = { ...EMPTY_KEYWORDS, allOf: beside, ...(left.length === 0 ? {} : { anyOf: left }) };
  return { place, raw: undefined, keywords: () => keywords };
}
