/** A form of a value that is wrong makes the whole value wrong, and is one cause: it is told of the form alone. */

import type { Side } from '../../schema/model/side.ts';
import type { Pair } from '../../schema/subschema/pair.ts';
import type { Web } from '../../schema/subschema/pair-graph.ts';
import { fits } from '../../schema/validate/validate.ts';
import type { Explained, Flaw } from './pair-flaw.ts';

/** Forms that something was explained by: the value of each has to go on showing that. */
const claimed = new WeakSet<Pair<Flaw>>();

/** What was explained by a form that nobody has to meet after all is wrong by itself. The web has to be settled. */
export function restore(explained: Explained, web: Web<Flaw>): void {
  let any = false;
  for (const [pair, flaw] of explained) {
    if (pair.fails) continue;
    pair.flaw = flaw;
    explained.delete(pair);
    any = true;
  }
  if (any) web.settle();
}

/**
 * Takes away what is wrong with these where the same is wrong with a form of theirs, and a value shows both. The web has to
 * be settled. Tells whether there was any.
 */
export function explain(pairs: readonly Pair<Flaw>[], side: Side, web: Web<Flaw>, explained: Explained): boolean {
  let any = false;
  for (const pair of pairs) {
    const { flaw } = pair;
    if (flaw?.kind !== 'outside') continue;
    const form = formsOf(pair).find((q) => {
      // Nothing is wrong with it but what its parts are told of.
      if (q.flaw === undefined) return isTold(q, web, pair) && shows(q, flaw.witness, side);
      if (q.flaw.kind !== 'outside') return false;
      if (shows(pair, q.flaw.witness, side)) return true;
      if (claimed.has(q) || !shows(q, flaw.witness, side)) return false;
      q.flaw = flaw;
      return true;
    });
    if (form === undefined) continue;
    claimed.add(form);
    explained.set(pair, flaw);
    pair.flaw = undefined;
    any = true;
  }
  return any;
}

/** Is all that is wrong with its parts known, and another's, so that a value which shows it shows one of those? */
function isTold(form: Pair<Flaw>, web: Web<Flaw>, other: Pair<Flaw>): boolean {
  return form.fails && web.flaws(form).every((p) => p !== other && p.flaw?.kind === 'outside');
}

/** All pairs that speak of the same value below this one. */
function formsOf(pair: Pair<Flaw>): readonly Pair<Flaw>[] {
  const seen = new Set([pair]);
  for (const one of seen) for (const { pointer, to } of one.steps) if (pointer === '' && to.group === undefined) seen.add(to);
  seen.delete(pair);
  return [...seen];
}

function shows({ a, b }: Pair<Flaw>, value: unknown, side: Side): boolean {
  return fits(a, value, side, 'sent') && !fits(b, value, side, 'taken');
}
