/** Whole bodies that show what changed. */
import { appendPointer } from '../../base/place.ts';
import { type Schema, TRUE_SCHEMA } from '../../schema/model/schema.ts';
import { findValueWithSubvalue } from '../../schema/search/witness.ts';
import { simpleValueWith } from '../../schema/search/witness-template.ts';
import { isValid } from '../../schema/validate/validate.ts';
import type { ChangeWitness } from '../changes/change.ts';
import { blockedReason, embedAlongPath, invalidReason, pruneInfeasible } from './lift-witness.ts';
import { type LocatedLoss, type LossGraph, pathToLoss } from './lost-properties.ts';
import type { NotShown } from './pair-flaw.ts';
import { type ComparisonSession, rootCauses } from './session.ts';

export function valueWitness(
  side: 'request' | 'response',
  validUnder: 'old' | 'new',
  invalidUnder: 'old' | 'new',
  body: unknown,
): ChangeWitness {
  return { kind: 'value', side, validUnder, invalidUnder, body };
}

export function pointerOf(web: LossGraph, old: Schema, now: Schema, loss: LocatedLoss): string {
  return (pathToLoss(web, old, now, loss)?.pointer ?? '') + appendPointer('', loss.name);
}

/** A required property that is gone is one change: new responses lack it. */
export function missingPropertyWitness(
  memory: ComparisonSession,
  old: Schema,
  now: Schema,
  { pair }: LocatedLoss,
): ChangeWitness | undefined {
  const part = rootCauses(memory, now, old, 'response').find((p) => p.sent === pair.b && p.taken === pair.a);
  const body = part?.body();
  return typeof body === 'object' && 'value' in body ? valueWitness('response', 'new', 'old', body.value) : undefined;
}

/** An old response that has what is lost; `never` where it could never come. */
export function lossWitness(
  memory: ComparisonSession,
  old: Schema,
  now: Schema,
  loss: LocatedLoss,
): ChangeWitness | 'never' | NotShown {
  const { answers } = memory.directions.response;
  const part =
    simpleValueWith(loss.pair.a, loss.name, 'response', answers) ??
    findValueWithSubvalue(loss.pair.a, appendPointer('', loss.name), TRUE_SCHEMA, 'response', answers);
  if (!('value' in part)) return part.kind === 'none' ? 'never' : part;
  for (;;) {
    const way = pathToLoss(memory.losses.response, old, now, loss);
    if (way === undefined) return 'never';
    const whole = embedAlongPath(answers, way, part.value, 'response');
    if (whole.kind === 'stuck') {
      if (pruneInfeasible(memory.losses.response, whole, 'response', answers)) continue;
      return blockedReason(whole, 'response', answers);
    }
    const [schema, value] = whole.isValidByConstruction ? [loss.pair.a, part.value] : [old, whole.value];
    if (!isValid(schema, value, 'response', 'producer')) return invalidReason(schema, value, 'response');
    const lost = way.pointer + appendPointer('', loss.name);
    return { kind: 'value', side: 'response', validUnder: 'old', invalidUnder: 'new', body: whole.value, lost };
  }
}
