/**
 * Expands a problem into disjuncts: picks a branch of each union, merges conjuncts, and picks one keyword to violate for each
 * negated schema (tableau expansion).
 */
import { spend } from '../../language/limits.ts';
import { EMPTY_KEYWORDS, hasNoInPlaceApplicators, type JsonType, type Keywords, type Schema } from '../model/schema.ts';
import type { Side } from '../model/side.ts';
import { keywordsFor } from '../model/side-view.ts';
import { collectDeclaredNames, type DeclaredNames, siblingNames } from '../normalise/declared-names.ts';
import { unevaluatedItemCases } from '../normalise/evaluated-items.ts';
import { unevaluatedCases } from '../normalise/evaluated-names.ts';
import { branchesToExclude, LimitReached, otherBranchNames, overlappingBranchPairs } from '../normalise/sibling-branches.ts';
import { closeOverSiblings } from '../normalise/sibling-scope.ts';
import { alwaysHolds, isKind, KEYWORDS_BY_TYPE, says } from './keywords-of-type.ts';
import type { Disjunct, Literal, Problem } from './problem.ts';

type SignedSchema = ({ readonly sign: '+' } & Literal) | { readonly sign: '-'; readonly schema: Schema };

/** How many schemas deep one value's own alternatives may go. */
const MAX_CHAIN = 500;

/** Every way in which a value of this kind could answer; `step` is called for each step of the way, dead ends among them. */
export function* expandBranches({ pos, neg, at }: Problem, kind: JsonType, side: Side, step: () => void): Generator<Disjunct> {
  const items: SignedSchema[] = [
    ...pos.map((l): SignedSchema => ({ sign: '+', ...l })),
    ...neg.map((schema): SignedSchema => ({ sign: '-', schema })),
  ];
  const declarers = pos.filter((l) => l.producerId > 0).map(({ producerId, schema }) => ({ producerId, schema }));
  yield* expandNext(items, { kind, pos: [], broken: [], declarers, present: [], absent: [], at }, { side, step }, 0);
}

/** What one search goes by. */
interface Run {
  readonly side: Side;
  readonly step: () => void;
}

function* expandNext(items: readonly SignedSchema[], way: Disjunct, run: Run, depth: number): Generator<Disjunct> {
  const { side } = run;
  run.step();
  spend(8);
  if (depth > MAX_CHAIN) throw new LimitReached('references');
  // What holds for every value of this kind leaves no way, however the others are broken.
  if (items.some((i) => i.sign === '-' && alwaysHolds(i.schema, way.kind, side))) return;
  const [item, ...rest] = items;
  if (item === undefined) {
    yield way;
    return;
  }
  const k = keywordsFor(item.schema, side, item.sign === '+' && item.producerId > 0 ? 'producer' : 'consumer');
  if (item.sign === '+') {
    if (k === false) return;
    yield* k === true ? expandNext(rest, way, run, depth + 1) : expandPositive(k, item, rest, way, run, depth + 1);
  } else {
    if (k === true) return;
    yield* k === false ? expandNext(rest, way, run, depth + 1) : expandNegative(k, rest, way, run, depth + 1);
  }
}

