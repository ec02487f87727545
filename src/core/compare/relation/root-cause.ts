/** A form of a value that is wrong makes the whole value wrong, and is one cause: it is told of the form alone. */

import type { Side } from '../../schema/model/side.ts';
import type { PairNode } from '../../schema/subschema/pair.ts';
import type { PairGraph } from '../../schema/subschema/pair-graph.ts';
import { isValid } from '../../schema/validate/validate.ts';
import type { Attributions, ContainmentFailure } from './pair-flaw.ts';

/** Forms that something was explained by: the value of each has to go on showing that. */
const attributedTo = new WeakSet<PairNode<ContainmentFailure>>();

/** Reinstates failures whose explaining branch turned out to be subsumed. The web has to be settled. */
export function reinstate(explained: Attributions, web: PairGraph<ContainmentFailure>): void {
  let any = false;
  for (const [pair, flaw] of explained) {
    if (pair.isRefuted) continue;
    pair.localFailure = flaw;
    explained.delete(pair);
    any = true;
  }
  if (any) web.recomputeFixedPoint();
}

/**
 * Takes away what is wrong with these where the same is wrong with a form of theirs, and a value shows both. The web has to
 * be settled. Tells whether there was any.
 */
export function attributeToBranch(
  pairs: readonly PairNode<ContainmentFailure>[],
  side: Side,
  web: PairGraph<ContainmentFailure>,
  explained: Attributions,
): boolean {
  let any = false;
  for (const pair of pairs) {
    const { localFailure } = pair;
    if (localFailure?.kind !== 'counterexample') continue;
    const form = formsOf(pair).find((q) => {
      // Nothing is wrong with it but what its parts are told of.
      if (q.localFailure === undefined) return isTold(q, web, pair) && isCounterexample(q, localFailure.witness, side);
      if (q.localFailure.kind !== 'counterexample') return false;
      if (isCounterexample(pair, q.localFailure.witness, side)) return true;
      if (attributedTo.has(q) || !isCounterexample(q, localFailure.witness, side)) return false;
      q.localFailure = localFailure;
      return true;
    });
    if (form === undefined) continue;
    attributedTo.add(form);
    explained.set(pair, localFailure);
    pair.localFailure = undefined;
    any = true;
  }
  return any;
}

/** Is all that is wrong with its parts known, and another's, so that a value which shows it shows one of those? */
function isTold(
  form: PairNode<ContainmentFailure>,
  web: PairGraph<ContainmentFailure>,
  other: PairNode<ContainmentFailure>,
): boolean {
  return form.isRefuted && web.failuresBelow(form).every((p) => p !== other && p.localFailure?.kind === 'counterexample');
}

/** All pairs that speak of the same value below this one. */
function formsOf(pair: PairNode<ContainmentFailure>): readonly PairNode<ContainmentFailure>[] {
  const seen = new Set([pair]);
  for (const one of seen)
    for (const { pointer, to } of one.dependencies) if (pointer === '' && to.group === undefined) seen.add(to);
  seen.delete(pair);
  return [...seen];
}

function isCounterexample({ a, b }: PairNode<ContainmentFailure>, value: unknown, side: Side): boolean {
  return isValid(a, value, side, 'producer') && !isValid(b, value, side, 'consumer');
}
