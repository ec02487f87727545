/**
 * Is every value that one schema describes held by another? Decided on sets of values: what the first holds and the second does
 * not is looked for, and found as a value, or proved not to exist. A smallest value never contains itself, so a goal met again
 * while it is being solved is assumed empty (least fixed point).
 */

import { isMapping, sameJson } from '../../base/json.ts';
import { pointerKeys } from '../../base/place.ts';
import { spend } from '../../language/limits.ts';
import {
  dereference,
  EMPTY_KEYWORDS,
  idOf,
  JSON_TYPES,
  type JsonType,
  type Keywords,
  type Schema,
  TRUE_SCHEMA,
} from '../model/schema.ts';
import type { Semantics, Side } from '../model/side.ts';
import { LimitReached } from '../normalise/sibling-branches.ts';
import { isValid } from '../validate/validate.ts';
import { enumSchema, expandBranches, jsonTypeOf, newProducerId } from './branches.ts';
import { type Budget, MAX_WAYS, newSearchCache, type SearchCache } from './cache.ts';
import { decompose } from './decompose.ts';
import { DEPTH_LIMIT, searchToDepth } from './fixpoint.ts';
import { isKind } from './keywords-of-type.ts';
import { type Disjunct, EMPTY, joinResults, type Problem, type SearchResult, type Solver } from './problem.ts';
import { solveArray } from './solve-array.ts';
import { isOneOf, solveNumber } from './solve-number.ts';
import { solveObject } from './solve-object.ts';
import { solveText } from './solve-text.ts';

export type Containment =
  | { readonly kind: 'contained' }
  | { readonly kind: 'counterexample'; readonly witness: unknown }
  /** The keyword, or the limit, that stopped it. */
  | { readonly kind: 'undecided'; readonly why: string };

export const CONTAINED: Containment = { kind: 'contained' };

/**
 * How many questions may wait for one another. What is near is looked for first: a value that shows something is seldom
 * deep, and the first way down may lead through everything.
 */
const DEPTH_SCHEDULE = [12, 50, 300] as const;

/**
 * Does `b` hold everything that `a` describes? With `sent`, `a` is a sender's: properties that it does not declare never
 * come. Every witness was held against both schemas. Cost: bounded by its effort.
 */
export function isSubschema(
  a: Schema,
  b: Schema,
  side: Side,
  semantics: Exclude<Semantics, 'consumer'> = 'producer',
  answers: SearchCache = newSearchCache(),
  given?: AssumedEmpty,
  effort: Budget = 'full',
): Containment {
  if (dereference(a) === dereference(b)) return CONTAINED;
  const group = semantics === 'standard' ? 0 : newProducerId();
  const start: Problem = { pos: [{ schema: a, producerId: group }], neg: [b] };
  const found = search(start, side, answers, given, effort);
  if (found.kind === 'none') return CONTAINED;
  if (found.kind === 'undecided') return found;
  const { value } = found;
  const [sent, taken] = semantics === 'standard' ? (['standard', 'standard'] as const) : (['producer', 'consumer'] as const);
  if (!isValid(a, value, side, sent) || isValid(b, value, side, taken)) return { kind: 'undecided', why: 'oneOf' };
  return { kind: 'counterexample', witness: value };
}

/** A value that a sender may send under this schema; none where nobody can send anything. */
export function findInhabitant(schema: Schema, side: Side, answers: SearchCache = newSearchCache()): SearchResult {
  const found = search({ pos: [{ schema, producerId: newProducerId() }], neg: [] }, side, answers);
  return found.kind === 'witness' && !isValid(schema, found.value, side, 'producer')
    ? { kind: 'undecided', why: 'oneOf' }
    : found;
}

/** The same, found once for all who ask. */
export function cachedInhabitant(schema: Schema, side: Side, answers: SearchCache): SearchResult {
  const row = answers.holders.get(schema) ?? new Map<string, SearchResult>();
  answers.holders.set(schema, row);
  const found = row.get(side) ?? findInhabitant(schema, side, answers);
  row.set(side, found);
  return found;
}

