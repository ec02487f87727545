/** A printed list of routes, whatever its look: each way to read it is tried, and the one that reads most of it is right. */
import { isCutBy, SPLITTERS } from './cells.ts';
import { columnsReading } from './columns.ts';
import { isRule, type Line, linesOf } from './lines.ts';
import { methodsIn } from './methods.ts';
import { logReading, recordsReading } from './records.ts';
import type { ReadingOptions, SourceReading } from './row.ts';
import { isTree, NESTED, treeReading } from './tree.ts';

/** Reads a listing. What it says of no line stays unread and is told in `skipped`. O(text), for each look. */
export function listingReading(text: string, options: ReadingOptions = {}): SourceReading {
  const lines = linesOf(text);
  const readings: SourceReading[] = [];
  if (isTree(lines) && options.columns === undefined) {
    const tree = treeReading(lines);
    // What is nested stands for a path only together with what is above it.
    if (tree.look === NESTED && tree.rows.length > 0) return tree;
    readings.push(tree);
  }
  for (const splitter of SPLITTERS.filter((s) => isCutBy(lines, s))) readings.push(columnsReading(lines, splitter, options));
  if (options.columns === undefined) readings.push(recordsReading(lines), logReading(lines));
  const best = readings.reduce((a, b) => (scoreOf(b) > scoreOf(a) ? b : a));
  const used = new Set([...best.rows, ...best.skipped].map((r) => r.line));
  const missed = lines.filter((l) => !used.has(l.number) && mayBeRoute(l) && best.look !== 'records');
  const more = missed.map((l) => ({ line: l.number, text: l.text.trim(), why: 'not understood' }));
  return { ...best, skipped: [...best.skipped, ...more].sort((a, b) => a.line - b.line) };
}

/** Routes count most, their methods and handlers less, and what was left out counts against it. */
function scoreOf({ rows, skipped }: SourceReading): number {
  let score = 0;
  for (const { isSure } of skipped) score += isSure === true ? 9 : -1;
  for (const { methods, handler, name } of rows)
    score += 4 + (methods === undefined ? 0 : 4) + (isWord(handler) ? 1 : 0) + (isWord(name) ? 0.5 : 0);
  return score;
}

/** A name or a handler, and not what draws the table. */
function isWord(text: string | undefined): boolean {
  return text !== undefined && /\p{L}/u.test(text) && !/[|\u2500-\u257f]|\.{3}/u.test(text);
}

/** A method and a path stand in it. */
function mayBeRoute({ text }: Line): boolean {
  if (isRule(text)) return false;
  const words = text.split(/[\s|│"'`,{}()[\]]+/u);
  return words.some((w) => /^[A-Z]+$/u.test(w) && methodsIn(w) !== undefined) && words.some((w) => w.startsWith('/'));
}
