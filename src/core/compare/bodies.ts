/** Bodies of one media type, old and new. */

import { bareName, propertiesOf, wrapperOf } from '../contract/life.ts';
import type { Media } from '../contract/model.ts';
import { below } from '../place.ts';
import { fits } from '../schema/fits.ts';
import { flat } from '../schema/flat.ts';
import { INSIDE, type Verdict, valueIn, valueWith } from '../schema/inside.ts';
import { ANYTHING, type Schema } from '../schema/node.ts';
import { sameText } from '../schema/same.ts';
import type { Affected, Change, ChangeWitness } from './change.ts';
import { type Loss, losses, wayToLoss } from './losses.ts';
import { type Blamed, blame, decided, type Memory, tell, toldBefore, wasCut, wholeWith } from './memory.ts';

type Made = Omit<Change, 'affects'>;

const NARROWED = 'versions/request-narrowed';
const WIDENED = 'versions/response-widened';

function lostKey({ name }: Loss): string {
  return `lost ${name}`;
}

/** A request: what old clients send has to be taken. */
export function requestChanges(memory: Memory, old: Media, now: Media, at: Affected): readonly Made[] {
  const [a, b] = [old.schema, now.schema];
  if (a === undefined || b === undefined || sameText(a, b)) return [];
  if (toldBefore(memory, { sent: a, taken: b, side: 'request' }, NARROWED, at, () => false)) return [];
  const verdict = decided(memory, a, b, 'request');
  const named = verdict.kind === 'outside' ? shapeChange(memory, a, b, at, 'request') : undefined;
  if (named !== undefined) return [named];
  if (verdict.kind !== 'inside') return blamedChanges(memory, a, b, at, 'request');
  const ignored = losses(memory.losses, a, b);
  if (ignored.length > 0)
    return ignored.flatMap((l) =>
      tell(memory, l.pair, `ignored ${l.name}`, at, () => ({
        ...plain(at, 'versions/request-property-ignored', 'risky', l.pair.a, l.pair.b),
        value: pointerOf(memory, a, b, l),
        message: `clients may go on sending ${l.name}, and it is no longer read`,
        advice: `Keep ${l.name} until clients have stopped to send it.`,
      })),
    );
  return narrowedChanges(memory, b, a, at, 'request', {
    rule: 'versions/request-widened',
    message: 'more is taken than before',
  });
}

/** A response: what the new server sends has to be what clients were told, and what they could read has to come still. */
export function responseChanges(memory: Memory, old: Media, now: Media, at: Affected): readonly Made[] {
  const [a, b] = [old.schema, now.schema];
  if (a === undefined || b === undefined || sameText(a, b)) return [];
  const lost = losses(memory.losses, a, b);
  const same = (part: Pick<Blamed, 'sent' | 'taken'>): boolean =>
    lost.some((l) => l.required && part.sent === l.pair.b && part.taken === l.pair.a);
  const before =
    lost.every((l) => memory.told.get(l.pair)?.has(lostKey(l)) === true) &&
    toldBefore(memory, { sent: b, taken: a, side: 'response' }, WIDENED, at, same);
  const verdict: Verdict = before ? INSIDE : decided(memory, b, a, 'response');
  const named =
    verdict.kind === 'outside' || (lost.length > 0 && !before) ? shapeChange(memory, a, b, at, 'response') : undefined;
  if (named !== undefined) return [named];
  const gone = lost.flatMap((l) =>
    tell(memory, l.pair, lostKey(l), at, () => {
      const witness = (l.required ? lackWitness(memory, a, b, l) : undefined) ?? lossWitness(memory, a, b, l);
      // What could never come isn't lost.
      if (witness === undefined) return undefined;
      return {
        ...plain(at, 'versions/response-property-lost', 'breaking', l.pair.a, l.pair.b),
        value: pointerOf(memory, a, b, l),
        message: `${l.name} can never come any more`,
        advice: `Go on sending ${l.name} until clients have stopped to read it.`,
        witness,
      };
    }),
  );
  const widened = verdict.kind === 'inside' ? [] : blamedChanges(memory, b, a, at, 'response', same);
  if (before || lost.length > 0 || verdict.kind !== 'inside') return [...gone, ...widened];
  const more = losses(memory.losses, b, a);
  if (more.length > 0)
    return more.flatMap((m) =>
      tell(memory, m.pair, `added ${m.name}`, at, () => ({
        ...plain(at, 'versions/response-property-added', 'compatible', m.pair.b, m.pair.a),
        value: pointerOf(memory, b, a, m),
        message: `${m.name} may come now`,
      })),
    );
  return narrowedChanges(memory, a, b, at, 'response', {
    rule: 'versions/response-narrowed',
    message: 'less is sent than clients were told, or more is declared',
  });
}

