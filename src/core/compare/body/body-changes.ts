/** Bodies of one media type, old and new. */
import type { Media } from '../../contract/model/contract.ts';
import { sameText, twinOf } from '../../schema/equality/equal-pairs.ts';
import { ANYTHING, type Schema, target } from '../../schema/model/schema.ts';
import { INSIDE, type Verdict } from '../../schema/search/witness.ts';
import { tell, tellTogether, touchedBefore, wasTold } from '../changes/cause-log.ts';
import { type Affected, type Made, plain } from '../changes/change.ts';
import { breakingText, WHOLE } from '../changes/messages.ts';
import type { ChangeRuleId } from '../changes/rules/index.ts';
import { alikeWith } from '../relation/equal-impact.ts';
import { pointerOf, valueWitness } from '../relation/loss-witness.ts';
import { causeOf, type Loss, type LossWeb, losses, lossWords, wayToLoss } from '../relation/lost-properties.ts';
import type { Blamed } from '../relation/pair-flaw.ts';
import { isNever } from '../relation/possible-properties.ts';
import { blame, decided, type Memory, toldBefore } from '../relation/session.ts';
import { quietChanges } from './annotation-changes.ts';
import { isForm, isHeldAsText } from './form-bodies.ts';
import { memberChanges, openChange } from './open-enumerations.ts';
import { widenedBy } from './relaxed-response.ts';
import { alreadyLost, lostChanges, lostKey, unshown } from './removed-properties.ts';
import { insideOf, shapeChange } from './shape-changes.ts';

const NARROWED = 'versions/request-narrowed';
const WIDENED = 'versions/response-widened';

const UNSENDABLE = 'versions/response-unsendable';
const TAKES_MORE: Said = {
  rule: 'versions/request-widened',
  message: 'more values are accepted than before',
  unsure: 'rewritten; it may accept more values than before (not decided which)',
};

/** How something compatible is said. */
interface Said {
  readonly rule: ChangeRuleId;
  readonly message: string;
  readonly unsure: string;
}

/** Where nothing is said of JSON or of a form, anything may stand there; other types have no values to compare. */
function schemaOf({ schema, type, place }: Media): Schema | undefined {
  if (schema !== undefined) return schema;
  return /[/+]json\b|x-www-form-urlencoded/iu.test(type) ? { ...ANYTHING, place } : undefined;
}

/** Operations share many of their bodies, and of the others many lead to the same. */
function bodyChanges(
  memory: Memory,
  old: Media,
  now: Media,
  at: Affected,
  side: 'request' | 'response',
  make: (memory: Memory, a: Schema, b: Schema, at: Affected) => readonly Made[],
): readonly Made[] {
  const [x, y] = [schemaOf(old), schemaOf(now)];
  if (x === undefined || y === undefined) return [];
  const [a, b] = [target(x), target(y)];
  if (sameText(a, b)) return [];
  if (isNever(side === 'request' ? a : b, side)) return unsentChanges(memory, a, b, at, side);
  const alike = alikeWith(memory, a, b, side);
  const changes = (): readonly Made[] => [...make(memory, a, b, at), ...quietChanges(memory, a, b, at, side)];
  return alike === undefined || isForm(at) ? changes() : tellTogether(memory, alike.those, side, at, alike.isOwn, changes);
}

/** Of bodies that nobody sends, whatever could be wrong with their parts. */
function unsentChanges(memory: Memory, a: Schema, b: Schema, at: Affected, side: 'request' | 'response'): readonly Made[] {
  if (isNever(side === 'request' ? b : a, side)) return [];
  if (side === 'request') return narrowedChanges(memory, b, a, at, side, TAKES_MORE);
  return tell(memory, twinOf(a, b), UNSENDABLE, at, () => ({
    ...plain(at, UNSENDABLE, 'risky', a, b),
    value: '',
    message: 'no body can be sent any more: nothing fits what is documented now',
    advice: 'Fix the schema: some of its parts exclude each other.',
  }));
}

/** A request: what old clients send has to be taken. */
export function requestChanges(memory: Memory, old: Media, now: Media, at: Affected): readonly Made[] {
  return bodyChanges(memory, old, now, at, 'request', requestBodyChanges);
}

