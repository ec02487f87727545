/** Bodies of one media type, old and new. */
import type { Media } from '../../contract/model/contract.ts';
import { compareText, isTextEqual } from '../../schema/equality/equal-pairs.ts';
import { dereference, type Schema, TRUE_SCHEMA } from '../../schema/model/schema.ts';
import { CONTAINED, type Containment } from '../../schema/search/witness.ts';
import { addAffectedIfReported, isReported, reportForClass, reportOnce } from '../changes/cause-log.ts';
import { type Affected, type ChangeDraft, newChange } from '../changes/change.ts';
import { breakingMessage, WHOLE_BODY } from '../changes/messages.ts';
import type { ChangeRuleId } from '../changes/rules/index.ts';
import { equivalentBodies } from '../relation/equal-impact.ts';
import { pointerOf, valueWitness } from '../relation/loss-witness.ts';
import { causeOf, type LocatedLoss, type LossGraph, losses, lossWords, pathToLoss } from '../relation/lost-properties.ts';
import type { RootCause } from '../relation/pair-flaw.ts';
import { isEmptySchema } from '../relation/possible-properties.ts';
import { type ComparisonSession, containment, rootCauses, wasReported } from '../relation/session.ts';
import { annotationChanges } from './annotation-changes.ts';
import { isForm, isTextCompatible } from './form-bodies.ts';
import { memberChanges, openChange } from './open-enumerations.ts';
import { widenedBy } from './relaxed-response.ts';
import { isReportedAsLost, lossKind, lostChanges, notShownReason } from './removed-properties.ts';
import { insideOf, shapeChange } from './shape-changes.ts';

const NARROWED = 'versions/request-narrowed';
const WIDENED = 'versions/response-widened';

const UNSENDABLE = 'versions/response-unsendable';
const TAKES_MORE: CompatibleMessage = {
  rule: 'versions/request-widened',
  message: 'more values are accepted than before',
  unsure: 'rewritten; it may accept more values than before (not decided which)',
};

/** How something compatible is said. */
interface CompatibleMessage {
  readonly rule: ChangeRuleId;
  readonly message: string;
  readonly unsure: string;
}

/** Where nothing is said of JSON or of a form, anything may stand there; other types have no values to compare. */
function schemaOf({ schema, type, place }: Media): Schema | undefined {
  if (schema !== undefined) return schema;
  return /[/+]json\b|x-www-form-urlencoded/iu.test(type) ? { ...TRUE_SCHEMA, place } : undefined;
}

/** Operations share many of their bodies, and of the others many lead to the same. */
function bodyChanges(
  memory: ComparisonSession,
  old: Media,
  now: Media,
  at: Affected,
  side: 'request' | 'response',
  make: (memory: ComparisonSession, a: Schema, b: Schema, at: Affected) => readonly ChangeDraft[],
): readonly ChangeDraft[] {
  const [x, y] = [schemaOf(old), schemaOf(now)];
  if (x === undefined || y === undefined) return [];
  const [a, b] = [dereference(x), dereference(y)];
  if (isTextEqual(a, b)) return [];
  if (isEmptySchema(side === 'request' ? a : b, side)) return unsatisfiableBodyChanges(memory, a, b, at, side);
  const alike = equivalentBodies(memory, a, b, side);
  const changes = (): readonly ChangeDraft[] => [...make(memory, a, b, at), ...annotationChanges(memory, a, b, at, side)];
  return alike === undefined || isForm(at)
    ? changes()
    : reportForClass(memory, alike.classKey, side, at, alike.isNotShared, changes);
}

/** Of bodies that nobody sends, whatever could be wrong with their parts. */
function unsatisfiableBodyChanges(
  memory: ComparisonSession,
  a: Schema,
  b: Schema,
  at: Affected,
  side: 'request' | 'response',
): readonly ChangeDraft[] {
  if (isEmptySchema(side === 'request' ? b : a, side)) return [];
  if (side === 'request') return narrowedChanges(memory, b, a, at, side, TAKES_MORE);
  return reportOnce(memory, compareText(a, b), UNSENDABLE, at, () => ({
    ...newChange(at, UNSENDABLE, 'risky', a, b),
    value: '',
    message: 'no body can be sent any more: nothing fits what is documented now',
    advice: 'Fix the schema: some of its parts exclude each other.',
  }));
}

