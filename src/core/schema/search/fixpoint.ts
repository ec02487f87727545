/** A search for a value, by questions that may lead back to themselves. */

import { isTextEqual } from '../equality/equal-pairs.ts';
import { idOf, type Schema } from '../model/schema.ts';
import type { Side } from '../model/side.ts';
import { isBranchNamesSchema } from '../normalise/declared-names.ts';
import { isObviouslyDisjoint } from '../normalise/disjoint.ts';
import { isSameBranchText } from '../normalise/union-view.ts';
import { canonicalKey, EMPTY, type Literal, type Problem, type SearchResult, type Solver } from './problem.ts';

/** Given up because it lies too deep. */
export const DEPTH_LIMIT: SearchResult = { kind: 'undecided', why: 'depth' };

export interface Search {
  readonly start: Problem;
  readonly side: Side;
  readonly count: () => void;
  /** Seen at once that there is nothing to find. */
  readonly isProvenEmpty: (state: Problem) => boolean;
  readonly tableOf: (key: string) => Map<string, SearchResult>;
  /** One question, by questions about its parts. */
  readonly solveAll: (state: Problem, solver: Solver) => SearchResult;
}

/**
 * Depth-limited search; depth counts goals in progress. What comes up again while it is being answered is taken
 * for answered with nothing, until something contradicts that.
 */
export function searchToDepth(depth: number, { start, side, count, isProvenEmpty, tableOf, solveAll }: Search): SearchResult {
  const inProgress = new Set<string>();
  /** Open questions that others took for answered with nothing, and what was found on that ground. */
  const assumedEmpty = new Set<string>();
  const conditional = new Set<string>();
  /** Questions that were given up because they lie too deep, and how deep could be looked then. */
  const cutOffAt = new Map<string, number>();
  const record = (key: string, found: SearchResult): void => {
    if (found.kind !== 'none') {
      // How deep one may look depends on where it was asked.
      if (found === DEPTH_LIMIT) cutOffAt.set(key, depth - inProgress.size);
      else tableOf(key).set(key, found);
      // Somebody relied on nothing being there.
      if (assumedEmpty.has(key)) conditional.clear();
    } else if (found.firm) tableOf(key).set(key, found);
    else conditional.add(key);
    if (inProgress.size > 0) return;
    // Nothing contradicts what was assumed, so all of it holds.
    for (const k of conditional) tableOf(k).set(k, EMPTY);
    conditional.clear();
  };
  const solver: Solver = {
    side,
    count,
    solve: (asked) => {
      // At the root the disjointness test rarely helps and costs as much as solving.
      const state = inProgress.size === 0 ? dedupe(asked) : pruneNegatives(asked, side);
      if (state === undefined || isProvenEmpty(asked)) return EMPTY;
      const key = canonicalKey(state);
      const done = tableOf(key).get(key);
      if (done !== undefined) return done;
      if (conditional.has(key)) return { kind: 'none', firm: false };
      if (inProgress.has(key)) {
        assumedEmpty.add(key);
        return { kind: 'none', firm: false };
      }
      const left = depth - inProgress.size;
      if (left <= 0 || (cutOffAt.get(key) ?? 0) >= left) return DEPTH_LIMIT;
      inProgress.add(key);
      const found = solveAll(state, solver);
      inProgress.delete(key);
      record(key, found);
      return found;
    },
  };
  return solver.solve(start);
}

/** Without what the value can't be anyway; undefined where something that must not hold takes all of it. */
function pruneNegatives(asked: Problem, side: Side): Problem | undefined {
  const state = dedupe(asked);
  const { pos, neg } = state;
  if (pos.length === 0 || neg.length === 0) return state;
  const left: Schema[] = [];
  const { plain, counted } = seen[side];
  // Who sends it is all the same to what lies apart.
  const held =
    pos.length === 1
      ? pos
      : [...new Map(pos.map((l) => [idOf(l.schema) * 2 + (l.isExclusiveBranch === true ? 1 : 0), l])).values()];
  for (const schema of neg) {
    let isApart = false;
    for (const literal of held) {
      if (isBranchNamesSchema(literal.schema)) continue;
      const how = quickRelation(literal, schema, side, literal.isExclusiveBranch === true ? counted : plain);
      if (how === 'contained') return undefined;
      isApart ||= how === 'disjoint';
    }
    if (!isApart) left.push(schema);
  }
  return left.length === neg.length ? state : { ...state, neg: left };
}

/** Everything once: unions within unions say the same over and over. */
function dedupe(state: Problem): Problem {
  const neg = state.neg.length < 2 ? state.neg : [...new Set(state.neg)];
  const pos = state.pos.length < 2 ? state.pos : distinct(state.pos);
  return neg.length === state.neg.length && pos.length === state.pos.length ? state : { ...state, pos, neg };
}

function distinct(pos: readonly Literal[]): readonly Literal[] {
  const groups = new Map<Schema, Literal[]>();
  return pos.filter((literal) => {
    const known = groups.get(literal.schema);
    if (known === undefined) groups.set(literal.schema, [literal]);
    else if (known.some((k) => k.producerId === literal.producerId && k.isExclusiveBranch === literal.isExclusiveBranch))
      return false;
    else known.push(literal);
    return true;
  });
}

type QuickRelation = 'contained' | 'disjoint' | 'unknown';

type Table = WeakMap<Schema, Map<number, QuickRelation>>;

const tables = (): { readonly plain: Table; readonly counted: Table } => ({ plain: new WeakMap(), counted: new WeakMap() });
const seen = { request: tables(), response: tables(), either: tables() };

/** How two schemas that are held and not held lie to each other, remembered. */
function quickRelation({ schema, isExclusiveBranch = false }: Literal, other: Schema, side: Side, table: Table): QuickRelation {
  const row = table.get(schema) ?? new Map<number, QuickRelation>();
  if (row.size === 0) table.set(schema, row);
  const known = row.get(idOf(other));
  if (known !== undefined) return known;
  // A schema always takes what it sends.
  const takes = isTextEqual(schema, other) || (isExclusiveBranch && isSameBranchText(schema, other));
  const how = takes ? 'contained' : isObviouslyDisjoint(schema, other, side) ? 'disjoint' : 'unknown';
  row.set(idOf(other), how);
  return how;
}
