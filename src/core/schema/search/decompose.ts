/**
 * Questions about unions and about schemas of several parts, put as questions about these before anything is combined: what
 * one form alone rules out needs no combination with the others, and what answers for one form often answers for all.
 */

import { dereference, type Schema } from '../model/schema.ts';
import { collectDeclaredNames, isBranchNamesSchema, joinDeclared, siblingNames } from '../normalise/declared-names.ts';
import { isObviouslyDisjoint } from '../normalise/disjoint.ts';
import { branchesToExclude, otherBranchNames, overlappingBranchPairs } from '../normalise/sibling-branches.ts';
import { closeOverSiblings } from '../normalise/sibling-scope.ts';
import { asConjunction, asUnion } from '../normalise/union-view.ts';
import { isValid } from '../validate/validate.ts';
import { newProducerId } from './branches.ts';
import { EMPTY, joinResults, type Literal, type Problem, type SearchResult, type Solver } from './problem.ts';

/** Undefined where there is nothing to split. */
export function decompose(state: Problem, solver: Solver): SearchResult | undefined {
  const { pos, neg } = state;
  const whole = pos.find((l) => asConjunction(l.schema) !== undefined);
  if (whole !== undefined) return satisfyConjunction(whole, state, solver);
  const held = pos.find((l) => asUnion(l.schema) !== undefined);
  if (held !== undefined) return satisfyUnion(held, state, solver);
  if (neg.some((n) => asConjunction(n)?.length === 1)) return inlineSingleton(state, solver);
  const parted = neg.find((n) => asConjunction(n) !== undefined);
  if (parted !== undefined) return refuteConjunction(parted, state, solver);
  const broken = neg.find((n) => asUnion(n) !== undefined);
  if (broken !== undefined) return refuteUnion(broken, state, solver);
  return neg.length > 1 ? refuteSeparately(state, solver) : undefined;
}

function isSent({ pos }: Problem): boolean {
  return pos.some((l) => l.producerId > 0);
}

/** The value fits all parts, which declare together what a sender sends. */
function satisfyConjunction(whole: Literal, { pos, neg, at }: Problem, solver: Solver): SearchResult {
  const parts = (asConjunction(whole.schema) ?? []).map((schema): Literal => ({ ...whole, schema }));
  return solver.solve({ pos: [...pos.filter((l) => l !== whole), ...parts], neg, at });
}

/** What has one part is that part: of many forms each may be. */
function inlineSingleton(state: Problem, solver: Solver): SearchResult {
  const neg = state.neg.map((n) => (asConjunction(n)?.length === 1 ? (partsThere(n, state)[0] as Schema) : n));
  return solver.solve({ ...state, neg });
}

/** One of the parts does not hold. */
function refuteConjunction(parted: Schema, state: Problem, solver: Solver): SearchResult {
  const rest = state.neg.filter((n) => n !== parted);
  let found: SearchResult = EMPTY;
  for (const part of partsThere(parted, state)) {
    solver.count();
    found = joinResults(found, solver.solve({ ...state, neg: [...rest, part] }));
    if (found.kind === 'witness') return found;
  }
  return found;
}

/** The parts as a receiver reads them where they stand. */
function partsThere(parted: Schema, state: Problem): readonly Schema[] {
  const parts = asConjunction(parted) ?? [];
  const k = dereference(parted).keywords();
  const beside = typeof k === 'object' && isSent(state) ? siblingNames([k], 'consumer') : undefined;
  return beside === undefined ? parts : parts.map((part) => closeOverSiblings(part, beside));
}

