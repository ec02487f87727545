/** From schemas to ways: alternatives chosen, parts written together, and one keyword broken of each schema that must not hold. */
import { apart, closedApart } from './apart.ts';
import { besideThese } from './context.ts';
import { type Declared, declaredBeside, declaredBy, declaredNames, declaredWith } from './declared.ts';
import { unevaluatedWays } from './evaluated.ts';
import { leftItems } from './evaluated-items.ts';
import type { Side } from './fits.ts';
import { type JsonType, type Keywords, NO_KEYWORDS, type Schema, standsAlone } from './node.ts';
import { alwaysHolds, isKind, OF_KIND, says } from './of-kind.ts';
import { view } from './sides.ts';
import type { Literal, State, Way } from './state.ts';
import { closedForm, meantForm } from './unions.ts';

type Item = ({ readonly sign: '+' } & Literal) | { readonly sign: '-'; readonly schema: Schema };

/** More pairs of forms than this that are not plainly apart leave a `oneOf` undecided. */
const MOST_PAIRS = 400;
/** How many schemas deep one value's own alternatives may go. */
const MAX_CHAIN = 500;

/** Stops the search where a keyword is not decided. */
export class NotDecided extends Error {}

/** Every way in which a value of this kind could answer; `step` is called for each step of the way, dead ends among them. */
export function* waysOf({ pos, neg, at }: State, kind: JsonType, side: Side, step: () => void): Generator<Way> {
  const items: Item[] = [...pos.map((l): Item => ({ sign: '+', ...l })), ...neg.map((schema): Item => ({ sign: '-', schema }))];
  const sources = pos.filter((l) => l.group > 0).map(({ group, schema }) => ({ group, schema }));
  yield* next(items, { kind, pos: [], broken: [], sources, present: [], absent: [], at }, { side, step }, 0);
}

/** What one search goes by. */
interface Run {
  readonly side: Side;
  readonly step: () => void;
}

function* next(items: readonly Item[], way: Way, run: Run, depth: number): Generator<Way> {
  const { side } = run;
  run.step();
  if (depth > MAX_CHAIN) throw new NotDecided('references');
  // What holds for every value of this kind leaves no way, however the others are broken.
  if (items.some((i) => i.sign === '-' && alwaysHolds(i.schema, way.kind, side))) return;
  const [item, ...rest] = items;
  if (item === undefined) {
    yield way;
    return;
  }
  const k = view(item.schema, side, item.sign === '+' && item.group > 0 ? 'sent' : 'taken');
  if (item.sign === '+') {
    if (k === false) return;
    yield* k === true ? next(rest, way, run, depth + 1) : held(k, item, rest, way, run, depth + 1);
  } else {
    if (k === true) return;
    yield* k === false ? next(rest, way, run, depth + 1) : broken(k, rest, way, run, depth + 1);
  }
}

