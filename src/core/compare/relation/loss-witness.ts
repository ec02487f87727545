/** Whole bodies that show what changed. */
import { below } from '../../base/place.ts';
import { ANYTHING, type Schema } from '../../schema/model/schema.ts';
import { valueWith } from '../../schema/search/witness.ts';
import { plainWith } from '../../schema/search/witness-template.ts';
import { fits } from '../../schema/validate/validate.ts';
import type { ChangeWitness } from '../changes/change.ts';
import { wasCut, wholeWith, whyStuck, whyUnsent } from './lift-witness.ts';
import { type Loss, type LossWeb, wayToLoss } from './lost-properties.ts';
import type { Stopped } from './pair-flaw.ts';
import { blame, type Memory } from './session.ts';

export function valueWitness(
  side: 'request' | 'response',
  validUnder: 'old' | 'new',
  invalidUnder: 'old' | 'new',
  body: unknown,
): ChangeWitness {
  return { kind: 'value', side, validUnder, invalidUnder, body };
}

export function pointerOf(web: LossWeb, old: Schema, now: Schema, loss: Loss): string {
  return (wayToLoss(web, old, now, loss)?.pointer ?? '') + below('', loss.name);
}

/** A required property that is gone is one change: new responses lack it. */
export function lackWitness(memory: Memory, old: Schema, now: Schema, { pair }: Loss): ChangeWitness | undefined {
  const part = blame(memory, now, old, 'response').find((p) => p.sent === pair.b && p.taken === pair.a);
  const body = part?.body();
  return typeof body === 'object' && 'value' in body ? valueWitness('response', 'new', 'old', body.value) : undefined;
}

/** An old response that has what is lost; `never` where it could never come. */
export function lossWitness(memory: Memory, old: Schema, now: Schema, loss: Loss): ChangeWitness | 'never' | Stopped {
  const { answers } = memory.directions.response;
  const part =
    plainWith(loss.pair.a, loss.name, 'response', answers) ??
    valueWith(loss.pair.a, below('', loss.name), ANYTHING, 'response', answers);
  if (!('value' in part)) return part.kind === 'none' ? 'never' : part;
  for (;;) {
    const way = wayToLoss(memory.losses.response, old, now, loss);
    if (way === undefined) return 'never';
    const whole = wholeWith(answers, way, part.value, 'response');
    if (whole.kind === 'stuck') {
      if (wasCut(memory.losses.response, whole, 'response', answers)) continue;
      return whyStuck(whole, 'response', answers);
    }
    const [schema, value] = whole.held ? [loss.pair.a, part.value] : [old, whole.value];
    if (!fits(schema, value, 'response', 'sent')) return whyUnsent(schema, value, 'response');
    const lost = way.pointer + below('', loss.name);
    return { kind: 'value', side: 'response', validUnder: 'old', invalidUnder: 'new', body: whole.value, lost };
  }
}