function* expandPositive(
  k: Keywords,
  { schema, producerId, isExclusiveBranch }: Extract<SignedSchema, { sign: '+' }>,
  rest: readonly SignedSchema[],
  way: Disjunct,
  run: Run,
  depth: number,
): Generator<Disjunct> {
  const { side } = run;
  if (!isKind(k, way.kind) || (k.enum !== undefined && !k.enum.some((e) => jsonTypeOf(e) === way.kind))) return;
  const also = (schemas: readonly Schema[]): readonly SignedSchema[] =>
    schemas.map((s): SignedSchema => ({ sign: '+', schema: s, producerId, isExclusiveBranch }));
  const base: SignedSchema[] = [...also(k.ref === undefined ? [] : [k.ref]), ...also(k.allOf)];
  if (k.not !== undefined) base.push({ sign: '-', schema: k.not });
  const choices: (readonly Option[])[] = [];
  const choose = (options: readonly Option[]): void => {
    choices.push(options);
  };
  if (k.anyOf !== undefined) {
    const { anyOf } = k;
    const own = way.declarers.filter((s) => s.producerId === producerId).map((s) => s.schema);
    const beside = collectDeclaredNames(own, (s) => (s === schema ? { ...k, anyOf: [] } : s.keywords()));
    choose(anyOf.map((s) => ({ items: also(producerId === 0 ? [s] : [s, ...otherBranchNames(s, anyOf, side, beside)]) })));
  }
  if (k.oneOf !== undefined) {
    const { oneOf } = k;
    const reading = way.declarers.length === 0 ? 'standard' : producerId === 0 ? 'consumer' : 'producer';
    const beside = namesOfProducer(way, producerId);
    const others = (s: Schema): readonly SignedSchema[] =>
      branchesToExclude(s, oneOf, reading, beside, side).map((schema): SignedSchema => ({ sign: '-', schema }));
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
    { items: base, way: { ...way, pos: [...way.pos, { schema, k, producerId, isExclusiveBranch }] } },
    { group: producerId, rest, run, depth },
  );
}

/** One of the alternatives of a schema. */
interface Option {
  readonly items: readonly SignedSchema[];
  readonly declares?: Schema;
  readonly present?: string;
  readonly absent?: string;
}

interface Chosen {
  readonly items: readonly SignedSchema[];
  readonly way: Disjunct;
}

interface After {
  readonly group: number;
  readonly rest: readonly SignedSchema[];
  readonly run: Run;
  readonly depth: number;
}

/** One option of each choice, one combination after the other: there may be more than anybody waits for. */
function* chosen(choices: readonly (readonly Option[])[], at: number, so: Chosen, after: After): Generator<Disjunct> {
  const options = choices[at];
  if (options === undefined) {
    yield* expandNext([...so.items, ...after.rest], so.way, after.run, after.depth);
    return;
  }
  const { group } = after;
  for (const o of options) {
    after.run.step();
    spend(4);
    const way: Disjunct = {
      ...so.way,
      declarers:
        o.declares === undefined || group === 0
          ? so.way.declarers
          : [...so.way.declarers, { producerId: group, schema: o.declares }],
      present: o.present === undefined ? so.way.present : [...so.way.present, o.present],
      absent: o.absent === undefined ? so.way.absent : [...so.way.absent, o.absent],
    };
    yield* chosen(choices, at + 1, { items: [...so.items, ...o.items], way }, after);
  }
}

/** What a group declares. */
function namesOfProducer({ declarers }: Disjunct, group: number): DeclaredNames {
  return collectDeclaredNames(declarers.filter((s) => s.producerId === group).map((s) => s.schema));
}

export function jsonTypeOf(value: unknown): JsonType {
  if (value === null) return 'null';
  return Array.isArray(value) ? 'array' : (typeof value as JsonType);
}

function* expandNegative(
  k: Keywords,
  rest: readonly SignedSchema[],
  way: Disjunct,
  run: Run,
  depth: number,
): Generator<Disjunct> {
  const { side } = run;
  if (!isKind(k, way.kind)) {
    yield* expandNext(rest, way, run, depth);
    return;
  }
  const whole = way.kind === 'number' && k.types !== undefined && !k.types.includes('number');
  const keywords: readonly (keyof Keywords)[] = [
    ...(k.enum === undefined ? [] : ['enum' as const]),
    ...(whole ? ['types' as const] : []),
    ...KEYWORDS_BY_TYPE[way.kind].filter((key) => says(k, key)),
  ];
  for (const keyword of keywords) {
    if (keyword === 'unevaluatedProperties') yield* violateUnevaluatedProperties(k, rest, way, run, depth);
    else if (keyword === 'unevaluatedItems') yield* violateUnevaluatedItems(k, rest, way, run, depth);
    else yield* expandNext(rest, { ...way, broken: [...way.broken, { k, keyword }] }, run, depth);
  }
  for (const items of negatedApplicators(k, side, way.declarers.length > 0))
    yield* expandNext([...items, ...rest], way, run, depth);
  if (way.kind !== 'object') return;
  for (const [name, schema] of k.dependentSchemas)
    yield* expandNext([{ sign: '-', schema }, ...rest], { ...way, present: [...way.present, name] }, run, depth);
}