function* held(
  k: Keywords,
  { schema, group, counted }: Extract<Item, { sign: '+' }>,
  rest: readonly Item[],
  way: Way,
  run: Run,
  depth: number,
): Generator<Way> {
  const { side } = run;
  if (!isKind(k, way.kind) || (k.enum !== undefined && !k.enum.some((e) => kindOfValue(e) === way.kind))) return;
  const also = (schemas: readonly Schema[]): readonly Item[] =>
    schemas.map((s): Item => ({ sign: '+', schema: s, group, counted }));
  const base: Item[] = [...also(k.ref === undefined ? [] : [k.ref]), ...also(k.allOf)];
  if (k.not !== undefined) base.push({ sign: '-', schema: k.not });
  let choices: readonly { readonly items: readonly Item[]; readonly way: Way }[] = [
    { items: base, way: { ...way, pos: [...way.pos, { schema, k, group, counted }] } },
  ];
  const choose = (
    options: readonly {
      readonly items: readonly Item[];
      readonly declares?: Schema;
      readonly present?: string;
      readonly absent?: string;
    }[],
  ): void => {
    choices = choices.flatMap((c) =>
      options.map((o) => ({
        items: [...c.items, ...o.items],
        way: {
          ...c.way,
          sources: o.declares === undefined || group === 0 ? c.way.sources : [...c.way.sources, { group, schema: o.declares }],
          present: o.present === undefined ? c.way.present : [...c.way.present, o.present],
          absent: o.absent === undefined ? c.way.absent : [...c.way.absent, o.absent],
        },
      })),
    );
  };
  if (k.anyOf !== undefined) {
    const { anyOf } = k;
    const own = way.sources.filter((s) => s.group === group).map((s) => s.schema);
    const beside = declaredNames(own, (s) => (s === schema ? { ...k, anyOf: [] } : s.keywords()));
    choose(anyOf.map((s) => ({ items: also(group === 0 ? [s] : [s, ...sentBeside(s, anyOf, side, beside)]) })));
  }
  if (k.oneOf !== undefined) {
    const { oneOf } = k;
    const reading = way.sources.length === 0 ? 'written' : group === 0 ? 'taken' : 'sent';
    const beside = besideOf(way, group);
    const others = (s: Schema): readonly Item[] =>
      excluded(s, oneOf, reading, beside, side).map((schema): Item => ({ sign: '-', schema }));
    choose(oneOf.map((s) => ({ items: [...also([s]), ...others(s)], declares: s })));
  }
  if (k.if !== undefined) {
    const { if: test } = k;
    choose([
      { items: [...also([test]), ...also(k.then === undefined ? [] : [k.then])] },
      { items: [{ sign: '-', schema: test }, ...also(k.else === undefined ? [] : [k.else])] },
    ]);
  }
  if (way.kind === 'object') {
    for (const [name, schema] of k.dependentSchemas)
      choose([
        { items: [], absent: name },
        { items: also([schema]), present: name },
      ]);
  }
  for (const choice of choices) yield* next([...choice.items, ...rest], choice.way, run, depth);
}

/**
 * What a value that is one form of a `oneOf` must not be besides: as it is written none of the others; as a sender means
 * it none of the others closed. To a taker it may be several, which a witness is held against in the end.
 */
export function excluded(
  form: Schema,
  forms: readonly Schema[],
  reading: 'written' | 'sent' | 'taken',
  beside: Declared,
  side: Side,
): readonly Schema[] {
  if (reading === 'taken') return [];
  const others = forms.filter((o) => o !== form && !apart(form, o, side));
  if (reading === 'written') return others;
  return others.filter((o) => !closedApart(form, o, beside, side)).map((o) => closedForm(o, beside));
}

/**
 * Who sends a form of an `anyOf` may send what others declare, where a value may be both. Where anything may come anyway,
 * as the form says or what stands beside it, the others say nothing of it.
 */
export function sentBeside(form: Schema, forms: readonly Schema[], side: Side, beside: Declared): readonly Schema[] {
  if (beside.open || declaredBy(form).open) return [];
  const others = forms.filter((o) => o !== form && !apart(form, o, side));
  const declaring = declaredWith(form, others);
  return declaring === undefined ? [] : [declaring];
}

/** What a group declares. */
function besideOf({ sources }: Way, group: number): Declared {
  return declaredNames(sources.filter((s) => s.group === group).map((s) => s.schema));
}

export function kindOfValue(value: unknown): JsonType {
  if (value === null) return 'null';
  return Array.isArray(value) ? 'array' : (typeof value as JsonType);
}

function* broken(k: Keywords, rest: readonly Item[], way: Way, run: Run, depth: number): Generator<Way> {
  const { side } = run;
  if (!isKind(k, way.kind)) {
    yield* next(rest, way, run, depth);
    return;
  }
  const whole = way.kind === 'number' && k.types !== undefined && !k.types.includes('number');
  const keywords: readonly (keyof Keywords)[] = [
    ...(k.enum === undefined ? [] : ['enum' as const]),
    ...(whole ? ['types' as const] : []),
    ...OF_KIND[way.kind].filter((key) => says(k, key)),
  ];
  for (const keyword of keywords) {
    if (keyword === 'unevaluatedProperties') yield* leftOver(k, rest, way, run, depth);
    else if (keyword === 'unevaluatedItems') yield* itemsLeftOver(k, rest, way, run, depth);
    else yield* next(rest, { ...way, broken: [...way.broken, { k, keyword }] }, run, depth);
  }
  for (const items of brokenParts(k, side, way.sources.length > 0)) yield* next([...items, ...rest], way, run, depth);
  if (way.kind !== 'object') return;
  for (const [name, schema] of k.dependentSchemas)
    yield* next([{ sign: '-', schema }, ...rest], { ...way, present: [...way.present, name] }, run, depth);
}

