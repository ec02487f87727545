/**
 * Questions about unions and about schemas of several parts, put as questions about these before anything is combined: what
 * one form alone rules out needs no combination with the others, and what answers for one form often answers for all.
 */

import { type Schema, target } from '../model/schema.ts';
import { declaredBeside, declaredNames, isSharedSchema, together } from '../normalise/declared-names.ts';
import { apart } from '../normalise/disjoint.ts';
import { excluded, formPairs, sentBeside } from '../normalise/sibling-branches.ts';
import { besideThese } from '../normalise/sibling-scope.ts';
import { partsOf, unionOf } from '../normalise/union-view.ts';
import { fits } from '../validate/validate.ts';
import { freshGroup } from './branches.ts';
import { better, type Found, type Literal, NOT_FOUND, type Solver, type State } from './problem.ts';

/** Undefined where there is nothing to split. */
export function split(state: State, solver: Solver): Found | undefined {
  const { pos, neg } = state;
  const whole = pos.find((l) => partsOf(l.schema) !== undefined);
  if (whole !== undefined) return allParts(whole, state, solver);
  const held = pos.find((l) => unionOf(l.schema) !== undefined);
  if (held !== undefined) return eachForm(held, state, solver);
  if (neg.some((n) => partsOf(n)?.length === 1)) return unwrapped(state, solver);
  const parted = neg.find((n) => partsOf(n) !== undefined);
  if (parted !== undefined) return somePart(parted, state, solver);
  const broken = neg.find((n) => unionOf(n) !== undefined);
  if (broken !== undefined) return noForm(broken, state, solver);
  return neg.length > 1 ? oneByOne(state, solver) : undefined;
}

function isSent({ pos }: State): boolean {
  return pos.some((l) => l.group > 0);
}

/** The value fits all parts, which declare together what a sender sends. */
function allParts(whole: Literal, { pos, neg, at }: State, solver: Solver): Found {
  const parts = (partsOf(whole.schema) ?? []).map((schema): Literal => ({ ...whole, schema }));
  return solver.solve({ pos: [...pos.filter((l) => l !== whole), ...parts], neg, at });
}

/** What has one part is that part: of many forms each may be. */
function unwrapped(state: State, solver: Solver): Found {
  const neg = state.neg.map((n) => (partsOf(n)?.length === 1 ? (partsThere(n, state)[0] as Schema) : n));
  return solver.solve({ ...state, neg });
}

/** One of the parts does not hold. */
function somePart(parted: Schema, state: State, solver: Solver): Found {
  const rest = state.neg.filter((n) => n !== parted);
  let found: Found = NOT_FOUND;
  for (const part of partsThere(parted, state)) {
    solver.count();
    found = better(found, solver.solve({ ...state, neg: [...rest, part] }));
    if (found.kind === 'witness') return found;
  }
  return found;
}

/** The parts as a receiver reads them where they stand. */
function partsThere(parted: Schema, state: State): readonly Schema[] {
  const parts = partsOf(parted) ?? [];
  const k = target(parted).keywords();
  const beside = typeof k === 'object' && isSent(state) ? declaredBeside([k], 'receiver') : undefined;
  return beside === undefined ? parts : parts.map((part) => besideThese(part, beside));
}

/** The value is one of the forms; which others it must not be depends on who reads it. */
function eachForm(held: Literal, state: State, solver: Solver): Found {
  const { forms, exclusive, beside: own, declaring } = unionOf(held.schema) as NonNullable<ReturnType<typeof unionOf>>;
  const rest = state.pos.filter((l) => l !== held);
  const reading = !exclusive || (held.group === 0 && isSent(state)) ? 'taken' : held.group === 0 ? 'written' : 'sent';
  const declared = together([own, declaredNames(rest.filter((l) => l.group === held.group).map((l) => l.schema))]);
  const beside = reading === 'sent' ? declared : own;
  const more = declaring === undefined || held.group === 0 ? [] : [declaring];
  let found: Found = NOT_FOUND;
  // Every value of a form that is apart from what must not be shows it.
  const free = (form: Schema): boolean => state.neg.every((n) => apart(form, n, solver.side));
  for (const form of state.neg.length === 0 ? forms : [...forms.filter(free), ...forms.filter((f) => !free(f))]) {
    solver.count();
    const also = exclusive || held.group === 0 ? [] : sentBeside(form, forms, solver.side, declared);
    const sub = {
      pos: [...rest, ...[form, ...also, ...more].map((schema): Literal => ({ ...held, schema }))],
      neg: [...state.neg, ...excluded(form, forms, reading, beside, solver.side)],
      at: state.at,
    };
    found = better(found, solver.solve(sub));
    if (found.kind === 'witness') return found;
  }
  return found;
}

/** The value is none of the forms, or two of those that exclude one another. */
function noForm(broken: Schema, state: State, solver: Solver): Found {
  const { forms, exclusive, beside } = unionOf(broken) as NonNullable<ReturnType<typeof unionOf>>;
  const neg = state.neg.filter((n) => n !== broken);
  const sent = isSent(state);
  solver.count();
  const none = sent ? forms.map((f) => besideThese(f, beside)) : forms;
  let found = solver.solve({ pos: state.pos, neg: [...neg, ...none], at: state.at });
  if (found.kind === 'witness' || !exclusive) return found;
  const could = forms.filter((f) => !state.pos.some((l) => !isSharedSchema(l.schema) && apart(l.schema, f, solver.side)));
  for (const pair of formPairs(could, sent, beside, solver.side)) {
    solver.count();
    // As a sender means each of them.
    const both = pair.map((schema): Literal => (sent ? { schema, group: freshGroup(), counted: true } : { schema, group: 0 }));
    found = better(found, solver.solve({ pos: [...state.pos, ...both], neg, at: state.at }));
    if (found.kind === 'witness') return found;
  }
  return found;
}

/**
 * Each that must not hold by itself, then those together that the value found last still fits; undefined where that doesn't
 * settle it. What takes everything takes every value that is found, so that only what took all of them is asked.
 */
function oneByOne({ pos, neg, at }: State, solver: Solver): Found | undefined {
  const count = isSent({ pos, neg }) ? 'taken' : 'written';
  const still = (value: unknown): readonly Schema[] => neg.filter((n) => fits(n, value, solver.side, count));
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
