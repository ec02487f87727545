/** Which branches of a `oneOf` match, by who reads it. */

import type { Schema } from '../model/schema.ts';
import type { Semantics } from '../model/side.ts';
import { type DeclaredNames, isWithinDeclared } from '../normalise/declared-names.ts';
import type { EvaluationContext } from './validation.ts';

/** Who sends a value sends nothing that a taker would take for what it must not be. */
export function asNegation(judge: EvaluationContext): EvaluationContext {
  return probe(judge, judge.semantics === 'producer' ? 'consumer' : judge.semantics);
}

/** Whether it fits is enough. */
function probe(judge: EvaluationContext, semantics: Semantics): EvaluationContext {
  return { ...judge, semantics, failFast: true, tracksEvaluated: false };
}

interface Tried {
  readonly ok: boolean;
}

/** The branches that count: none of several that a sender could mean, each closed; else a receiver takes what fits any. */
export function matchingBranches<T extends Tried>(
  judge: EvaluationContext,
  members: readonly Schema[],
  tries: readonly T[],
  value: unknown,
  attempt: (judge: EvaluationContext, schema: Schema, value: unknown) => Tried,
): readonly T[] {
  const form = (t: T): Schema => members[tries.indexOf(t)] as Schema;
  const beside = (): DeclaredNames => judge.beside.namesFor(judge.semantics === 'producer' ? 'producer' : 'consumer');
  const closed = (t: T): boolean => isWithinDeclared(form(t), value, beside);
  const open = tries.filter((t) => t.ok);
  if (judge.semantics === 'producer') {
    const meant = open.filter(closed);
    const could = (t: T): boolean => !t.ok && closed(t) && attempt(asNegation(judge), form(t), value).ok;
    return meant.length === 1 && tries.some(could) ? [] : meant;
  }
  const sure = open.filter(closed);
  const meant = sure.length < 2 ? [] : sure.filter((t) => attempt(probe(judge, 'producer'), form(t), value).ok);
  return meant.length > 1 ? meant : open.slice(0, 1);
}