/** A request: what old clients send has to be taken. */
export function requestChanges(memory: ComparisonSession, old: Media, now: Media, at: Affected): readonly ChangeDraft[] {
  return bodyChanges(memory, old, now, at, 'request', requestBodyChanges);
}

function requestBodyChanges(memory: ComparisonSession, a: Schema, b: Schema, at: Affected): readonly ChangeDraft[] {
  const form = isForm(at);
  if (!form && wasReported(memory, { sent: a, taken: b, side: 'request' }, NARROWED, at)) return [];
  const verdict = containment(memory, a, b, 'request');
  const named = verdict.kind === 'counterexample' ? shapeChange(memory, a, b, at, 'request') : undefined;
  if (named !== undefined)
    return [named.made, ...insideOf(named.inner, 'request', (x, y) => requestBodyChanges(memory, x, y, at))];
  if (verdict.kind !== 'contained') {
    const broken = blamedChanges(memory, a, b, at, 'request', form ? isTextCompatible : undefined);
    if (!form || broken.length > 0) return broken;
  }
  const ignored = losses(memory.losses.request, a, b);
  const ignoredKey = (l: LocatedLoss): string => `ignored ${l.name}`;
  if (addAffectedIfReported(memory, ignored, ignoredKey, 'ignored', at, causeOf)) return [];
  if (ignored.length > 0)
    return ignored.flatMap((l) =>
      reportOnce(memory, causeOf(l), ignoredKey(l), at, () =>
        // What nobody could send isn't ignored.
        pathToLoss(memory.losses.request, a, b, l)?.path.some((spot) => isEmptySchema(spot.a, 'request')) === true
          ? undefined
          : {
              ...newChange(at, 'versions/request-property-ignored', 'risky', causeOf(l).a, causeOf(l).b),
              ...lossMessage(
                memory.losses.request,
                a,
                b,
                l,
                (words) => `clients may keep sending ${words}, and it is no longer read`,
              ),
              advice: `Keep ${l.name} until clients no longer send it.`,
            },
      ),
    );
  return narrowedChanges(memory, b, a, at, 'request', TAKES_MORE);
}

/** A response: what the new server sends has to be what clients were told, and what they could read has to come still. */
export function responseChanges(memory: ComparisonSession, old: Media, now: Media, at: Affected): readonly ChangeDraft[] {
  return bodyChanges(memory, old, now, at, 'response', responseBodyChanges);
}

function responseBodyChanges(memory: ComparisonSession, a: Schema, b: Schema, at: Affected): readonly ChangeDraft[] {
  const lost = losses(memory.losses.response, a, b);
  const same = isReportedAsLost(memory, lost);
  const before =
    isReported(memory, lost, lossKind, 'lost', causeOf) &&
    wasReported(memory, { sent: b, taken: a, side: 'response' }, WIDENED, at, {
      but: lost.length === 0 ? undefined : same,
    });
  const verdict: Containment = before ? CONTAINED : containment(memory, b, a, 'response');
  const named =
    verdict.kind === 'counterexample' || (lost.length > 0 && !before) ? shapeChange(memory, a, b, at, 'response') : undefined;
  if (named !== undefined)
    return [named.made, ...insideOf(named.inner, 'response', (x, y) => responseBodyChanges(memory, x, y, at))];
  const gone = lostChanges(memory, lost, a, b, at);
  const widened = verdict.kind === 'contained' ? [] : blamedChanges(memory, b, a, at, 'response', same);
  if (before || lost.length > 0 || verdict.kind !== 'contained') return [...gone, ...widened];
  const members = memberChanges(memory, a, b, at);
  const more = losses(memory.losses.response, b, a);
  const moreKey = (m: LocatedLoss): string => `added ${m.name}`;
  if (members.length === 0 && addAffectedIfReported(memory, more, moreKey, 'added', at, causeOf)) return [];
  if (more.length > 0 || members.length > 0)
    return [
      ...members,
      ...more.flatMap((m) =>
        reportOnce(memory, causeOf(m), moreKey(m), at, () => ({
          ...newChange(at, 'versions/response-property-added', 'compatible', causeOf(m).b, causeOf(m).a),
          ...lossMessage(memory.losses.response, b, a, m, (words) => `${words} may now be returned`),
        })),
      ),
    ];
  return narrowedChanges(memory, a, b, at, 'response', {
    rule: 'versions/response-narrowed',
    message: 'fewer values are returned than before, or more is declared',
    unsure: 'rewritten; it may return fewer values (not decided which)',
  });
}

