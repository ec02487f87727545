/** Does a value fit a schema (JSON Schema 2020-12 Validation)? With the place in the value, and what was expected there. */

import { isMapping, sameJson } from '../../base/json.ts';
import { spend } from '../../language/limits.ts';
import { cachedComparison } from '../equality/equal-pairs.ts';
import { isType, listed, noFormWords, typeName, wordsOf } from '../model/json-types.ts';
import { dereference, hasNoInPlaceApplicators, idOf, type Keywords, type Schema } from '../model/schema.ts';
import type { Semantics, Side } from '../model/side.ts';
import { asNegation, matchingBranches } from './one-of.ts';
import { EMPTY_SCOPE } from './scope.ts';
import { type MemoisedValue, memoisedValue } from './shared-values.ts';
import { evaluateArray } from './validate-array.ts';
import { evaluateObject } from './validate-object.ts';
import { validateScalar } from './validate-scalars.ts';
import {
  addError,
  childContext,
  type EvaluatedLocations,
  type EvaluationContext,
  errorWeight,
  mergeEvaluated,
  nearest,
  ROOT_WEIGHT,
  type Steps,
  type ValidationError,
} from './validation.ts';

/** How deep a value is followed; deeper ones are taken to fit. */
const MAX_DEPTH = 300;

/** Everything that keeps the value out of the schema; nothing when it fits. Cost: size of the value times the schemas on it. */
export function validate(
  schema: Schema,
  value: unknown,
  side: Side = 'either',
  semantics: Semantics = 'standard',
): readonly ValidationError[] {
  return runValidation(schema, value, side, semantics, false);
}

export function isValid(schema: Schema, value: unknown, side: Side = 'either', semantics: Semantics = 'standard'): boolean {
  return runValidation(schema, value, side, semantics, true).length === 0;
}

function runValidation(
  schema: Schema,
  value: unknown,
  side: Side,
  semantics: Semantics,
  hasty: boolean,
): readonly ValidationError[] {
  const judge: EvaluationContext = {
    side,
    semantics,
    beside: EMPTY_SCOPE,
    misfits: [],
    depth: 0,
    tracksEvaluated: false,
    failFast: hasty,
    resultCache: new WeakMap(),
  };
  evaluate(judge, schema, value, '');
  return judge.misfits;
}

function evaluate(judge: EvaluationContext, schema: Schema, value: unknown, at: string): EvaluatedLocations | undefined {
  if (!judge.failFast || judge.tracksEvaluated || judge.beside !== EMPTY_SCOPE || typeof value !== 'object' || value === null)
    return evaluateUncached(judge, schema, value, at);
  const kept = memoisedValue(value);
  if (kept === undefined) return evaluateUncached(judge, schema, value, at);
  const { misfits: found } = judge;
  if (found.length > 0) return undefined;
  if (!isFitting(judge, dereference(schema), value, kept) && found.length === 0) addError(judge, at, '', '');
  return undefined;
}

function isFitting(judge: EvaluationContext, schema: Schema, value: object, { of, side, known }: MemoisedValue): boolean {
  // A schema takes what its sender sends, and so does one that says the same.
  const sent = judge.semantics !== 'standard' && (side === judge.side || side === 'either');
  if (sent && (schema === of || cachedComparison(of, schema)?.differs === false)) return true;
  const asked = `${judge.side} ${judge.semantics}`;
  const row = known.get(asked) ?? new Map<Schema, boolean>();
  known.set(asked, row);
  const before = row.get(schema);
  if (before !== undefined) return before;
  evaluateUncached(judge, schema, value, '');
  const fitting = judge.misfits.length === 0;
  row.set(schema, fitting);
  return fitting;
}

function evaluateUncached(judge: EvaluationContext, schema: Schema, value: unknown, at: string): EvaluatedLocations | undefined {
  spend(20);
  const k = schema.keywords();
  if (k === true || judge.depth > MAX_DEPTH || (judge.failFast && judge.misfits.length > 0)) return undefined;
  if (k === false) return addError(judge, at, 'false', 'nothing may stand here');
  if (k.types !== undefined && !k.types.some((t) => isType(value, t)))
    addError(judge, at, 'type', `expected ${k.types.map(typeName).join(' or ')}, found ${wordsOf(value)}`);
  if (k.enum !== undefined && !k.enum.some((e) => sameJson(e, value))) {
    const hint = typeof value === 'string' ? nearest(judge, value, k.enum) : '';
    addError(judge, at, 'enum', `expected ${listed(k.enum)}, found ${wordsOf(value)}${hint}`);
  }
  for (const [keyword, message] of validateScalar(k, value)) addError(judge, at, keyword, message);
  const together = !hasNoInPlaceApplicators(k);
  const compound = typeof value === 'object' && value !== null;
  if (!together && !compound) return undefined;
  const tracks = judge.tracksEvaluated || k.unevaluatedProperties !== undefined || k.unevaluatedItems !== undefined;
  const seen: EvaluatedLocations | undefined = tracks ? { names: new Set(), items: new Set() } : undefined;
  const inner = childContext(judge, EMPTY_SCOPE, false);
  const beside = !together || judge.semantics === 'standard' ? EMPTY_SCOPE : judge.beside.extend(k);
  if (together) evaluateApplicators(childContext(judge, beside, tracks), k, value, at, seen);
  if (Array.isArray(value)) evaluateArray(STEPS, inner, k, value, at, seen);
  if (isMapping(value)) evaluateObject(STEPS, inner, k, value, at, seen);
  return seen;
}