/**
 * A value that has a part at this place that the second schema holds. None where there is no such value.
 * What was found for others is used again.
 */
export function findValueWithSubvalue(
  schema: Schema,
  pointer: string,
  part: Schema,
  side: Side,
  answers: SearchCache,
): SearchResult {
  const row = answers.holders.get(schema) ?? new Map<string, SearchResult>();
  answers.holders.set(schema, row);
  const name = `${idOf(part)} ${side} ${pointer}`;
  const results = row.get(name);
  if (results !== undefined) return results;
  const found = search(problemWithSubvalue(schema, pointer, part), side, answers);
  row.set(name, found);
  return found;
}

/** A value that has exactly this part at this place, and that a sender sends. */
export function findValueAround(schema: Schema, pointer: string, part: unknown, side: Side, answers: SearchCache): SearchResult {
  const found = search(problemWithSubvalue(schema, pointer, enumSchema([part])), side, answers);
  return found.kind === 'witness' && !isValid(schema, found.value, side, 'producer')
    ? { kind: 'undecided', why: 'oneOf' }
    : found;
}

/** A value that a sender of the whole sends, that is one of these forms of it, and that is not taken. */
export function findBranchCounterexample(
  whole: Schema,
  form: Schema,
  taken: Schema,
  side: Side,
  answers: SearchCache,
): SearchResult {
  const own = { schema: whole, producerId: newProducerId() };
  const found = search({ pos: [own, { schema: form, producerId: 0 }], neg: [taken] }, side, answers);
  if (found.kind !== 'witness') return found;
  const shows = isValid(whole, found.value, side, 'producer') && !isValid(taken, found.value, side, 'consumer');
  return shows ? found : { kind: 'undecided', why: 'oneOf' };
}

function problemWithSubvalue(schema: Schema, pointer: string, part: Schema): Problem {
  const has = pointerKeys(pointer).reduceRight((inner, key) => hasSubvalueSchema(key, inner), part);
  const own = { schema, producerId: newProducerId() };
  return { pos: [own, { schema: has, producerId: 0 }], neg: [] };
}

/** Every list or object that has such a part. */
function hasSubvalueSchema(key: string, part: Schema): Schema {
  const keywords: Keywords = {
    ...EMPTY_KEYWORDS,
    types: ['object', 'array'],
    properties: new Map([[key, part]]),
    required: [key],
    ...(/^\d+$/u.test(key)
      ? { minItems: Number(key) + 1, prefixItems: [...Array.from({ length: Number(key) }, () => TRUE_SCHEMA), part] }
      : { maxItems: 0, minItems: 1 }),
  };
  return { place: part.place, raw: undefined, keywords: () => keywords };
}

/** Subgoals that count as empty: proven already, or checked as pairs of their own. */
export type AssumedEmpty = (state: Problem) => boolean;

function search(start: Problem, side: Side, answers: SearchCache, given?: AssumedEmpty, effort: Budget = 'full'): SearchResult {
  const most = MAX_WAYS[answers.left > 0 ? effort : 'little'];
  // What rests on what is given is no answer for others.
  const own = given === undefined ? answers.known : new Map<string, SearchResult>();
  const tableOf = (key: string): Map<string, SearchResult> => (key.endsWith('-') ? answers.known : own);
  let ways = 0;
  const count = (): void => {
    ways += 1;
    answers.left -= 1;
    spend(300);
    if (ways > most) throw new LimitReached(`more than ${most} combinations`);
  };
  const taken = (state: Problem): boolean => state !== start && given?.(state) === true;
  try {
    for (const depth of DEPTH_SCHEDULE) {
      const found = searchToDepth(depth, { start, side, count, isProvenEmpty: taken, tableOf, solveAll });
      if (found !== DEPTH_LIMIT) return found;
    }
    return DEPTH_LIMIT;
  } catch (error) {
    if (error instanceof LimitReached) return { kind: 'undecided', why: error.message };
    if (error instanceof RangeError) {
      // A chain of references this long costs as much as many short ones.
      answers.left -= most;
      return DEPTH_LIMIT;
    }
    throw error;
  }
}