/** A name that nothing else looks at: what would is made to fail. */
function* leftOver(k: Keywords, rest: readonly Item[], way: Way, run: Run, depth: number): Generator<Way> {
  const { side } = run;
  const keyword = 'unevaluatedProperties';
  const ways = unevaluatedWays(k, (s) => view(s, side, 'taken'));
  if (ways === undefined) yield* next(rest, { ...way, broken: [...way.broken, { k, keyword }] }, run, depth);
  for (const { failing, holding, absent, ...left } of ways ?? []) {
    const items = [
      ...failing.map((schema): Item => ({ sign: '-', schema })),
      ...holding.map((schema): Item => ({ sign: '+', schema, group: 0 })),
    ];
    const broken = [...way.broken, { k, keyword, left } as const];
    yield* next([...items, ...rest], { ...way, broken, absent: [...way.absent, ...absent] }, run, depth);
  }
}

/** An item that nothing else looks at. */
function* itemsLeftOver(k: Keywords, rest: readonly Item[], way: Way, run: Run, depth: number): Generator<Way> {
  const { side } = run;
  const keyword = 'unevaluatedItems';
  const ways = leftItems(k, (s) => view(s, side, 'taken'));
  if (ways === undefined) yield* next(rest, { ...way, broken: [...way.broken, { k, keyword }] }, run, depth);
  for (const { failing, holding, ...leftItem } of ways ?? []) {
    const items = [
      ...failing.map((schema): Item => ({ sign: '-', schema })),
      ...holding.map((schema): Item => ({ sign: '+', schema, group: 0 })),
    ];
    yield* next([...items, ...rest], { ...way, broken: [...way.broken, { k, keyword, leftItem }] }, run, depth);
  }
}

/** Schemas beside the keywords, one of which does not hold. */
function* brokenParts(k: Keywords, side: Side, sent: boolean): Generator<readonly Item[]> {
  const beside = sent && !standsAlone(k) ? declaredBeside([k], 'receiver') : undefined;
  const minus = (schema: Schema): Item => ({ sign: '-', schema: beside === undefined ? schema : besideThese(schema, beside) });
  if (k.ref !== undefined) yield [minus(k.ref)];
  for (const part of k.allOf) yield [minus(part)];
  if (k.anyOf !== undefined) yield k.anyOf.map(minus);
  if (k.oneOf !== undefined) {
    yield k.oneOf.map(minus);
    for (const pair of formPairs(k.oneOf, sent, beside ?? declaredBeside([k], 'receiver'), side))
      yield pair.map((schema): Item => ({ sign: '+', schema, group: sent ? freshGroup() : 0 }));
  }
  if (k.not !== undefined) yield [{ sign: '+', schema: k.not, group: 0 }];
  if (k.if !== undefined) {
    if (k.then !== undefined) yield [{ sign: '+', schema: k.if, group: 0 }, minus(k.then)];
    if (k.else !== undefined) yield [{ sign: '-', schema: k.if }, minus(k.else)];
  }
}

/**
 * Forms that no value may be both of: as they are written; or to a receiver, each closed with the properties that are
 * declared beside it.
 */
export function* formPairs(
  forms: readonly Schema[],
  sent: boolean,
  beside: Declared,
  side: Side,
): Generator<readonly [Schema, Schema]> {
  let tried = 0;
  for (const [i, a] of forms.entries()) {
    for (const b of forms.slice(i + 1)) {
      if (apart(a, b, side) || (sent && closedApart(a, b, beside, side))) continue;
      tried += 1;
      if (tried > MOST_PAIRS) throw new NotDecided('oneOf');
      yield sent ? [meantForm(a, beside), meantForm(b, beside)] : [a, b];
    }
  }
}

let groups = 1_000_000;

/** A literal of a group of its own. */
export function freshGroup(): number {
  groups += 1;
  return groups;
}

/** Holds exactly these values. */
export function among(values: readonly unknown[]): Schema {
  const keywords: Keywords = { ...NO_KEYWORDS, enum: values };
  return { place: { file: '', pointer: '' }, raw: { enum: values }, keywords: () => keywords };
}

export function literals(schemas: readonly Schema[], group: number): readonly Literal[] {
  return schemas.map((schema) => ({ schema, group }));
}
