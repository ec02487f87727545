/** Bodies of one media type, old and new. */

import { bareName, propertiesOf, wrapperOf } from '../contract/life.ts';
import type { Media } from '../contract/model.ts';
import { isMapping } from '../json.ts';
import { pointerKeys } from '../place.ts';
import { fits } from '../schema/fits.ts';
import { flat } from '../schema/flat.ts';
import { valueIn } from '../schema/inside.ts';
import type { Schema } from '../schema/node.ts';
import { sameText } from '../schema/same.ts';
import type { Affected, Change, ChangeWitness } from './change.ts';
import { type Blamed, blame, bodyWith, decided, losses, type Memory } from './schemas.ts';

type Made = Omit<Change, 'affects'>;

/** A request: what old clients send has to be taken. */
export function requestChanges(memory: Memory, old: Media, now: Media, at: Affected): readonly Made[] {
  const [a, b] = [old.schema, now.schema];
  if (b === undefined || (a !== undefined && sameText(a, b))) return [];
  if (a === undefined) return [];
  const named = shapeChange(a, b, at, 'request');
  if (named !== undefined && decided(memory, a, b, 'request').kind === 'outside') return [named];
  const verdict = decided(memory, a, b, 'request');
  const narrowed = blame(memory, a, b, 'request').map((part) =>
    blamedChange(part, a, b, at, verdict.kind === 'outside' ? verdict.witness : undefined),
  );
  const ignored =
    verdict.kind === 'inside'
      ? losses(a, b).map(
          (l): Made => ({
            ...plain(at, 'versions/request-property-ignored', 'risky', l.old, l.new),
            value: l.pointer,
            message: `clients may go on sending ${l.name}, and it is no longer read`,
            advice: `Keep ${l.name} until clients have stopped to send it.`,
          }),
        )
      : [];
  if (narrowed.length > 0 || ignored.length > 0) return [...narrowed, ...ignored];
  const wider = decided(memory, b, a, 'request');
  return wider.kind === 'inside'
    ? []
    : [
        {
          ...plain(at, 'versions/request-widened', 'compatible', ...causeOf(memory, b, a, 'request')),
          message: 'more is taken than before',
        },
      ];
}

/** The innermost pair, old first. */
function causeOf(memory: Memory, sent: Schema, taken: Schema, side: 'request' | 'response'): [Schema, Schema] {
  const [part] = blame(memory, sent, taken, side);
  return part === undefined ? [taken, sent] : [part.taken, part.sent];
}

/** A response: what the new server sends has to be what clients were told, and what they could read has to come still. */
export function responseChanges(memory: Memory, old: Media, now: Media, at: Affected): readonly Made[] {
  const [a, b] = [old.schema, now.schema];
  if (a === undefined || b === undefined || sameText(a, b)) return [];
  const verdict = decided(memory, b, a, 'response');
  const named = shapeChange(a, b, at, 'response');
  if (named !== undefined && (verdict.kind === 'outside' || losses(a, b).length > 0)) return [named];
  const lost = losses(a, b);
  const witness = verdict.kind === 'outside' ? verdict.witness : undefined;
  // A required property that is gone is one change: new responses lack it.
  const gone = lost.map(
    (l): Made => ({
      ...plain(at, 'versions/response-property-lost', 'breaking', l.old, l.new),
      value: l.pointer,
      message: `${l.name} can never come any more`,
      advice: `Go on sending ${l.name} until clients have stopped to read it.`,
      witness: l.required && witness !== undefined ? valueWitness('response', 'new', 'old', witness) : lossWitness(a, l.pointer),
    }),
  );
  const blamed = blame(memory, b, a, 'response').filter((part) => !lost.some((l) => l.required && part.sent === l.new));
  const widened = blamed.map((part) => blamedChange(part, b, a, at, witness, 'response'));
  if (gone.length > 0 || widened.length > 0) return [...gone, ...widened];
  const more = losses(b, a, memory.told);
  if (more.length > 0)
    return more.map(
      (m): Made => ({
        ...plain(at, 'versions/response-property-added', 'compatible', m.new, m.old),
        value: m.pointer,
        message: `${m.name} may come now`,
      }),
    );
  const narrower = decided(memory, a, b, 'response');
  return narrower.kind === 'inside'
    ? []
    : [
        {
          ...plain(at, 'versions/response-narrowed', 'compatible', ...narrowCause(memory, a, b)),
          message: 'less is sent than clients were told, or more is declared',
        },
      ];
}

function narrowCause(memory: Memory, a: Schema, b: Schema): [Schema, Schema] {
  const [part] = blame(memory, a, b, 'response');
  return part === undefined ? [a, b] : [part.sent, part.taken];
}

function blamedChange(
  part: Blamed,
  whole: Schema,
  other: Schema,
  at: Affected,
  witness: unknown,
  side: 'request' | 'response' = 'request',
): Made {
  const { verdict, pointer } = part;
  const rule = side === 'request' ? 'versions/request-narrowed' : 'versions/response-widened';
  const [old, now] = side === 'request' ? [part.sent, part.taken] : [part.taken, part.sent];
  const where = pointer === '' ? 'the body' : pointer;
  if (verdict.kind === 'undecided') {
    return {
      ...plain(at, rule, 'undecided', old, now),
      value: pointer,
      message: `whether ${where} still fits could not be decided`,
      undecided: verdict.why,
    };
  }
  const body = bodyWith(whole, other, part, side, witness);
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
    witness: side === 'request' ? valueWitness('request', 'old', 'new', body) : valueWitness('response', 'new', 'old', body),
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

/** An old response that has what is lost. */
function lossWitness(old: Schema, pointer: string): ChangeWitness | undefined {
  const base = valueIn(old, 'response');
  if (base.kind !== 'witness') return undefined;
  const body = withPart(base.value, pointerKeys(pointer), old);
  return fits(old, body, 'response')
    ? { kind: 'value', side: 'response', validUnder: 'old', invalidUnder: 'new', body, lost: pointer }
    : undefined;
}

function withPart(value: unknown, keys: readonly string[], schema: Schema | undefined): unknown {
  const [key, ...rest] = keys;
  if (key === undefined) return value;
  const k = schema === undefined ? undefined : flat(schema, 1)[0];
  const sample = (s: Schema | undefined): unknown => {
    const found = s === undefined ? undefined : valueIn(s, 'response');
    return found?.kind === 'witness' ? found.value : null;
  };
  if (k?.items !== undefined && !isMapping(value)) {
    const list = Array.isArray(value) ? value : [];
    return [withPart(list[0] ?? sample(k.items), rest, k.items), ...list.slice(1)];
  }
  const next = k?.properties.get(key);
  const old = isMapping(value) ? value : {};
  return { ...old, [key]: withPart(key in old ? old[key] : sample(next), rest, next) };
}

/** A change of the whole shape that has a name: wrapped, unwrapped, letter case, paged. */
function shapeChange(a: Schema, b: Schema, at: Affected, side: 'request' | 'response'): Made | undefined {
  const [was, is] = [wrapperOf(a), wrapperOf(b)];
  const named = (rule: string, message: string, advice: string): Made => {
    const [sender, taker] = side === 'request' ? [a, b] : [b, a];
    const found = valueIn(sender, side);
    const shown = found.kind === 'witness' && !fits(taker, found.value, side, 'taken') ? found.value : undefined;
    const witness =
      shown === undefined
        ? lossWitness(a, `/${[...(propertiesOf(a)?.keys() ?? [''])][0]}`)
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
