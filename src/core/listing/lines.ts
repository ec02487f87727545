/** Printed text as lines without what only a terminal shows. */

export interface Line {
  /** From 1. */
  readonly number: number;
  /** Without colours, tabs as they are, no space at its end. */
  readonly text: string;
}

// biome-ignore lint/suspicious/noControlCharactersInRegex: an escape is what starts a colour
const ESCAPES = /\u001b(?:\[[0-?]*[ -/]*[@-~]|\][^\u0007\u001b]*(?:\u0007|\u001b\\)?|[@-Z\\-_])/gu;
// biome-ignore lint/suspicious/noControlCharactersInRegex: what no reader of text sees
const CONTROLS = /[\u0000-\u0008\u000b\u000c\u000e-\u001f\u007f-\u009f\u200b\ufeff]/gu;

/** Lines end as on any system (LF, CRLF, CR). O(length). */
export function linesOf(text: string): readonly Line[] {
  return text
    .replace(ESCAPES, '')
    .split(/\r\n|\n|\r/u)
    .map((line, i) => ({ number: i + 1, text: line.replace(CONTROLS, '').trimEnd() }));
}

/** Nothing but what draws a table: `+---+`, `├────┤`, `=====`, `| --- | --- |`. */
export function isRule(text: string): boolean {
  return /^[\s|+:=~_*.\-\u2500-\u257f]+$/u.test(text) && /[-=~_*.\u2500-\u257f]{2}/u.test(text);
}
