/** What a person's terminal can show. */

import stringWidth from 'fast-string-width';
import { createColors } from 'picocolors';
import { bounded } from './visible.ts';

export type Paint = ReturnType<typeof createColors>;

export interface Terminal {
  readonly width: number;
  /** Lines that are too long for a person's screen are cut; what goes into a file or a pipe never is. */
  readonly cuts: boolean;
  readonly paint: Paint;
}

/** Colour only where it is asked for; never wider than `MAX_WIDTH`, because long lines are hard to read. */
export function terminal(width: number, colour: boolean, cuts = true): Terminal {
  return { cuts, width: Math.max(MIN_WIDTH, Math.min(width, MAX_WIDTH)), paint: createColors(colour) };
}

const MIN_WIDTH = 40;
const MAX_WIDTH = 160;

/** Wraps text at spaces, each line behind the indent; `hang` is the indent of the lines after the first. */
export function wrap(whole: string, { width }: Terminal, indent = '', hang = indent): string {
  const text = bounded(whole);
  if (widthOf(indent) + widthOf(text) <= width) return (indent + text).trimEnd();
  const lines: string[] = [];
  let line = indent;
  let used = widthOf(indent);
  let empty = true;
  for (const word of text.split(' ')) {
    const size = widthOf(word);
    if (!empty && used + 1 + size > width) {
      lines.push(line);
      line = hang + word;
      used = widthOf(hang) + size;
    } else {
      line += empty ? word : ` ${word}`;
      used += size + (empty ? 0 : 1);
    }
    empty = false;
  }
  lines.push(line);
  return lines.map((l) => l.trimEnd()).join('\n');
}

/** The columns that a text takes, colours not counted. Plain ASCII, and what we put between words, needs no table of widths. */
export function widthOf(text: string): number {
  // biome-ignore lint/suspicious/noControlCharactersInRegex: an escape is what starts a colour
  const bare = text.includes('\u001b') ? text.replace(/\u001b\[[0-9;]*m/gu, '') : text;
  return /^[\x20-\x7e\u00a0\u2026]*$/u.test(bare) ? bare.length : stringWidth(bare);
}

/** `3 routes`, `1 route`. */
export function count(n: number, word: string, plural = `${word}s`): string {
  return `${grouped(n)} ${n === 1 ? word : plural}`;
}

/** `10,481`. */
export function grouped(n: number): string {
  // Not toLocaleString: loading its tables takes as long as checking a thousand routes.
  return String(n).replace(/\B(?=(?:\d{3})+$)/gu, ',');
}
