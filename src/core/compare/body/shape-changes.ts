/** Changes of a whole body's shape that have a name: wrapped, unwrapped, letter case, paged. */
import { normalisedName } from '../../base/bare-name.ts';
import { envelopeOf, propertiesOf } from '../../contract/resources/lifecycle.ts';
import { isTextEqual } from '../../schema/equality/equal-pairs.ts';
import { dereference, type Schema } from '../../schema/model/schema.ts';
import { toDisjuncts } from '../../schema/normalise/flatten.ts';
import { findInhabitant } from '../../schema/search/witness.ts';
import { isValid } from '../../schema/validate/validate.ts';
import { type Affected, type ChangeDraft, type ChangeWitness, newChange } from '../changes/change.ts';
import type { ChangeRuleId } from '../changes/rules/index.ts';
import { lossWitness, valueWitness } from '../relation/loss-witness.ts';
import { losses } from '../relation/lost-properties.ts';
import type { ComparisonSession } from '../relation/session.ts';

/** A change of the whole shape, and what stands inside on both sides where that can be compared too. */
export interface ShapeChange {
  readonly made: ChangeDraft;
  readonly inner: Inner | undefined;
}

/** What a body became the inside of, or what was its inside. */
export interface Inner {
  readonly old: Schema;
  readonly now: Schema;
  /** The property that holds it, on the side that has one. */
  readonly name: string;
  readonly wrapped: 'old' | 'new';
  readonly outer: Schema;
}

/** A change of the whole shape that has a name: wrapped, unwrapped, letter case, paged or no longer. */
export function shapeChange(
  memory: ComparisonSession,
  a: Schema,
  b: Schema,
  at: Affected,
  side: 'request' | 'response',
): ShapeChange | undefined {
  const shape =
    envelopeChange(a, b, side) ?? letterCaseChange(a, b, side) ?? (side === 'response' ? pagingChange(a, b) : undefined);
  if (shape === undefined) return undefined;
  const { rule, message, advice, inner } = shape;
  const [sender, taker] = side === 'request' ? [a, b] : [b, a];
  const found = findInhabitant(sender, side);
  const shown = found.kind === 'witness' && !isValid(taker, found.value, side, 'consumer') ? found.value : undefined;
  const witness =
    shown === undefined
      ? firstLoss(memory, a, b)
      : valueWitness(side, side === 'request' ? 'old' : 'new', side === 'request' ? 'new' : 'old', shown);
  return { made: { ...newChange(at, rule, 'breaking', a, b), value: '', message, advice, witness }, inner };
}

interface NamedShape {
  readonly rule: ChangeRuleId;
  readonly message: string;
  readonly advice: string;
  readonly inner?: Inner | undefined;
}

function envelopeChange(a: Schema, b: Schema, side: 'request' | 'response'): NamedShape | undefined {
  const [was, is] = [envelopeOf(a), envelopeOf(b)];
  if (is !== undefined && was === undefined && propertiesOf(a)?.has(is.name) !== true && alike(is.inner, a))
    return {
      rule: `versions/${side}-wrapped`,
      message: `the body is wrapped in "${is.name}" now`,
      advice: 'Leave the body as it was; put what is new beside it.',
      inner: { old: a, now: is.inner, name: is.name, wrapped: 'new', outer: b },
    };
  if (was !== undefined && is === undefined && propertiesOf(b)?.has(was.name) !== true && alike(was.inner, b))
    return {
      rule: `versions/${side}-unwrapped`,
      message: `the body is no longer wrapped in "${was.name}"`,
      advice: 'Keep the wrapper in this version.',
      inner: { old: was.inner, now: b, name: was.name, wrapped: 'old', outer: a },
    };
  return undefined;
}

