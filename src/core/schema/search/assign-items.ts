/** Items put one behind the other, until all that is asked of a list is so. */
import { sameJson } from '../../base/json.ts';
import { appendPointer } from '../../base/place.ts';
import type { Schema } from '../model/schema.ts';
import { evaluatorsOfItem } from '../normalise/evaluated-items.ts';
import { enumSchema, newProducerId } from './branches.ts';
import { type Disjunct, EMPTY, joinResults, type Literal, type Problem, type SearchResult, type Solver } from './problem.ts';

/** Lists longer than this are not written out: where all items differ, or else. */
const MOST_ITEMS = { unique: 300, other: 10_000 } as const;
/** What one item may be besides; with more of it the list is undecided. */
const MOST_OPTIONS = 256;

/** What is asked of a list. */
export interface ArrayPlan {
  /** Of its length. */
  readonly low: number;
  readonly high: number;
  readonly counts: readonly ContainsBound[];
  readonly needs: readonly RequiredItem[];
  /** Two places that hold the same, the earlier first. */
  readonly twice: readonly [number, number] | undefined;
  /** All items differ. */
  readonly unique: boolean;
}

/** How many items a schema holds. */
export interface ContainsBound {
  readonly schema: Schema;
  readonly low: number;
  readonly high: number;
}

/** An item at this place, or at it or any behind it, that is none of these. */
export interface RequiredItem {
  readonly at: number;
  readonly isTail: boolean;
  readonly neg: readonly Schema[];
}

/** What an item is besides what its place asks for. */
interface ItemChoice {
  /** The needs that it meets. */
  readonly meets: ReadonlySet<RequiredItem>;
  /** Which of the counts hold it, do not, or are left open. */
  readonly held: readonly (boolean | undefined)[];
  /** What looks at it, for each `unevaluatedItems`: none, or the one at this index. */
  readonly looked: readonly number[];
}

/** A list that answers. Behind the special places order does not matter. Counts each item that is tried. */
export function assignItems(way: Disjunct, goal: ArrayPlan, special: number, solver: Solver): SearchResult {
  const length = Math.max(goal.low, ...goal.counts.map((c) => c.low));
  if (length > MOST_ITEMS[goal.unique ? 'unique' : 'other']) return { kind: 'undecided', why: 'minItems' };
  const options = optionsOf(way, goal, special);
  if (options === undefined) return { kind: 'undecided', why: 'contains' };
  return new ItemAssignment(way, goal, special, solver, options).next([], 0);
}

/** Those that meet most first. */
function optionsOf(way: Disjunct, { needs, counts }: ArrayPlan, special: number): readonly ItemChoice[] | undefined {
  let options: readonly ItemChoice[] = [{ meets: new Set(), held: [], looked: [] }];
  const each = <T>(list: readonly T[], add: (option: ItemChoice, one: T) => readonly ItemChoice[]): boolean => {
    for (const one of list) if (options.length <= MOST_OPTIONS) options = options.flatMap((o) => add(o, one));
    return options.length <= MOST_OPTIONS;
  };
  const rests = way.pos.filter(({ k }) => k.unevaluatedItems !== undefined);
  const fine =
    each(needs, (o, need) => [{ ...o, meets: new Set([...o.meets, need]) }, o]) &&
    each(counts, (o, { high }) =>
      [true, high === Infinity ? undefined : false].map((h): ItemChoice => ({ ...o, held: [...o.held, h] })),
    ) &&
    each(rests, (o, { k }) => {
      const lookers = evaluatorsOfItem(k, special, way.pos);
      const n = lookers === 'always' ? 0 : lookers.length;
      return Array.from({ length: n + 1 }, (_, i) => ({ ...o, looked: [...o.looked, i - 1] }));
    });
  const weight = ({ meets, held }: ItemChoice): number => meets.size + held.filter((h) => h === true).length;
  return fine ? [...options].sort((a, b) => weight(b) - weight(a)) : undefined;
}

class ItemAssignment {
  private out: unknown[] = [];
  /** What was asked of each item. */
  private readonly asked: Problem[] = [];
  private readonly groups = new Map<number, number>();
  private readonly known = new Map<string, SearchResult>();
  /** Behind these places one item is like the other. */
  private readonly tail: number;
  /** A list that answers and is longer has items that could be left out. */
  private readonly longest: number;

  constructor(
    private readonly way: Disjunct,
    private readonly goal: ArrayPlan,
    private readonly special: number,
    private readonly solver: Solver,
    private readonly options: readonly ItemChoice[],
  ) {
    const { twice, counts, needs, low } = goal;
    this.tail = Math.max(special, twice === undefined ? 0 : twice[1] + 1);
    this.longest = Math.max(low, this.tail + needs.length + counts.reduce((n, c) => n + c.low, 0));
  }

  /** Goes on behind the items that were chosen; `from` is the first option that may follow behind the special places. */
  next(chosen: readonly ItemChoice[], from: number): SearchResult {
    const { low, high, counts, needs, twice } = this.goal;
    const { out } = this;
    this.solver.count();
    const i = out.length;
    const held = counts.map((_, n) => chosen.filter((o) => o.held[n] === true).length);
    const isMet = needs.every((need) => chosen.some((o) => o.meets.has(need))) && counts.every((c, n) => (held[n] ?? 0) >= c.low);
    const isDone = isMet && (twice === undefined || i > twice[1]);
    if (isDone && i >= low) return { kind: 'witness', value: [...out] };
    if (i >= high || i >= this.longest) return EMPTY;
    const fits = (o: ItemChoice): boolean =>
      counts.every((c, n) => o.held[n] !== true || ((held[n] ?? 0) < c.high && (c.high < Infinity || (held[n] ?? 0) < c.low)));
    if (twice?.[1] === i) {
      const same = chosen[twice[0]] as ItemChoice;
      return counts.every((c, n) => same.held[n] !== true || (held[n] ?? 0) < c.high)
        ? this.with([...out, out[twice[0]]], this.asked[twice[0]] as Problem, [...chosen, { ...same, meets: new Set() }], 0)
        : EMPTY;
    }
    let found: SearchResult = EMPTY;
    for (const [n, option] of this.options.entries()) {
      if ((i > this.tail && n < from) || !fits(option)) continue;
      if ([...option.meets].some((m) => !this.isAt(m, i) || chosen.some((o) => o.meets.has(m)))) continue;
      const state = this.stateOf(i, option);
      const appendItem = this.more(`${Math.min(i, this.special)} ${n}`, state);
      const whole = Array.isArray(appendItem) ? this.tryChoice(appendItem, state, option, n, chosen, isDone) : appendItem;
      found = joinResults(found, whole);
      if (found.kind === 'witness') return found;
    }
    return found;
  }

