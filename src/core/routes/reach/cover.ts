/**
 * Is one reach covered by the union of others? Decided exactly, one side of the product after the other: each side is
 * cut into the classes that the covering routes make of it, and for each class only the routes that hold it go on.
 */
import { classesOf } from '../../language/classify.ts';
import type { Language } from '../../language/language.ts';
import { relation } from '../../language/language.ts';
import { LimitReached } from '../../language/limits.ts';

/** The most classes looked at for one question; beyond it the answer is undecided. */
export const MAX_CELLS = 50_000;
/** With more candidates than this, the fewest covering routes are looked for one by one and not in all combinations. */
const MAX_EXACT = 14;

export type Box = readonly Language[];

export type Cover =
  | { readonly covered: true; readonly by: readonly number[] }
  | { readonly covered: false; readonly texts: readonly string[] };

/**
 * Decides whether `target` lies inside the union of `boxes` (all with the same sides, each overlapping the target).
 * `by` names the fewest boxes that suffice: exactly the fewest for up to `MAX_EXACT` candidates or a single one, a set
 * from which none can be left out beyond. Otherwise `texts` is one point of the target outside all boxes, side by side.
 * Each side costs one walk over a joint automaton; at most `MAX_CELLS` walks, then `LimitReached`.
 */
export function cover(target: Box, boxes: readonly Box[], hints: readonly (readonly string[])[] = []): Cover {
  const single = boxes.findIndex((box) => contains(box, target));
  if (single >= 0) return { covered: true, by: [single] };
  const all = boxes.map((_, i) => i);
  const gap = findGap(target, boxes, all, hints);
  if (gap !== undefined) return { covered: false, texts: gap };
  return { covered: true, by: minimalCover(target, boxes, all) };
}

function contains(box: Box, target: Box): boolean {
  return box.every((side, i) => {
    const r = relation(side, target[i] as Language);
    return r === 'equal' || r === 'superset';
  });
}

/** A point of the target that no box holds. */
function findGap(
  target: Box,
  boxes: readonly Box[],
  members: readonly number[],
  hints: readonly (readonly string[])[],
): readonly string[] | undefined {
  const closed = new Set<string>();
  let cells = 0;
  const descend = (side: number, live: readonly number[]): readonly string[] | undefined => {
    if (side === target.length) return live.length === 0 ? [] : undefined;
    const key = `${side}:${live.join(',')}`;
    if (closed.has(key)) return undefined;
    cells += 1;
    if (cells > MAX_CELLS)
      throw new LimitReached(`the union of ${boxes.length} routes falls into more than ${MAX_CELLS} classes`);
    const classes = classesOf(
      target[side] as Language,
      live.map((i) => (boxes[i] as Box)[side] as Language),
      hints[side],
    );
    for (const { members: inside, text } of [...classes].sort((a, b) => a.members.length - b.members.length)) {
      const rest = descend(
        side + 1,
        inside.map((i) => live[i] as number),
      );
      if (rest !== undefined) return [text, ...rest];
    }
    closed.add(key);
    return undefined;
  };
  return descend(0, members);
}

/**
 * One point of the target for each set of boxes that hold it: nothing that boxes alone decide differs within such a class.
 * At most `most` points and `MAX_CELLS` walks, then `LimitReached`.
 */
export function cellRepresentatives(
  target: Box,
  boxes: readonly Box[],
  hints: readonly (readonly string[])[],
  most: number,
): readonly (readonly string[])[] {
  const seen = new Set<string>();
  const out: (readonly string[])[] = [];
  const descend = (side: number, live: readonly number[], texts: readonly string[]): void => {
    const key = `${side}:${live.join(',')}`;
    if (seen.has(key)) return;
    seen.add(key);
    if (seen.size > MAX_CELLS || out.length > most)
      throw new LimitReached(`${boxes.length} routes cut one into more than ${most} classes`);
    if (side === target.length) {
      out.push(texts);
      return;
    }
    const sides = live.map((i) => (boxes[i] as Box)[side] as Language);
    for (const { members, text } of classesOf(target[side] as Language, sides, hints[side]))
      descend(
        side + 1,
        members.map((i) => live[i] as number),
        [...texts, text],
      );
  };
  descend(
    0,
    boxes.map((_, i) => i),
    [],
  );
  return out;
}

function minimalCover(target: Box, boxes: readonly Box[], all: readonly number[]): readonly number[] {
  const suffices = (some: readonly number[]): boolean => findGap(target, boxes, some, []) === undefined;
  let by = all;
  for (const one of [...all].reverse()) {
    const without = by.filter((i) => i !== one);
    if (suffices(without)) by = without;
  }
  if (all.length > MAX_EXACT) return by;
  for (let size = 2; size < by.length; size++) {
    for (const some of combinations(all, size)) if (suffices(some)) return some;
  }
  return by;
}

function* combinations(items: readonly number[], size: number, from = 0): Generator<readonly number[]> {
  if (size === 0) {
    yield [];
    return;
  }
  for (let i = from; i <= items.length - size; i++) {
    for (const rest of combinations(items, size - 1, i + 1)) yield [items[i] as number, ...rest];
  }
}
