/** A search for a value, by questions that may lead back to themselves. */

import { sameText } from '../equality/equal-pairs.ts';
import { idOf, type Schema } from '../model/schema.ts';
import type { Side } from '../model/side.ts';
import { isSharedSchema } from '../normalise/declared-names.ts';
import { apart } from '../normalise/disjoint.ts';
import { sameForm } from '../normalise/union-view.ts';
import { type Found, type Literal, NOT_FOUND, type Solver, type State, stateKey } from './problem.ts';

/** Given up because it lies too deep. */
export const TOO_DEEP: Found = { kind: 'undecided', why: 'depth' };

export interface Search {
  readonly start: State;
  readonly side: Side;
  readonly count: () => void;
  /** Seen at once that there is nothing to find. */
  readonly taken: (state: State) => boolean;
  readonly tableOf: (key: string) => Map<string, Found>;
  /** One question, by questions about its parts. */
  readonly solveAll: (state: State, solver: Solver) => Found;
}

/**
 * Looks no deeper than so many questions that wait for one another. What comes up again while it is being answered is taken
 * for answered with nothing, until something contradicts that.
 */
export function searchTo(depth: number, { start, side, count, taken, tableOf, solveAll }: Search): Found {
  const open = new Set<string>();
  /** Open questions that others took for answered with nothing, and what was found on that ground. */
  const assumed = new Set<string>();
  const pending = new Set<string>();
  /** Questions that were given up because they lie too deep, and how deep could be looked then. */
  const given = new Map<string, number>();
  const settle = (key: string, found: Found): void => {
    if (found.kind !== 'none') {
      // How deep one may look depends on where it was asked.
      if (found === TOO_DEEP) given.set(key, depth - open.size);
      else tableOf(key).set(key, found);
      // Somebody relied on nothing being there.
      if (assumed.has(key)) pending.clear();
    } else if (found.firm) tableOf(key).set(key, found);
    else pending.add(key);
    if (open.size > 0) return;
    // Nothing contradicts what was assumed, so all of it holds.
    for (const k of pending) tableOf(k).set(k, NOT_FOUND);
    pending.clear();
  };
  const solver: Solver = {
    side,
    count,
    solve: (asked) => {
      // What is asked first seldom lies apart, and to see that takes as long as the answer.
      const state = open.size === 0 ? once(asked) : lean(asked, side);
      if (state === undefined || taken(asked)) return NOT_FOUND;
      const key = stateKey(state);
      const done = tableOf(key).get(key);
      if (done !== undefined) return done;
      if (pending.has(key)) return { kind: 'none', firm: false };
      if (open.has(key)) {
        assumed.add(key);
        return { kind: 'none', firm: false };
      }
      const left = depth - open.size;
      if (left <= 0 || (given.get(key) ?? 0) >= left) return TOO_DEEP;
      open.add(key);
      const found = solveAll(state, solver);
      open.delete(key);
      settle(key, found);
      return found;
    },
  };
  return solver.solve(start);
}

/** Without what the value can't be anyway; undefined where something that must not hold takes all of it. */
function lean(asked: State, side: Side): State | undefined {
  const state = once(asked);
  const { pos, neg } = state;
  if (pos.length === 0 || neg.length === 0) return state;
  const left: Schema[] = [];
  const { plain, counted } = seen[side];
  // Who sends it is all the same to what lies apart.
  const held =
    pos.length === 1 ? pos : [...new Map(pos.map((l) => [idOf(l.schema) * 2 + (l.counted === true ? 1 : 0), l])).values()];
  for (const schema of neg) {
    let isApart = false;
    for (const literal of held) {
      if (isSharedSchema(literal.schema)) continue;
      const how = between(literal, schema, side, literal.counted === true ? counted : plain);
      if (how === 'taken') return undefined;
      isApart ||= how === 'apart';
    }
    if (!isApart) left.push(schema);
  }
  return left.length === neg.length ? state : { ...state, neg: left };
}

/** Everything once: unions within unions say the same over and over. */
function once(state: State): State {
  const neg = state.neg.length < 2 ? state.neg : [...new Set(state.neg)];
  const pos = state.pos.length < 2 ? state.pos : distinct(state.pos);
  return neg.length === state.neg.length && pos.length === state.pos.length ? state : { ...state, pos, neg };
}

function distinct(pos: readonly Literal[]): readonly Literal[] {
  const groups = new Map<Schema, Literal[]>();
  return pos.filter((literal) => {
    const known = groups.get(literal.schema);
    if (known === undefined) groups.set(literal.schema, [literal]);
    else if (known.some((k) => k.group === literal.group && k.counted === literal.counted)) return false;
    else known.push(literal);
    return true;
  });
}

type Between = 'taken' | 'apart' | 'unseen';

type Table = WeakMap<Schema, Map<number, Between>>;

const tables = (): { readonly plain: Table; readonly counted: Table } => ({ plain: new WeakMap(), counted: new WeakMap() });
const seen = { request: tables(), response: tables(), either: tables() };

/** How two schemas that are held and not held lie to each other, remembered. */
function between({ schema, counted = false }: Literal, other: Schema, side: Side, table: Table): Between {
  const row = table.get(schema) ?? new Map<number, Between>();
  if (row.size === 0) table.set(schema, row);
  const known = row.get(idOf(other));
  if (known !== undefined) return known;
  // A schema always takes what it sends.
  const takes = sameText(schema, other) || (counted && sameForm(schema, other));
  const how = takes ? 'taken' : apart(schema, other, side) ? 'apart' : 'unseen';
  row.set(idOf(other), how);
  return how;
}