/** Compatible: one side says more than the other, told where it is said. */
function narrowedChanges(
  memory: Memory,
  sent: Schema,
  taken: Schema,
  at: Affected,
  side: 'request' | 'response',
  { rule, message }: { readonly rule: string; readonly message: string },
): readonly Made[] {
  return blame(memory, sent, taken, side).flatMap((part) => {
    const [old, now] = side === 'request' ? [part.taken, part.sent] : [part.sent, part.taken];
    return tell(memory, part.cause, rule, at, () => {
      const value = part.pointer();
      return { ...plain(at, rule, 'compatible', old, now), value, message: (value === '' ? '' : `${value}: `) + message };
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
    .flatMap((part) => tell(memory, part.cause, rule, at, () => blamedChange(part, rule, at, side)));
}

function blamedChange(part: Blamed, rule: string, at: Affected, side: 'request' | 'response'): Made | undefined {
  const { verdict } = part;
  const body = part.body();
  if (body === 'never') return undefined;
  const pointer = part.pointer();
  const [old, now] = side === 'request' ? [part.sent, part.taken] : [part.taken, part.sent];
  const where = pointer === '' ? 'the body' : pointer;
  const undecided = (why: string): Made => ({
    ...plain(at, rule, 'undecided', old, now),
    value: pointer,
    message: `whether ${where} still fits could not be decided`,
    undecided: why,
  });
  if (verdict.kind === 'undecided') return undecided(verdict.why);
  if (body === undefined) return undecided('a body that shows it could not be put together, which');
  const shown = JSON.stringify(verdict.witness);
  return {
    ...plain(at, rule, 'breaking', old, now),
    value: pointer,
    message:
      side === 'request'
        ? `${where}: clients may send ${shown}, which is now refused`
        : `${where}: ${shown} may come now, which clients were never told of`,
    advice:
      side === 'request'
        ? 'Go on taking what was documented; make new properties optional.'
        : 'Send only what was documented, or give the new form a version of its own.',
    witness:
      side === 'request' ? valueWitness('request', 'old', 'new', body.value) : valueWitness('response', 'new', 'old', body.value),
  };
}

function valueWitness(
  side: 'request' | 'response',
  validUnder: 'old' | 'new',
  invalidUnder: 'old' | 'new',
  body: unknown,
): ChangeWitness {
  return { kind: 'value', side, validUnder, invalidUnder, body };
}

function pointerOf(memory: Memory, old: Schema, now: Schema, loss: Loss): string {
  return (wayToLoss(memory.losses, old, now, loss)?.pointer ?? '') + below('', loss.name);
}

/** A required property that is gone is one change: new responses lack it. */
function lackWitness(memory: Memory, old: Schema, now: Schema, { pair }: Loss): ChangeWitness | undefined {
  const part = blame(memory, now, old, 'response').find((p) => p.sent === pair.b && p.taken === pair.a);
  const body = part?.body();
  return typeof body === 'object' ? valueWitness('response', 'new', 'old', body.value) : undefined;
}

/** An old response that has what is lost. */
function lossWitness(memory: Memory, old: Schema, now: Schema, loss: Loss): ChangeWitness | undefined {
  const { answers } = memory.directions.response;
  const part = valueWith(loss.pair.a, below('', loss.name), ANYTHING, 'response', answers);
  if (part.kind !== 'witness') return undefined;
  for (;;) {
    const way = wayToLoss(memory.losses, old, now, loss);
    if (way === undefined) return undefined;
    const whole = wholeWith(answers, way, part.value, 'response');
    if (whole.kind === 'stuck') {
      if (wasCut(memory.losses, whole, 'response', answers)) continue;
      return undefined;
    }
    if (!fits(old, whole.value, 'response', 'sent')) return undefined;
    const lost = way.pointer + below('', loss.name);
    return { kind: 'value', side: 'response', validUnder: 'old', invalidUnder: 'new', body: whole.value, lost };
  }
}

/** A change of the whole shape that has a name: wrapped, unwrapped, letter case, paged. */
function shapeChange(memory: Memory, a: Schema, b: Schema, at: Affected, side: 'request' | 'response'): Made | undefined {
  const [was, is] = [wrapperOf(a), wrapperOf(b)];
  const named = (rule: string, message: string, advice: string): Made => {
    const [sender, taker] = side === 'request' ? [a, b] : [b, a];
    const found = valueIn(sender, side);
    const shown = found.kind === 'witness' && !fits(taker, found.value, side, 'taken') ? found.value : undefined;
    const witness =
      shown === undefined
        ? firstLoss(memory, a, b)
        : valueWitness(side, side === 'request' ? 'old' : 'new', side === 'request' ? 'new' : 'old', shown);
    return { ...plain(at, `versions/${side}-${rule}`, 'breaking', a, b), value: '', message, advice, witness };
  };
  if (is !== undefined && was === undefined && alike(is.inner, a))
    return named('wrapped', `the body is wrapped in "${is.name}" now`, 'Leave the body as it was; put what is new beside it.');
  if (was !== undefined && is === undefined && alike(was.inner, b))
    return named('unwrapped', `the body is no longer wrapped in "${was.name}"`, 'Keep the wrapper in this version.');
  const [before, after] = [propertiesOf(a), propertiesOf(b)];
  if (before !== undefined && after !== undefined && before.size > 1) {
    const renamed = [...before.keys()].filter(
      (n) => !after.has(n) && [...after.keys()].some((m) => m !== n && bareName(m) === bareName(n)),
    );
    if (renamed.length > 1 && renamed.length * 2 > before.size)
      return named(
        'letter-case',
        `the names of ${renamed.length} properties changed their letter case (${renamed.slice(0, 3).join(', ')})`,
        'Keep the spelling in this version.',
      );
  }
  const listed = flat(a, 2).some((k) => k.types?.includes('array') === true);
  const inner = after === undefined ? undefined : [...after].find(([, s]) => flat(s, 2).some((k) => k.items !== undefined));
  if (side === 'response' && listed && inner !== undefined)
    return named(
      'paged',
      `the list became an object that holds it as "${inner[0]}"`,
      'Page with headers or links (RFC 8288), or in a new version.',
    );
  return undefined;
}

/** An old response with the first thing that is lost. */
function firstLoss(memory: Memory, a: Schema, b: Schema): ChangeWitness | undefined {
  const [loss] = losses(memory.losses, a, b);
  return loss === undefined ? undefined : lossWitness(memory, a, b, loss);
}

function alike(a: Schema, b: Schema): boolean {
  const [x, y] = [propertiesOf(a), propertiesOf(b)];
  if (x === undefined || y === undefined) return false;
  const shared = [...x.keys()].filter((n) => y.has(n)).length;
  return shared > 0 && shared * 2 >= Math.max(x.size, y.size);
}

/** A change of this rule with nothing said yet. */
export function plain(
  at: Affected,
  rule: string,
  effect: Change['effect'],
  old: { readonly place: Change['old'] } | undefined,
  now: { readonly place: Change['new'] } | undefined,
): Made {
  return {
    rule,
    effect,
    at,
    parameter: null,
    value: null,
    message: '',
    advice: null,
    old: old?.place,
    new: now?.place,
    witness: undefined,
    undecided: null,
  };
}
