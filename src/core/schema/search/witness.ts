/**
 * Is every value that one schema describes held by another? Decided on sets of values: what the first holds and the second
 * does not is looked for, and found as a value, or proved not to exist. The search for one value never needs itself, so a
 * question that comes up again while it is being answered adds nothing (least fixed point).
 */

import { isMapping, sameJson } from '../../base/json.ts';
import { pointerKeys } from '../../base/place.ts';
import { spend } from '../../language/limits.ts';
import { ANYTHING, idOf, JSON_TYPES, type JsonType, type Keywords, NO_KEYWORDS, type Schema, target } from '../model/schema.ts';
import type { Side } from '../model/side.ts';
import { NotDecided } from '../normalise/sibling-branches.ts';
import { fits } from '../validate/validate.ts';
import { among, freshGroup, kindOfValue, waysOf } from './branches.ts';
import { type Answers, type Effort, MAX_WAYS, newAnswers } from './cache.ts';
import { split } from './decompose.ts';
import { searchTo, TOO_DEEP } from './fixpoint.ts';
import { isKind } from './keywords-of-type.ts';
import { better, type Found, NOT_FOUND, type Solver, type State, type Way } from './problem.ts';
import { solveArray } from './solve-array.ts';
import { isOneOf, solveNumber } from './solve-number.ts';
import { solveObject } from './solve-object.ts';
import { solveText } from './solve-text.ts';

export type Verdict =
  | { readonly kind: 'inside' }
  | { readonly kind: 'outside'; readonly witness: unknown }
  /** The keyword, or the limit, that stopped it. */
  | { readonly kind: 'undecided'; readonly why: string };

export const INSIDE: Verdict = { kind: 'inside' };

/**
 * How many questions may wait for one another. What is near is looked for first: a value that shows something is seldom
 * deep, and the first way down may lead through everything.
 */
const DEPTHS = [12, 50, 300] as const;

/** How the first schema is read: as what a sender sends, or as it is written. */
export type Reading = 'sent' | 'written';

/**
 * Does `b` hold everything that `a` describes? With `sent`, `a` is a sender's: properties that it does not declare never
 * come. Every witness was held against both schemas. Cost: bounded by its effort.
 */
export function inside(
  a: Schema,
  b: Schema,
  side: Side,
  reading: Reading = 'sent',
  answers: Answers = newAnswers(),
  given?: Given,
  effort: Effort = 'full',
): Verdict {
  if (target(a) === target(b)) return INSIDE;
  const group = reading === 'written' ? 0 : freshGroup();
  const start: State = { pos: [{ schema: a, group }], neg: [b] };
  const found = search(start, side, answers, given, effort);
  if (found.kind === 'none') return INSIDE;
  if (found.kind === 'undecided') return found;
  const { value } = found;
  const [sent, taken] = reading === 'written' ? (['written', 'written'] as const) : (['sent', 'taken'] as const);
  if (!fits(a, value, side, sent) || fits(b, value, side, taken)) return { kind: 'undecided', why: 'oneOf' };
  return { kind: 'outside', witness: value };
}

/** A value that a sender may send under this schema; none where nobody can send anything. */
export function valueIn(schema: Schema, side: Side, answers: Answers = newAnswers()): Found {
  const found = search({ pos: [{ schema, group: freshGroup() }], neg: [] }, side, answers);
  return found.kind === 'witness' && !fits(schema, found.value, side, 'sent') ? { kind: 'undecided', why: 'oneOf' } : found;
}

/** The same, found once for all who ask. */
export function keptValue(schema: Schema, side: Side, answers: Answers): Found {
  const row = answers.holders.get(schema) ?? new Map<string, Found>();
  answers.holders.set(schema, row);
  const found = row.get(side) ?? valueIn(schema, side, answers);
  row.set(side, found);
  return found;
}

/**
 * A value that has a part at this place that the second schema holds. None where there is no such value.
 * What was found for others is used again.
 */
export function valueWith(schema: Schema, pointer: string, part: Schema, side: Side, answers: Answers): Found {
  const row = answers.holders.get(schema) ?? new Map<string, Found>();
  answers.holders.set(schema, row);
  const name = `${idOf(part)} ${side} ${pointer}`;
  const known = row.get(name);
  if (known !== undefined) return known;
  const found = search(holding(schema, pointer, part), side, answers);
  row.set(name, found);
  return found;
}

/** A value that has exactly this part at this place, and that a sender sends. */
export function valueAround(schema: Schema, pointer: string, part: unknown, side: Side, answers: Answers): Found {
  const found = search(holding(schema, pointer, among([part])), side, answers);
  return found.kind === 'witness' && !fits(schema, found.value, side, 'sent') ? { kind: 'undecided', why: 'oneOf' } : found;
}

/** A value that a sender of the whole sends, that is one of these forms of it, and that is not taken. */
export function valueWithin(whole: Schema, form: Schema, taken: Schema, side: Side, answers: Answers): Found {
  const own = { schema: whole, group: freshGroup() };
  const found = search({ pos: [own, { schema: form, group: 0 }], neg: [taken] }, side, answers);
  if (found.kind !== 'witness') return found;
  const shows = fits(whole, found.value, side, 'sent') && !fits(taken, found.value, side, 'taken');
  return shows ? found : { kind: 'undecided', why: 'oneOf' };
}

function holding(schema: Schema, pointer: string, part: Schema): State {
  const has = pointerKeys(pointer).reduceRight((inner, key) => withPart(key, inner), part);
  const own = { schema, group: freshGroup() };
  return { pos: [own, { schema: has, group: 0 }], neg: [] };
}