/** A name that nothing else looks at: what would is made to fail. */
function* violateUnevaluatedProperties(
  k: Keywords,
  rest: readonly SignedSchema[],
  way: Disjunct,
  run: Run,
  depth: number,
): Generator<Disjunct> {
  const { side } = run;
  const keyword = 'unevaluatedProperties';
  const ways = unevaluatedCases(k, (s) => keywordsFor(s, side, 'consumer'));
  if (ways === undefined) yield* expandNext(rest, { ...way, broken: [...way.broken, { k, keyword }] }, run, depth);
  for (const { failing, holding, absent, ...left } of ways ?? []) {
    const items = [
      ...failing.map((schema): SignedSchema => ({ sign: '-', schema })),
      ...holding.map((schema): SignedSchema => ({ sign: '+', schema, producerId: 0 })),
    ];
    const broken = [...way.broken, { k, keyword, unevaluatedName: left } as const];
    yield* expandNext([...items, ...rest], { ...way, broken, absent: [...way.absent, ...absent] }, run, depth);
  }
}

/** An item that nothing else looks at. */
function* violateUnevaluatedItems(
  k: Keywords,
  rest: readonly SignedSchema[],
  way: Disjunct,
  run: Run,
  depth: number,
): Generator<Disjunct> {
  const { side } = run;
  const keyword = 'unevaluatedItems';
  const ways = unevaluatedItemCases(k, (s) => keywordsFor(s, side, 'consumer'));
  if (ways === undefined) yield* expandNext(rest, { ...way, broken: [...way.broken, { k, keyword }] }, run, depth);
  for (const { failing, holding, ...leftItem } of ways ?? []) {
    const items = [
      ...failing.map((schema): SignedSchema => ({ sign: '-', schema })),
      ...holding.map((schema): SignedSchema => ({ sign: '+', schema, producerId: 0 })),
    ];
    yield* expandNext(
      [...items, ...rest],
      { ...way, broken: [...way.broken, { k, keyword, unevaluatedItem: leftItem }] },
      run,
      depth,
    );
  }
}

/** Schemas beside the keywords, one of which does not hold. */
function* negatedApplicators(k: Keywords, side: Side, sent: boolean): Generator<readonly SignedSchema[]> {
  const beside = sent && !hasNoInPlaceApplicators(k) ? siblingNames([k], 'consumer') : undefined;
  const minus = (schema: Schema): SignedSchema => ({
    sign: '-',
    schema: beside === undefined ? schema : closeOverSiblings(schema, beside),
  });
  if (k.ref !== undefined) yield [minus(k.ref)];
  for (const part of k.allOf) yield [minus(part)];
  if (k.anyOf !== undefined) yield k.anyOf.map(minus);
  if (k.oneOf !== undefined) {
    yield k.oneOf.map(minus);
    for (const pair of overlappingBranchPairs(k.oneOf, sent, beside ?? siblingNames([k], 'consumer'), side))
      yield pair.map((schema): SignedSchema => ({ sign: '+', schema, producerId: sent ? newProducerId() : 0 }));
  }
  if (k.not !== undefined) yield [{ sign: '+', schema: k.not, producerId: 0 }];
  if (k.if !== undefined) {
    if (k.then !== undefined) yield [{ sign: '+', schema: k.if, producerId: 0 }, minus(k.then)];
    if (k.else !== undefined) yield [{ sign: '-', schema: k.if }, minus(k.else)];
  }
}

let groups = 1_000_000;

/** A literal of a group of its own. */
export function newProducerId(): number {
  groups += 1;
  return groups;
}

/** Holds exactly these values. */
export function enumSchema(values: readonly unknown[]): Schema {
  const keywords: Keywords = { ...EMPTY_KEYWORDS, enum: values };
  return { place: { file: '', pointer: '' }, raw: { enum: values }, keywords: () => keywords };
}

export function literals(schemas: readonly Schema[], group: number): readonly Literal[] {
  return schemas.map((schema) => ({ schema, producerId: group }));
}
