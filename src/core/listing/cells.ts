/** Lines cut into cells, in each of the ways in which programs print columns. */
import type { Line } from './lines.ts';

export interface Cell {
  readonly text: string;
  /** Where it starts in the line, from 0, and one past its end. */
  readonly start: number;
  readonly end: number;
}

export const SPLITTERS = ['box', 'tab', 'dots', 'spaces', 'semicolon'] as const;
export type Splitter = (typeof SPLITTERS)[number];

const SEPARATORS: Readonly<Record<Splitter, RegExp>> = {
  box: /[|\u2502\u2503\u2551\u00a6]/gu,
  tab: /\t+/gu,
  dots: /\.{3,}|\u2026{2,}|\u00b7{3,}|\s\u2026\s|\s{2,}/gu,
  spaces: /\s{2,}|\t+/gu,
  semicolon: /;/gu,
};

/** Do enough lines have what a splitter cuts at? Spaces always do. */
export function isCutBy(lines: readonly Line[], splitter: Splitter): boolean {
  if (splitter === 'spaces') return true;
  const all = lines.filter((l) => l.text.trim() !== '');
  const mark = splitter === 'dots' ? /\.{3,}|\u2026{2,}|\u00b7{3,}/u : SEPARATORS[splitter];
  const hits = all.filter(({ text }) => text.search(mark) >= 0).length;
  return hits >= 1 && hits * 3 >= all.length;
}

/** The cells of a line; empty ones count between separators that are drawn. O(length). */
export function cellsOf({ text }: Line, splitter: Splitter): readonly Cell[] {
  const cells: Cell[] = [];
  let from = 0;
  const add = (end: number): void => {
    const raw = text.slice(from, end);
    const bare = raw.trim();
    const start = from + raw.length - raw.trimStart().length;
    if (bare !== '' || splitter === 'box' || splitter === 'semicolon')
      cells.push({ text: bare, start, end: start + bare.length });
  };
  for (const { index, 0: found } of splitter === 'box' ? boxMarks(text) : text.matchAll(SEPARATORS[splitter])) {
    add(index);
    from = index + found.length;
  }
  add(text.length);
  // A box has a line at its left and at its right.
  if (splitter === 'box') {
    if (cells[0]?.text === '') cells.shift();
    if (cells.at(-1)?.text === '') cells.pop();
  }
  return cells;
}

/** A bar between two methods, or inside of a pattern's braces, is no line of a table. */
function boxMarks(text: string): readonly { readonly index: number; readonly 0: string }[] {
  return [...text.matchAll(SEPARATORS.box)].filter(({ index, 0: mark }) => {
    if (mark !== '|') return true;
    const [before, after] = [text[index - 1] ?? ' ', text[index + 1] ?? ' '];
    return /\s/u.test(before) || /\s/u.test(after);
  });
}