/** Compatible: one side says more than the other, told where it is said. */
function narrowedChanges(
  memory: ComparisonSession,
  sent: Schema,
  taken: Schema,
  at: Affected,
  side: 'request' | 'response',
  { rule, message, unsure }: CompatibleMessage,
): readonly ChangeDraft[] {
  if (wasReported(memory, { sent, taken, side }, rule, at, { effort: memory.advisoryBudget })) return [];
  return rootCauses(memory, sent, taken, side, memory.advisoryBudget).flatMap((part) => {
    const [old, now] = side === 'request' ? [part.taken, part.sent] : [part.sent, part.taken];
    return reportOnce(memory, part.cause, rule, at, () => {
      const value = part.pointer();
      const where = value === '' ? '' : `${value}: `;
      const base = { ...newChange(at, rule, 'compatible', old, now), value };
      // That nothing breaks is decided; whether anything else changed is what was left open.
      return part.verdict.kind === 'undecided'
        ? { ...base, message: where + unsure, undecided: part.verdict.why }
        : { ...base, message: where + message };
    });
  });
}

function blamedChanges(
  memory: ComparisonSession,
  whole: Schema,
  other: Schema,
  at: Affected,
  side: 'request' | 'response',
  but: (part: RootCause) => boolean = () => false,
): readonly ChangeDraft[] {
  const rule = side === 'request' ? NARROWED : WIDENED;
  return rootCauses(memory, whole, other, side)
    .filter((part) => !but(part))
    .flatMap((part) =>
      reportOnce(memory, part.cause, rule, at, () => {
        const change = blamedChange(part, rule, at, side);
        return change === undefined || side === 'request'
          ? change
          : (openChange(memory, part, change) ?? widenedBy(part, change));
      }),
    );
}

/** Where a loss stands, and a sentence about it. */
function lossMessage(
  web: LossGraph,
  a: Schema,
  b: Schema,
  loss: LocatedLoss,
  say: (words: string) => string,
): Pick<ChangeDraft, 'value' | 'message'> {
  const value = pointerOf(web, a, b, loss);
  return { value, message: say(lossWords(loss, value)) };
}

function blamedChange(part: RootCause, rule: ChangeRuleId, at: Affected, side: 'request' | 'response'): ChangeDraft | undefined {
  const { verdict } = part;
  const body = part.body();
  if (body === 'never') return undefined;
  const pointer = part.pointer();
  const [old, now] = side === 'request' ? [part.sent, part.taken] : [part.taken, part.sent];
  const where = pointer === '' ? WHOLE_BODY : pointer;
  const undecided = (why: string): ChangeDraft => ({
    ...newChange(at, rule, 'undecided', old, now),
    value: pointer,
    message: `whether ${where} still fits could not be decided`,
    undecided: why,
  });
  if (verdict.kind === 'undecided') return undecided(verdict.why);
  if ('why' in body) return undecided(notShownReason(body));
  return {
    ...newChange(at, rule, 'breaking', old, now),
    value: pointer,
    message: breakingMessage(where, part, verdict.witness, side),
    advice:
      side === 'request'
        ? 'Keep accepting what was documented; make new properties optional.'
        : 'Send only what was documented, or give the new form a version of its own.',
    witness:
      side === 'request' ? valueWitness('request', 'old', 'new', body.value) : valueWitness('response', 'new', 'old', body.value),
  };
}