/** Other schemas that are said of the same value. */
function evaluateApplicators(
  judge: EvaluationContext,
  k: Keywords,
  value: unknown,
  at: string,
  seen: EvaluatedLocations | undefined,
): void {
  if (k.ref !== undefined) mergeEvaluated(seen, evaluate(judge, k.ref, value, at));
  if (isMapping(value))
    for (const [name, schema] of k.dependentSchemas)
      if (Object.hasOwn(value, name)) mergeEvaluated(seen, evaluate(judge, schema, value, at));
  for (const all of k.allOf) mergeEvaluated(seen, evaluate(judge, all, value, at));
  if (k.anyOf !== undefined) evaluateAnyOf(judge, k.anyOf, value, at, seen, 'anyOf');
  if (k.oneOf !== undefined) evaluateAnyOf(judge, k.oneOf, value, at, seen, 'oneOf');
  if (k.not !== undefined && tryBranch(asNegation(judge), k.not, value).ok)
    addError(judge, at, 'not', `expected anything but what is forbidden here, found ${wordsOf(value)}`);
  if (k.if !== undefined) {
    const test = tryBranch(judge, k.if, value);
    if (test.ok) mergeEvaluated(seen, test.seen);
    const branch = test.ok ? k.then : k.else;
    // What a condition takes, and nobody who means it sends.
    if (!test.ok && judge.semantics === 'producer' && tryBranch(asNegation(judge), k.if, value).ok)
      addError(judge, at, 'if', `expected what is meant by the condition here or is none of it, found ${wordsOf(value)}`);
    if (branch !== undefined) mergeEvaluated(seen, evaluate(judge, branch, value, at));
  }
}

function evaluateAnyOf(
  judge: EvaluationContext,
  members: readonly Schema[],
  value: unknown,
  at: string,
  seen: EvaluatedLocations | undefined,
  keyword: 'anyOf' | 'oneOf',
): void {
  const tries = members.map((m) => tryBranch(judge, m, value));
  const fitting =
    keyword === 'anyOf' || judge.semantics === 'standard'
      ? tries.filter((t) => t.ok)
      : matchingBranches(judge, members, tries, value, tryBranch);
  for (const t of fitting) mergeEvaluated(seen, t.seen);
  if (fitting.length === 1 || (fitting.length > 1 && keyword === 'anyOf')) return;
  if (fitting.length > 1) {
    addError(judge, at, keyword, `expected exactly one of ${members.length} forms, and ${fitting.length} fit`);
    return;
  }
  // The member that the value came nearest to says most.
  const [best] = tries.filter((t) => t.misfits.length > 0).sort((a, b) => errorWeight(a.misfits) - errorWeight(b.misfits));
  if (best !== undefined && errorWeight(best.misfits) < ROOT_WEIGHT)
    judge.misfits.push(...best.misfits.map((m) => ({ ...m, pointer: at + m.pointer })));
  else addError(judge, at, keyword, noFormWords(members.length, value));
}

function tryBranch(
  judge: EvaluationContext,
  schema: Schema,
  value: unknown,
): { ok: boolean; seen: EvaluatedLocations | undefined; misfits: readonly ValidationError[] } {
  const own: EvaluationContext = { ...judge, misfits: [] };
  if (!judge.failFast || judge.tracksEvaluated || judge.semantics === 'standard' || typeof value !== 'object' || value === null) {
    const seen = evaluate(own, schema, value, '');
    return { ok: own.misfits.length === 0, seen, misfits: own.misfits };
  }
  // Forms within forms are asked about again and again, as who sends them means them and as who receives them takes them.
  const row = judge.resultCache.get(value) ?? new Map<string, boolean>();
  judge.resultCache.set(value, row);
  const asked = `${judge.semantics} ${judge.beside.id} ${idOf(schema)}`;
  const known = row.get(asked);
  if (known === undefined) evaluate(own, schema, value, '');
  const ok = known ?? own.misfits.length === 0;
  row.set(asked, ok);
  return { ok, seen: undefined, misfits: own.misfits };
}

/** What arrays and objects need of their parts. */
const STEPS: Steps = { evaluate, isMatch: (judge, schema, value) => tryBranch(judge, schema, value).ok };