  /** What stands at two places meets what either asks for. */
  private isAt({ at, isTail }: RequiredItem, i: number): boolean {
    return this.placesOf(i).some((place) => (isTail ? place >= at : place === at));
  }

  private placesOf(i: number): readonly number[] {
    const { twice } = this.goal;
    return twice?.[0] === i ? twice : [i];
  }

  /** What is asked for may be there already, and only more of it is missing. */
  private tryChoice(
    items: unknown[],
    state: Problem,
    option: ItemChoice,
    n: number,
    chosen: readonly ItemChoice[],
    isDone: boolean,
  ): SearchResult {
    const { low, unique } = this.goal;
    const repeats = isDone && items.length > this.tail && !unique && option.held.every((h) => h !== true);
    if (repeats) return { kind: 'witness', value: [...items, ...Array.from({ length: low - items.length }, () => items.at(-1))] };
    return this.with(items, state, [...chosen, option], n);
  }

  private with(items: unknown[], state: Problem, chosen: readonly ItemChoice[], from: number): SearchResult {
    const before = this.out;
    this.out = items;
    this.asked.push(state);
    const found = this.next(chosen, from);
    this.asked.pop();
    this.out = before;
    return found;
  }

  /** The items with one more. */
  private more(key: string, state: Problem): unknown[] | SearchResult {
    const { goal, out, solver } = this;
    if (goal.unique) return distinct([...this.asked, state], out, solver);
    const found = (goal.twice === undefined ? this.known.get(key) : undefined) ?? solver.solve(state);
    this.known.set(key, found);
    return found.kind === 'witness' ? [...out, found.value] : found;
  }

  private stateOf(i: number, option: ItemChoice): Problem {
    const { counts } = this.goal;
    const pos = [
      ...this.placesOf(i).flatMap((place) => [...this.saidAt(place), ...this.restAt(place, option)]),
      ...counts.flatMap(({ schema }, c): readonly Literal[] => (option.held[c] === true ? [{ schema, producerId: 0 }] : [])),
    ];
    const neg = [
      ...counts.flatMap(({ schema }, c) => (option.held[c] === false ? [schema] : [])),
      ...[...option.meets].flatMap((need) => need.neg),
    ];
    return { pos, neg, at: appendPointer(this.way.at ?? '', i) };
  }

  private saidAt(place: number): readonly Literal[] {
    return this.way.pos.flatMap(({ k, producerId: group, isExclusiveBranch: counted }): readonly Literal[] => {
      const schema = k.prefixItems[place] ?? k.items;
      return schema === undefined ? [] : [{ schema, producerId: this.groupOf(group), isExclusiveBranch: counted }];
    });
  }

  /** What nothing else looks at is as is said of the rest. */
  private restAt(place: number, { looked }: ItemChoice): readonly Literal[] {
    const rests = this.way.pos.filter(({ k }) => k.unevaluatedItems !== undefined);
    return rests.flatMap(({ k, producerId: group, isExclusiveBranch: counted }, n): readonly Literal[] => {
      const lookers = evaluatorsOfItem(k, place, this.way.pos);
      if (lookers === 'always') return [];
      const looker = lookers[looked[n] ?? -1];
      if (looker !== undefined) return [{ schema: looker, producerId: 0 }];
      return [{ schema: k.unevaluatedItems as Schema, producerId: this.groupOf(group), isExclusiveBranch: counted }];
    });
  }

  private groupOf(group: number): number {
    if (group === 0) return 0;
    const known = this.groups.get(group) ?? newProducerId();
    this.groups.set(group, known);
    return known;
  }
}

/**
 * Items all of which differ, one more than there are: where the others leave nothing for it they are chosen anew (an
 * augmenting path, Berge 1957).
 */
function distinct(asked: readonly Problem[], before: readonly unknown[], solver: Solver): unknown[] | SearchResult {
  const items = [...before];
  const met: unknown[] = [];
  let failed: SearchResult = EMPTY;
  const ask = (state: Problem, but: readonly unknown[]): SearchResult => {
    solver.count();
    const found = solver.solve(but.length === 0 ? state : { ...state, neg: [...state.neg, enumSchema(but)] });
    if (found.kind !== 'witness') failed = joinResults(failed, found);
    return found;
  };
  const place = (i: number): boolean => {
    const state = asked[i] as Problem;
    const fresh = ask(state, [...items, ...met]);
    if (fresh.kind === 'witness') {
      items[i] = fresh.value;
      return true;
    }
    for (;;) {
      const found = ask(state, met);
      if (found.kind !== 'witness') return false;
      met.push(found.value);
      const owner = items.findIndex((item) => sameJson(item, found.value));
      if (owner >= 0 && !place(owner)) continue;
      items[i] = found.value;
      return true;
    }
  };
  return place(before.length) ? items : failed;
}