function requestBodyChanges(memory: Memory, a: Schema, b: Schema, at: Affected): readonly Made[] {
  const form = isForm(at);
  if (!form && toldBefore(memory, { sent: a, taken: b, side: 'request' }, NARROWED, at)) return [];
  const verdict = decided(memory, a, b, 'request');
  const named = verdict.kind === 'outside' ? shapeChange(memory, a, b, at, 'request') : undefined;
  if (named !== undefined)
    return [named.made, ...insideOf(named.inner, 'request', (x, y) => requestBodyChanges(memory, x, y, at))];
  if (verdict.kind !== 'inside') {
    const broken = blamedChanges(memory, a, b, at, 'request', form ? isHeldAsText : undefined);
    if (!form || broken.length > 0) return broken;
  }
  const ignored = losses(memory.losses.request, a, b);
  const ignoredKey = (l: Loss): string => `ignored ${l.name}`;
  if (touchedBefore(memory, ignored, ignoredKey, 'ignored', at, causeOf)) return [];
  if (ignored.length > 0)
    return ignored.flatMap((l) =>
      tell(memory, causeOf(l), ignoredKey(l), at, () =>
        // What nobody could send isn't ignored.
        wayToLoss(memory.losses.request, a, b, l)?.path.some((spot) => isNever(spot.a, 'request')) === true
          ? undefined
          : {
              ...plain(at, 'versions/request-property-ignored', 'risky', causeOf(l).a, causeOf(l).b),
              ...wordsFor(
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
export function responseChanges(memory: Memory, old: Media, now: Media, at: Affected): readonly Made[] {
  return bodyChanges(memory, old, now, at, 'response', responseBodyChanges);
}

function responseBodyChanges(memory: Memory, a: Schema, b: Schema, at: Affected): readonly Made[] {
  const lost = losses(memory.losses.response, a, b);
  const same = alreadyLost(memory, lost);
  const before =
    wasTold(memory, lost, lostKey, 'lost', causeOf) &&
    toldBefore(memory, { sent: b, taken: a, side: 'response' }, WIDENED, at, {
      but: lost.length === 0 ? undefined : same,
    });
  const verdict: Verdict = before ? INSIDE : decided(memory, b, a, 'response');
  const named =
    verdict.kind === 'outside' || (lost.length > 0 && !before) ? shapeChange(memory, a, b, at, 'response') : undefined;
  if (named !== undefined)
    return [named.made, ...insideOf(named.inner, 'response', (x, y) => responseBodyChanges(memory, x, y, at))];
  const gone = lostChanges(memory, lost, a, b, at);
  const widened = verdict.kind === 'inside' ? [] : blamedChanges(memory, b, a, at, 'response', same);
  if (before || lost.length > 0 || verdict.kind !== 'inside') return [...gone, ...widened];
  const members = memberChanges(memory, a, b, at);
  const more = losses(memory.losses.response, b, a);
  const moreKey = (m: Loss): string => `added ${m.name}`;
  if (members.length === 0 && touchedBefore(memory, more, moreKey, 'added', at, causeOf)) return [];
  if (more.length > 0 || members.length > 0)
    return [
      ...members,
      ...more.flatMap((m) =>
        tell(memory, causeOf(m), moreKey(m), at, () => ({
          ...plain(at, 'versions/response-property-added', 'compatible', causeOf(m).b, causeOf(m).a),
          ...wordsFor(memory.losses.response, b, a, m, (words) => `${words} may now be returned`),
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
  memory: Memory,
  sent: Schema,
  taken: Schema,
  at: Affected,
  side: 'request' | 'response',
  { rule, message, unsure }: Said,
): readonly Made[] {
  if (toldBefore(memory, { sent, taken, side }, rule, at, { effort: memory.brief })) return [];
  return blame(memory, sent, taken, side, memory.brief).flatMap((part) => {
    const [old, now] = side === 'request' ? [part.taken, part.sent] : [part.sent, part.taken];
    return tell(memory, part.cause, rule, at, () => {
      const value = part.pointer();
      const where = value === '' ? '' : `${value}: `;
      const base = { ...plain(at, rule, 'compatible', old, now), value };
      // That nothing breaks is decided; whether anything else changed is what was left open.
      return part.verdict.kind === 'undecided'
        ? { ...base, message: where + unsure, undecided: part.verdict.why }
        : { ...base, message: where + message };
    });
  });
}

function blamedChanges(
  memory: Memory,
  whole: Schema,
  other: Schema,
  at: Affected,
  side: 'request' | 'response',
  but: (part: Blamed) => boolean = () => false,
): readonly Made[] {
  const rule = side === 'request' ? NARROWED : WIDENED;
  return blame(memory, whole, other, side)
    .filter((part) => !but(part))
    .flatMap((part) =>
      tell(memory, part.cause, rule, at, () => {
        const change = blamedChange(part, rule, at, side);
        return change === undefined || side === 'request'
          ? change
          : (openChange(memory, part, change) ?? widenedBy(part, change));
      }),
    );
}

/** Where a loss stands, and a sentence about it. */
function wordsFor(
  web: LossWeb,
  a: Schema,
  b: Schema,
  loss: Loss,
  say: (words: string) => string,
): Pick<Made, 'value' | 'message'> {
  const value = pointerOf(web, a, b, loss);
  return { value, message: say(lossWords(loss, value)) };
}

function blamedChange(part: Blamed, rule: ChangeRuleId, at: Affected, side: 'request' | 'response'): Made | undefined {
  const { verdict } = part;
  const body = part.body();
  if (body === 'never') return undefined;
  const pointer = part.pointer();
  const [old, now] = side === 'request' ? [part.sent, part.taken] : [part.taken, part.sent];
  const where = pointer === '' ? WHOLE : pointer;
  const undecided = (why: string): Made => ({
    ...plain(at, rule, 'undecided', old, now),
    value: pointer,
    message: `whether ${where} still fits could not be decided`,
    undecided: why,
  });
  if (verdict.kind === 'undecided') return undecided(verdict.why);
  if ('why' in body) return undecided(unshown(body));
  return {
    ...plain(at, rule, 'breaking', old, now),
    value: pointer,
    message: breakingText(where, part, verdict.witness, side),
    advice:
      side === 'request'
        ? 'Keep accepting what was documented; make new properties optional.'
        : 'Send only what was documented, or give the new form a version of its own.',
    witness:
      side === 'request' ? valueWitness('request', 'old', 'new', body.value) : valueWitness('response', 'new', 'old', body.value),
  };
}
