/** Drops failures of a branch that the other branches of the union accept (subsumption). */

import { dereference, type Schema } from '../../schema/model/schema.ts';
import type { Side } from '../../schema/model/side.ts';
import { asUnion } from '../../schema/normalise/union-view.ts';
import { isSubschema } from '../../schema/search/witness.ts';
import type { DependencyEdge, PairNode } from '../../schema/subschema/pair.ts';
import { producerBranchOfAnyOf } from '../../schema/subschema/sender-branch.ts';
import { isValid } from '../../schema/validate/validate.ts';
import { assumeProven, embedAlongPath } from './lift-witness.ts';
import type { ContainmentFailure, SideState, SubsumptionState } from './pair-flaw.ts';
import { reinstate } from './root-cause.ts';

/** So many forms are asked about in one direction; what more there are is taken to be refused where its parts are. */
const MOST_FORMS = 200;

export function newAbsorbing(): SubsumptionState {
  return { seen: new Set(), asked: new Set() };
}

/** Takes away the ways that lead through such forms, so that only those are told of a change who meet it. Each is asked once. */
export function dropSubsumedBranches(direction: SideState, root: PairNode<ContainmentFailure>, side: Side): void {
  const { web, absorbing, explained } = direction;
  for (;;) {
    const idle = subsumedBranches(direction, root, side);
    if (idle.length === 0) return;
    for (const { union, step } of idle) web.removeDependency(union, step);
    web.recomputeFixedPoint();
    reinstate(explained, web);
    absorbing.seen.clear();
  }
}

interface Form {
  readonly union: PairNode<ContainmentFailure>;
  readonly step: DependencyEdge<ContainmentFailure>;
}

function subsumedBranches(direction: SideState, root: PairNode<ContainmentFailure>, side: Side): readonly Form[] {
  const { seen, asked } = direction.absorbing;
  const out: Form[] = [];
  const queue = [root];
  for (const pair of queue) {
    if (!pair.isRefuted || seen.has(pair)) continue;
    seen.add(pair);
    for (const step of pair.dependencies) {
      queue.push(step.to);
      const isForm = step.pointer === '' && pair.twin === undefined && pair.group === undefined;
      if (!isForm || !step.to.isRefuted || asked.has(step) || asked.size >= MOST_FORMS) continue;
      asked.add(step);
      if (isSubsumed(direction, pair, step.to, side)) out.push({ union: pair, step });
    }
  }
  return out;
}

/** Most often what shows the form shows the union too, and nothing has to be looked for. */
function isSubsumed(
  { web, answers }: SideState,
  union: PairNode<ContainmentFailure>,
  form: PairNode<ContainmentFailure>,
  side: Side,
): boolean {
  const [reached] = web.nearestFailures(form, 1);
  const flaw = reached?.pair.localFailure;
  if (reached === undefined || flaw?.kind !== 'counterexample') return false;
  const whole = embedAlongPath(answers, reached, flaw.witness, side);
  if (whole.kind === 'whole' && !isValid(union.b, whole.value, side, 'consumer')) return false;
  return (
    isSubschema(asSent(union.a, form.a, side), union.b, side, 'producer', answers, assumeProven(web), 'little').kind ===
    'contained'
  );
}

/** A form of an `anyOf` may come with what others declare, which may be wrong together with it. */
function asSent(union: Schema, form: Schema, side: Side): Schema {
  const whole = asUnion(union);
  const written = whole?.exclusive === false ? whole.forms.find((f) => dereference(f) === form) : undefined;
  return whole === undefined || written === undefined
    ? form
    : (producerBranchOfAnyOf(union, whole.forms, side)?.(written) ?? form);
}
