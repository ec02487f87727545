/** Forms of which nothing is refused after all, because other forms of the union take it. */

import { type Schema, target } from '../../schema/model/schema.ts';
import type { Side } from '../../schema/model/side.ts';
import { unionOf } from '../../schema/normalise/union-view.ts';
import { inside } from '../../schema/search/witness.ts';
import type { Pair, PairStep } from '../../schema/subschema/pair.ts';
import { anyForm } from '../../schema/subschema/sender-branch.ts';
import { fits } from '../../schema/validate/validate.ts';
import { soundIn, wholeWith } from './lift-witness.ts';
import type { Absorbing, Direction, Flaw } from './pair-flaw.ts';
import { restore } from './root-cause.ts';

/** So many forms are asked about in one direction; what more there are is taken to be refused where its parts are. */
const MOST_FORMS = 200;

export function newAbsorbing(): Absorbing {
  return { seen: new Set(), asked: new Set() };
}

/** Takes away the ways that lead through such forms, so that only those are told of a change who meet it. Each is asked once. */
export function cutAbsorbed(direction: Direction, root: Pair<Flaw>, side: Side): void {
  const { web, absorbing, explained } = direction;
  for (;;) {
    const idle = idleForms(direction, root, side);
    if (idle.length === 0) return;
    for (const { union, step } of idle) web.cut(union, step);
    web.settle();
    restore(explained, web);
    absorbing.seen.clear();
  }
}

interface Form {
  readonly union: Pair<Flaw>;
  readonly step: PairStep<Flaw>;
}

function idleForms(direction: Direction, root: Pair<Flaw>, side: Side): readonly Form[] {
  const { seen, asked } = direction.absorbing;
  const out: Form[] = [];
  const queue = [root];
  for (const pair of queue) {
    if (!pair.fails || seen.has(pair)) continue;
    seen.add(pair);
    for (const step of pair.steps) {
      queue.push(step.to);
      const isForm = step.pointer === '' && pair.twin === undefined && pair.group === undefined;
      if (!isForm || !step.to.fails || asked.has(step) || asked.size >= MOST_FORMS) continue;
      asked.add(step);
      if (isAbsorbed(direction, pair, step.to, side)) out.push({ union: pair, step });
    }
  }
  return out;
}

/** Most often what shows the form shows the union too, and nothing has to be looked for. */
function isAbsorbed({ web, answers }: Direction, union: Pair<Flaw>, form: Pair<Flaw>, side: Side): boolean {
  const [reached] = web.nearestFlaws(form, 1);
  const flaw = reached?.pair.flaw;
  if (reached === undefined || flaw?.kind !== 'outside') return false;
  const whole = wholeWith(answers, reached, flaw.witness, side);
  if (whole.kind === 'whole' && !fits(union.b, whole.value, side, 'taken')) return false;
  return inside(asSent(union.a, form.a, side), union.b, side, 'sent', answers, soundIn(web), 'little').kind === 'inside';
}

/** A form of an `anyOf` may come with what others declare, which may be wrong together with it. */
function asSent(union: Schema, form: Schema, side: Side): Schema {
  const whole = unionOf(union);
  const written = whole?.exclusive === false ? whole.forms.find((f) => target(f) === form) : undefined;
  return whole === undefined || written === undefined ? form : (anyForm(union, whole.forms, side)?.(written) ?? form);
}
