/** From schemas to ways: alternatives chosen, parts written together, and one keyword broken of each schema that must not hold. */
import { spend } from '../../language/limits.ts';
import { type JsonType, type Keywords, NO_KEYWORDS, type Schema, standsAlone } from '../model/schema.ts';
import type { Side } from '../model/side.ts';
import { view } from '../model/side-view.ts';
import { type Declared, declaredBeside, declaredNames } from '../normalise/declared-names.ts';
import { leftItems } from '../normalise/evaluated-items.ts';
import { unevaluatedWays } from '../normalise/evaluated-names.ts';
import { excluded, formPairs, NotDecided, sentBeside } from '../normalise/sibling-branches.ts';
import { besideThese } from '../normalise/sibling-scope.ts';
import { alwaysHolds, isKind, OF_KIND, says } from './keywords-of-type.ts';
import type { Literal, State, Way } from './problem.ts';

type Item = ({ readonly sign: '+' } & Literal) | { readonly sign: '-'; readonly schema: Schema };

/** How many schemas deep one value's own alternatives may go. */
const MAX_CHAIN = 500;

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
  spend(8);
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
  const choices: (readonly Option[])[] = [];
  const choose = (options: readonly Option[]): void => {
    choices.push(options);
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
  yield* chosen(
    choices,
    0,
    { items: base, way: { ...way, pos: [...way.pos, { schema, k, group, counted }] } },
    { group, rest, run, depth },
  );
}

/** One of the alternatives of a schema. */
interface Option {
  readonly items: readonly Item[];
  readonly declares?: Schema;
  readonly present?: string;
  readonly absent?: string;
}

interface Chosen {
  readonly items: readonly Item[];
  readonly way: Way;
}

interface After {
  readonly group: number;
  readonly rest: readonly Item[];
  readonly run: Run;
  readonly depth: number;
}

/** One option of each choice, one combination after the other: there may be more than anybody waits for. */
function* chosen(choices: readonly (readonly Option[])[], at: number, so: Chosen, after: After): Generator<Way> {
  const options = choices[at];
  if (options === undefined) {
    yield* next([...so.items, ...after.rest], so.way, after.run, after.depth);
    return;
  }
  const { group } = after;
  for (const o of options) {
    after.run.step();
    spend(4);
    const way: Way = {
      ...so.way,
      sources: o.declares === undefined || group === 0 ? so.way.sources : [...so.way.sources, { group, schema: o.declares }],
      present: o.present === undefined ? so.way.present : [...so.way.present, o.present],
      absent: o.absent === undefined ? so.way.absent : [...so.way.absent, o.absent],
    };
    yield* chosen(choices, at + 1, { items: [...so.items, ...o.items], way }, after);
  }
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