/** Every list or object that has such a part. */
function withPart(key: string, part: Schema): Schema {
  const keywords: Keywords = {
    ...NO_KEYWORDS,
    types: ['object', 'array'],
    properties: new Map([[key, part]]),
    required: [key],
    ...(/^\d+$/u.test(key)
      ? { minItems: Number(key) + 1, prefixItems: [...Array.from({ length: Number(key) }, () => ANYTHING), part] }
      : { maxItems: 0, minItems: 1 }),
  };
  return { place: part.place, raw: undefined, keywords: () => keywords };
}

/** Parts of a question that need no answer here: somebody else answers them, or they hold. */
export type Given = (state: State) => boolean;

function search(start: State, side: Side, answers: Answers, given?: Given, effort: Effort = 'full'): Found {
  const most = MAX_WAYS[answers.left > 0 ? effort : 'little'];
  // What rests on what is given is no answer for others.
  const own = given === undefined ? answers.known : new Map<string, Found>();
  const tableOf = (key: string): Map<string, Found> => (key.endsWith('-') ? answers.known : own);
  let ways = 0;
  const count = (): void => {
    ways += 1;
    answers.left -= 1;
    spend(300);
    if (ways > most) throw new NotDecided(`more than ${most} combinations`);
  };
  const taken = (state: State): boolean => state !== start && given?.(state) === true;
  try {
    for (const depth of DEPTHS) {
      const found = searchTo(depth, { start, side, count, taken, tableOf, solveAll });
      if (found !== TOO_DEEP) return found;
    }
    return TOO_DEEP;
  } catch (error) {
    if (error instanceof NotDecided) return { kind: 'undecided', why: error.message };
    if (error instanceof RangeError) {
      // A chain of references this long costs as much as many short ones.
      answers.left -= most;
      return TOO_DEEP;
    }
    throw error;
  }
}

const KINDS: readonly JsonType[] = [...JSON_TYPES].reverse();

/** Seen at once, before all ways are gone through. */
function mayBe({ pos }: State, kind: JsonType): boolean {
  return pos.every(({ schema }) => {
    const k = schema.keywords();
    return typeof k === 'boolean' ? k : isKind(k, kind);
  });
}

function solveAll(state: State, solver: Solver): Found {
  return anything(state, solver) ?? split(state, solver) ?? byKind(state, solver);
}

const SIMPLE: readonly unknown[] = [null, true, 7, 'abc', [], {}];

/** Where nothing has to hold, most often one of these will do. */
function anything(state: State, solver: Solver): Found | undefined {
  if (state.pos.length > 0) return undefined;
  const value = SIMPLE.find((v) => answers(v, state, solver));
  return value === undefined ? undefined : { kind: 'witness', value };
}

/** So many steps on the way count as one combination. */
const STEPS = 32;

function byKind(state: State, solver: Solver): Found {
  let found: Found = NOT_FOUND;
  for (const kind of KINDS) {
    if (!mayBe(state, kind)) continue;
    let steps = 0;
    // Ways that lead nowhere cost as well.
    const step = (): void => {
      steps += 1;
      if (steps % STEPS === 0) solver.count();
    };
    for (const way of waysOf(state, kind, solver.side, step)) {
      solver.count();
      found = better(found, solveWay(way, state, solver));
      if (found.kind === 'witness') return found;
    }
  }
  return found;
}

function solveWay(way: Way, state: State, solver: Solver): Found {
  const not = way.broken.flatMap(({ k, keyword }) => (keyword === 'enum' ? (k.enum ?? []) : []));
  const lists = way.pos.flatMap(({ k }) => (k.enum === undefined ? [] : [k.enum]));
  const [first] = lists;
  const hints = way.pos.flatMap(({ k }) => k.examples).filter((e) => kindOfValue(e) === way.kind && !isMapping(e));
  if (first !== undefined) {
    // A list of values is short enough to try each.
    const value = first.find(
      (v) => kindOfValue(v) === way.kind && lists.every((l) => isOneOf(v, l)) && !isOneOf(v, not) && answers(v, state, solver),
    );
    return value === undefined && !first.includes(undefined) ? NOT_FOUND : { kind: 'witness', value };
  }
  switch (way.kind) {
    case 'null':
      return way.broken.length > 0 && isOneOf(null, not) ? NOT_FOUND : { kind: 'witness', value: null };
    case 'boolean': {
      const value = [true, false].find((v) => !isOneOf(v, not));
      return value === undefined ? NOT_FOUND : { kind: 'witness', value };
    }
    case 'number':
      return solveNumber(way, not);
    case 'string':
      return solveText(
        way,
        not,
        hints.filter((h) => typeof h === 'string'),
      );
    case 'array':
      return unlike(not, solveArray(way, solver));
    case 'object':
      return unlike(not, solveObject(way, solver));
    default:
      return way.kind satisfies never;
  }
}

function answers(value: unknown, { pos, neg }: State, { side }: Solver): boolean {
  const sent = pos.some((l) => l.group > 0);
  return (
    pos.every((l) => fits(l.schema, value, side, l.group > 0 ? 'sent' : 'written')) &&
    neg.every((s) => !fits(s, value, side, sent ? 'taken' : 'written'))
  );
}

/** A list or an object that happens to be one of those that it must not be. */
function unlike(not: readonly unknown[], found: Found): Found {
  if (found.kind !== 'witness' || !not.some((v) => sameJson(v, found.value))) return found;
  return { kind: 'undecided', why: 'enum' };
}