const KINDS: readonly JsonType[] = [...JSON_TYPES].reverse();

/** Seen at once, before all ways are gone through. */
function mayBe({ pos }: Problem, kind: JsonType): boolean {
  return pos.every(({ schema }) => {
    const k = schema.keywords();
    return typeof k === 'boolean' ? k : isKind(k, kind);
  });
}

function solveAll(state: Problem, solver: Solver): SearchResult {
  return trySimpleValues(state, solver) ?? decompose(state, solver) ?? solveByType(state, solver);
}

const SIMPLE: readonly unknown[] = [null, true, 7, 'abc', [], {}];

/** Where nothing has to hold, most often one of these will do. */
function trySimpleValues(state: Problem, solver: Solver): SearchResult | undefined {
  if (state.pos.length > 0) return undefined;
  const value = SIMPLE.find((v) => isSolution(v, state, solver));
  return value === undefined ? undefined : { kind: 'witness', value };
}

/** So many steps on the way count as one combination. */
const STEPS = 32;

function solveByType(state: Problem, solver: Solver): SearchResult {
  let found: SearchResult = EMPTY;
  for (const kind of KINDS) {
    if (!mayBe(state, kind)) continue;
    let steps = 0;
    // Ways that lead nowhere cost as well.
    const step = (): void => {
      steps += 1;
      if (steps % STEPS === 0) solver.count();
    };
    for (const way of expandBranches(state, kind, solver.side, step)) {
      solver.count();
      found = joinResults(found, solveDisjunct(way, state, solver));
      if (found.kind === 'witness') return found;
    }
  }
  return found;
}

function solveDisjunct(way: Disjunct, state: Problem, solver: Solver): SearchResult {
  const not = way.broken.flatMap(({ k, keyword }) => (keyword === 'enum' ? (k.enum ?? []) : []));
  const lists = way.pos.flatMap(({ k }) => (k.enum === undefined ? [] : [k.enum]));
  const [first] = lists;
  const hints = way.pos.flatMap(({ k }) => k.examples).filter((e) => jsonTypeOf(e) === way.kind && !isMapping(e));
  if (first !== undefined) {
    // A list of values is short enough to try each.
    const value = first.find(
      (v) => jsonTypeOf(v) === way.kind && lists.every((l) => isOneOf(v, l)) && !isOneOf(v, not) && isSolution(v, state, solver),
    );
    return value === undefined && !first.includes(undefined) ? EMPTY : { kind: 'witness', value };
  }
  switch (way.kind) {
    case 'null':
      return way.broken.length > 0 && isOneOf(null, not) ? EMPTY : { kind: 'witness', value: null };
    case 'boolean': {
      const value = [true, false].find((v) => !isOneOf(v, not));
      return value === undefined ? EMPTY : { kind: 'witness', value };
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
      return rejectListed(not, solveArray(way, solver));
    case 'object':
      return rejectListed(not, solveObject(way, solver));
    default:
      return way.kind satisfies never;
  }
}

function isSolution(value: unknown, { pos, neg }: Problem, { side }: Solver): boolean {
  const sent = pos.some((l) => l.producerId > 0);
  return (
    pos.every((l) => isValid(l.schema, value, side, l.producerId > 0 ? 'producer' : 'standard')) &&
    neg.every((s) => !isValid(s, value, side, sent ? 'consumer' : 'standard'))
  );
}

/** A list or an object that happens to be one of those that it must not be. */
function rejectListed(not: readonly unknown[], found: SearchResult): SearchResult {
  if (found.kind !== 'witness' || !not.some((v) => sameJson(v, found.value))) return found;
  return { kind: 'undecided', why: 'enum' };
}