/** Most names are the same but for their letter case, in the body or in what its list holds. */
function letterCaseChange(a: Schema, b: Schema, side: 'request' | 'response'): NamedShape | undefined {
  const [old, now] = [a, b].map((s) => propertiesOf(s) ?? propertiesOf(listedIn(s)));
  if (old === undefined || now === undefined || old.size < 2) return undefined;
  const renamed = [...old.keys()].filter(
    (n) => !now.has(n) && [...now.keys()].some((m) => m !== n && normalisedName(m) === normalisedName(n)),
  );
  if (renamed.length < 2 || renamed.length * 2 <= old.size) return undefined;
  return {
    rule: `versions/${side}-letter-case`,
    message: `the names of ${renamed.length} properties changed their letter case (${renamed.slice(0, 3).join(', ')})`,
    advice: 'Keep the spelling in this version.',
  };
}

/** A list that became an object which holds it, or the other way round. */
function pagingChange(a: Schema, b: Schema): NamedShape | undefined {
  const paged = heldList(propertiesOf(b), a);
  if (paged !== undefined)
    return {
      rule: 'versions/response-paged',
      message: `the list became an object that holds it as "${paged[0]}"`,
      advice: 'Page with headers or links (RFC 8288), or in a new version.',
      inner: { old: a, now: paged[1], name: paged[0], wrapped: 'new', outer: b },
    };
  const bare = heldList(propertiesOf(a), b);
  if (bare === undefined) return undefined;
  return {
    rule: 'versions/response-unpaged',
    message: `the object that held a list as "${bare[0]}" became the list itself`,
    advice: 'Keep the object in this version.',
    inner: { old: bare[1], now: b, name: bare[0], wrapped: 'old', outer: a },
  };
}

/** The property of an object that holds a list like this one. */
function heldList(properties: ReadonlyMap<string, Schema> | undefined, list: Schema): readonly [string, Schema] | undefined {
  const items = listedIn(list);
  if (items === undefined || properties === undefined) return undefined;
  return [...properties].find(([, s]) => {
    const held = listedIn(s);
    return held !== undefined && sameKind(items, held);
  });
}

/** An old response with the first thing that is lost. */
function firstLoss(memory: ComparisonSession, a: Schema, b: Schema): ChangeWitness | undefined {
  const [loss] = losses(memory.losses.response, a, b);
  const witness = loss === undefined ? 'never' : lossWitness(memory, a, b, loss);
  return witness === 'never' || 'why' in witness ? undefined : witness;
}

/** What a list holds. */
function listedIn(schema: Schema): Schema | undefined {
  return toDisjuncts(schema, 2).find((k) => k.types?.includes('array') === true && k.items !== undefined)?.items;
}

function sameKind(a: Schema, b: Schema): boolean {
  if (propertiesOf(a) !== undefined || propertiesOf(b) !== undefined) return alike(a, b);
  const types = (s: Schema): string =>
    toDisjuncts(s, 1)
      .flatMap((k) => k.types ?? [])
      .join();
  return types(a) === types(b);
}

function alike(a: Schema, b: Schema): boolean {
  const [x, y] = [propertiesOf(a), propertiesOf(b)];
  if (x === undefined || y === undefined) return false;
  const shared = [...x.keys()].filter((n) => y.has(n)).length;
  return shared > 0 && shared * 2 >= Math.max(x.size, y.size);
}

/** What else changed inside a wrapper or a page, with whole bodies that show it. */
export function insideOf(
  inner: Inner | undefined,
  side: 'request' | 'response',
  compare: (a: Schema, b: Schema) => readonly ChangeDraft[],
): readonly ChangeDraft[] {
  if (inner === undefined) return [];
  const [a, b] = [dereference(inner.old), dereference(inner.now)];
  if (isTextEqual(a, b)) return [];
  return compare(a, b).map((m) => {
    const { witness } = m;
    const pointer = `/${inner.name}`;
    const value = inner.wrapped === 'new' && m.value !== null ? pointer + m.value : m.value;
    if (witness?.kind !== 'value' || witness.validUnder !== inner.wrapped) return { ...m, value };
    const sample = findInhabitant(inner.outer, side);
    const body = { ...(sample.kind === 'witness' ? (sample.value as object) : {}), [inner.name]: witness.body };
    const lost = witness.lost === undefined ? {} : { lost: pointer + witness.lost };
    return { ...m, value, witness: isValid(inner.outer, body, side, 'producer') ? { ...witness, body, ...lost } : undefined };
  });
}
