/** What a person's terminal can show. */
import { createColors } from 'picocolors';
import stringWidth from 'string-width';
import wrapAnsi from 'wrap-ansi';

export interface Terminal {
  readonly width: number;
  readonly paint: ReturnType<typeof createColors>;
}

/** Colour only where it is asked for; never wider than `MAX_WIDTH`, because long lines are hard to read. */
export function terminal(width: number, colour: boolean): Terminal {
  return { width: Math.max(MIN_WIDTH, Math.min(width, MAX_WIDTH)), paint: createColors(colour) };
}

const MIN_WIDTH = 40;
const MAX_WIDTH = 160;

/** Wraps text, each line behind the indent; `hang` is the indent of the lines after the first. */
export function wrap(text: string, { width }: Terminal, indent = '', hang = indent): string {
  const room = Math.max(20, width - stringWidth(hang));
  const lines = wrapAnsi(text, room, { hard: false, trim: false }).split('\n');
  return lines.map((line, i) => (i === 0 ? indent : hang) + (i === 0 ? line : line.trimStart())).join('\n');
}

export function widthOf(text: string): number {
  return stringWidth(text);
}

/** `3 routes`, `1 route`. */
export function count(n: number, word: string, plural = `${word}s`): string {
  return `${n.toLocaleString('en')} ${n === 1 ? word : plural}`;
}