/** The value is one of the forms; which others it must not be depends on who reads it. */
function satisfyUnion(held: Literal, state: Problem, solver: Solver): SearchResult {
  const { forms, exclusive, beside: own, declaring } = asUnion(held.schema) as NonNullable<ReturnType<typeof asUnion>>;
  const rest = state.pos.filter((l) => l !== held);
  const reading =
    !exclusive || (held.producerId === 0 && isSent(state)) ? 'consumer' : held.producerId === 0 ? 'standard' : 'producer';
  const declared = joinDeclared([
    own,
    collectDeclaredNames(rest.filter((l) => l.producerId === held.producerId).map((l) => l.schema)),
  ]);
  const beside = reading === 'producer' ? declared : own;
  const more = declaring === undefined || held.producerId === 0 ? [] : [declaring];
  let found: SearchResult = EMPTY;
  // Every value of a form that is apart from what must not be shows it.
  const free = (form: Schema): boolean => state.neg.every((n) => isObviouslyDisjoint(form, n, solver.side));
  for (const form of state.neg.length === 0 ? forms : [...forms.filter(free), ...forms.filter((f) => !free(f))]) {
    solver.count();
    const also = exclusive || held.producerId === 0 ? [] : otherBranchNames(form, forms, solver.side, declared);
    const sub = {
      pos: [...rest, ...[form, ...also, ...more].map((schema): Literal => ({ ...held, schema }))],
      neg: [...state.neg, ...branchesToExclude(form, forms, reading, beside, solver.side)],
      at: state.at,
    };
    found = joinResults(found, solver.solve(sub));
    if (found.kind === 'witness') return found;
  }
  return found;
}

/** The value is none of the forms, or two of those that exclude one another. */
function refuteUnion(broken: Schema, state: Problem, solver: Solver): SearchResult {
  const { forms, exclusive, beside } = asUnion(broken) as NonNullable<ReturnType<typeof asUnion>>;
  const neg = state.neg.filter((n) => n !== broken);
  const sent = isSent(state);
  solver.count();
  const none = sent ? forms.map((f) => closeOverSiblings(f, beside)) : forms;
  let found = solver.solve({ pos: state.pos, neg: [...neg, ...none], at: state.at });
  if (found.kind === 'witness' || !exclusive) return found;
  const could = forms.filter(
    (f) => !state.pos.some((l) => !isBranchNamesSchema(l.schema) && isObviouslyDisjoint(l.schema, f, solver.side)),
  );
  for (const pair of overlappingBranchPairs(could, sent, beside, solver.side)) {
    solver.count();
    // As a sender means each of them.
    const both = pair.map(
      (schema): Literal => (sent ? { schema, producerId: newProducerId(), isExclusiveBranch: true } : { schema, producerId: 0 }),
    );
    found = joinResults(found, solver.solve({ pos: [...state.pos, ...both], neg, at: state.at }));
    if (found.kind === 'witness') return found;
  }
  return found;
}

/**
 * Each that must not hold by itself, then those together that the value found last still fits; undefined where that doesn't
 * settle it. What takes everything takes every value that is found, so that only what took all of them is asked.
 */
function refuteSeparately({ pos, neg, at }: Problem, solver: Solver): SearchResult | undefined {
  const count = isSent({ pos, neg }) ? 'consumer' : 'standard';
  const still = (value: unknown): readonly Schema[] => neg.filter((n) => isValid(n, value, solver.side, count));
  let left: readonly Schema[] = neg;
  let best: { readonly need: readonly Schema[]; readonly fitting: readonly Schema[] } | undefined;
  for (const one of neg) {
    if (!left.includes(one)) continue;
    const found = solver.solve({ pos, neg: [one], at });
    if (found.kind === 'none') return found;
    if (found.kind !== 'witness') continue;
    const fitting = still(found.value);
    if (fitting.length === 0) return found;
    if (best === undefined || fitting.length < best.fitting.length) best = { need: [one], fitting };
    left = left.filter((n) => fitting.includes(n));
  }
  while (best !== undefined && best.need.length + 1 < neg.length) {
    const need: readonly Schema[] = [...best.need, best.fitting[0] as Schema];
    const found = solver.solve({ pos, neg: need, at });
    if (found.kind === 'none') return found;
    if (found.kind !== 'witness') return undefined;
    const fitting = still(found.value);
    if (fitting.length === 0) return found;
    best = { need, fitting };
  }
  return undefined;
}
