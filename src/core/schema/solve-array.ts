/** Lists that hold some keywords and break others. */
import { below } from '../place.ts';
import type { Schema } from './node.ts';
import { type Broken, better, type Found, type Literal, NOT_FOUND, type Solver, type Way } from './state.ts';
import { among, freshGroup } from './ways.ts';

/** Lists longer than this are not written out: where all items differ, or else. */
const MOST_ITEMS = { unique: 300, other: 10_000 } as const;

interface Wanted {
  readonly low: number;
  readonly high: number;
  /** What single places have to be besides, or must not be. */
  readonly places: readonly { readonly at: number; readonly pos?: Schema; readonly neg?: Schema }[];
  /** What no item may be. */
  readonly never: readonly Schema[];
  /** Two places that hold the same, the earlier first. */
  readonly twice: readonly [number, number] | undefined;
}

export function solveArray(way: Way, solver: Solver): Found {
  let found: Found = NOT_FOUND;
  for (const wanted of wants(way, solver)) {
    found = better(found, typeof wanted === 'string' ? { kind: 'undecided', why: wanted } : build(way, wanted, solver));
    if (found.kind === 'witness') return found;
  }
  return found;
}

/** Each combination of the ways in which the broken keywords can be broken, depth first. */
function* wants(way: Way, solver: Solver): Generator<Wanted | string> {
  const low = Math.max(0, ...way.pos.map(({ k }) => k.minItems ?? 0));
  const high = Math.min(Infinity, ...way.pos.map(({ k }) => k.maxItems ?? Infinity));
  // Each of them may need an item of its own.
  const placing = way.broken.length + way.pos.filter(({ k }) => k.contains !== undefined).length;
  const longest = prefix(way) + Math.max(0, placing - 1);
  const steps: ((w: Wanted) => readonly (Wanted | string)[])[] = [];
  for (const { k } of way.pos) {
    const { contains } = k;
    if (contains === undefined || k.minContains === 0) continue;
    const count = k.minContains ?? 1;
    steps.push((w) => [
      ...Array.from({ length: longest + 1 }, (_, from) => ({
        ...w,
        places: [...w.places, ...Array.from({ length: count }, (_x, i) => ({ at: from + i, pos: contains }))],
      })),
      // Several may also stand apart from each other, which is not tried.
      ...(count > 1 ? ['minContains'] : []),
    ]);
  }
  for (const b of way.broken) steps.push((w) => breakOne(b, w, longest));
  yield* combined(steps, { low, high, places: [], never: [], twice: undefined }, solver);
}

function* combined(
  steps: readonly ((w: Wanted) => readonly (Wanted | string)[])[],
  wanted: Wanted,
  solver: Solver,
): Generator<Wanted | string> {
  const [step, ...rest] = steps;
  if (step === undefined) {
    solver.count();
    yield wanted;
    return;
  }
  for (const option of step(wanted)) {
    if (typeof option === 'string') yield option;
    else yield* combined(rest, option, solver);
  }
}

function breakOne({ k, keyword }: Broken, w: Wanted, longest: number): readonly (Wanted | string)[] {
  const place = (at: number, neg: Schema): Wanted => ({ ...w, places: [...w.places, { at, neg }] });
  switch (keyword) {
    case 'minItems':
      return [{ ...w, high: Math.min(w.high, (k.minItems as number) - 1) }];
    case 'maxItems':
      return [{ ...w, low: Math.max(w.low, (k.maxItems as number) + 1) }];
    case 'prefixItems':
      return k.prefixItems.map((s, i) => place(i, s));
    case 'items': {
      const from = k.prefixItems.length;
      return Array.from({ length: Math.max(1, longest - from + 1) }, (_, i) => place(from + i, k.items as Schema));
    }
    case 'uniqueItems':
      // One pair of places is made the same; whoever else wants that is content with it.
      if (w.twice !== undefined) return [w];
      return Array.from({ length: longest + 2 }, (_, j) =>
        Array.from({ length: j }, (_x, i): Wanted => ({ ...w, twice: [i, j], low: Math.max(w.low, j + 1) })),
      ).flat();
    case 'contains':
      if ((k.minContains ?? 1) === 0) return [];
      return (k.minContains ?? 1) === 1 ? [{ ...w, never: [...w.never, k.contains as Schema] }] : ['minContains'];
    case 'maxContains': {
      const { contains, maxContains } = k;
      if (contains === undefined || maxContains === undefined) return [];
      return [
        {
          ...w,
          places: [...w.places, ...Array.from({ length: maxContains + 1 }, (_, i) => ({ at: longest + i, pos: contains }))],
        },
        'maxContains',
      ];
    }
    case 'unevaluatedItems':
      return ['unevaluatedItems'];
    case 'enum':
      return [w];
    default:
      return [];
  }
}

function build(way: Way, { low, high, places, never, twice }: Wanted, solver: Solver): Found {
  const length = Math.max(low, ...places.map((p) => p.at + 1));
  if (length > high) return NOT_FOUND;
  const unique = way.pos.some(({ k }) => k.uniqueItems);
  if (length > MOST_ITEMS[unique ? 'unique' : 'other']) return { kind: 'undecided', why: 'minItems' };
  if (unique && twice !== undefined) return NOT_FOUND;
  const groups = new Map<number, number>();
  const groupOf = (group: number): number => {
    if (group === 0) return 0;
    const known = groups.get(group) ?? freshGroup();
    groups.set(group, known);
    return known;
  };
  const out: unknown[] = [];
  // Behind these one item is like the other.
  const special = Math.max(prefix(way), twice === undefined ? 0 : twice[1] + 1, ...places.map((p) => p.at + 1));
  for (let i = 0; i < length; i++) {
    if (i > special && !unique) {
      out.push(out[i - 1]);
      continue;
    }
    const at = twice?.[0] === i ? twice : [i];
    if (twice?.[1] === i) {
      out.push(out[twice[0]]);
      continue;
    }
    const pos = at.flatMap((index) => [
      ...way.pos.flatMap(({ k, group, counted }): Literal[] => {
        const schema = k.prefixItems[index] ?? k.items;
        return schema === undefined ? [] : [{ schema, group: groupOf(group), counted }];
      }),
      ...places.flatMap((p): Literal[] => (p.at === index && p.pos !== undefined ? [{ schema: p.pos, group: 0 }] : [])),
    ]);
    const neg = [
      ...at.flatMap((index) => places.flatMap((p) => (p.at === index && p.neg !== undefined ? [p.neg] : []))),
      ...never,
    ];
    const found = solver.solve({
      pos,
      neg: unique && out.length > 0 ? [...neg, among([...out])] : neg,
      at: below(way.at ?? '', i),
    });
    // Where places differ, another choice for an earlier item could have left something for this one.
    const uneven = prefix(way) > 0 || places.length > 0;
    if (found.kind === 'none' && unique && i > 0 && uneven) return { kind: 'undecided', why: 'uniqueItems' };
    if (found.kind !== 'witness') return found;
    out.push(found.value);
  }
  return { kind: 'witness', value: out };
}

/** How many places have schemas of their own. */
function prefix({ pos, broken }: Way): number {
  return Math.max(0, ...pos.map(({ k }) => k.prefixItems.length), ...broken.map(({ k }) => k.prefixItems.length));
}
