/** Changes that say the same of several names of one schema: people read them as one. */

import type { Place } from '../core/base/place.ts';
import type { Change } from '../core/compare/changes/change.ts';
import type { Operations, Touched } from './touched.ts';

export interface Together {
  readonly first: Change;
  /** What the others say where the first says something else: names, most often. */
  readonly also: readonly string[];
}

/** Those of one rule, at the same places, that touch the same. In the order of their firsts. */
export function together(changes: readonly Change[], touched: Touched): readonly Together[] {
  const groups = new Map<string, Change[][]>();
  const all: Change[][] = [];
  for (const c of changes) {
    const key = [c.rule, c.effect, c.at.part, spot(c.old), spot(c.new), c.parameter?.name].join('\n');
    const known = groups.get(key) ?? [];
    groups.set(key, known);
    // Most are alone, and what they touch need not be looked at.
    const own = known.find((group) => isSame(touched(group[0] as Change), touched(c)));
    if (own !== undefined) own.push(c);
    else {
      known.push([c]);
      all.push(known.at(-1) as Change[]);
    }
  }
  return all.map((group) => ({ first: group[0] as Change, also: apart(group.map((c) => c.message)).slice(1) }));
}

function isSame(a: Operations, b: Operations): boolean {
  return a.size === b.size && new Set([...a.first(a.size), ...b.first(b.size)]).size === a.size;
}

function spot(place: Place | undefined): string {
  return place === undefined ? '' : `${place.file}#${place.pointer}`;
}

/** Sentences without the words with which all of them begin and end; whole where nothing is left of one. */
function apart(sentences: readonly string[]): readonly string[] {
  const words = sentences.map((s) => s.split(' '));
  const [first = []] = words;
  const shortest = Math.min(...words.map((w) => w.length));
  let [start, end] = [0, 0];
  while (start < shortest && words.every((w) => w[start] === first[start])) start += 1;
  while (end < shortest - start && words.every((w) => w.at(-1 - end) === first.at(-1 - end))) end += 1;
  if (words.some((w) => w.length === start + end)) return sentences;
  return words.map((w) =>
    w
      .slice(start, w.length - end)
      .join(' ')
      .replace(/,$/u, ''),
  );
}
