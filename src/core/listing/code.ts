/** Routes in source code or any other text: each match of an expression is one. */
import { matchesIn } from '../language/matcher.ts';
import { methodsIn, whyNoRoute } from './methods.ts';
import type { SkippedRow, SourceReading, SourceRow } from './row.ts';

/** How many steps of the matcher one character of the text is worth. */
const STEPS_FOR_A_CHARACTER = 60;
const LEAST_STEPS = 200_000;

/**
 * The routes that an expression with the groups method, path, handler and name finds in a text. Undefined where the expression
 * can't be read, or would need more than 60 steps for each character.
 */
export function codeReading(text: string, row: string, comments: 'slashes' | 'hash' | 'none'): SourceReading | undefined {
  const bare = withoutComments(text, comments);
  const found = matchesIn(row, bare, LEAST_STEPS + bare.length * STEPS_FOR_A_CHARACTER);
  if (found === undefined) return undefined;
  const rows: SourceRow[] = [];
  const skipped: SkippedRow[] = [];
  const codes = [...bare];
  let [line, column, at] = [1, 1, 0];
  for (const { groups, start } of found) {
    for (; at < start; at++) {
      column = codes[at] === '\n' ? 1 : column + 1;
      if (codes[at] === '\n') line += 1;
    }
    const of = (name: string): string | undefined => groups.find((g) => g.name === name)?.text;
    const [path, said] = [of('path'), of('method')];
    const methods = said === undefined ? undefined : methodsIn(said);
    const why = whyNoRoute(path, said);
    if (why !== undefined) skipped.push({ line, text: groups.map((g) => g.text).join(' '), why });
    else rows.push({ line, column, methods, path: path as string, handler: of('handler'), name: of('name') });
  }
  return { rows, skipped, look: 'matches of row' };
}

/** The text with comments blank, so that places stay. Quotes hold what only looks like a comment. O(length). */
export function withoutComments(text: string, comments: 'slashes' | 'hash' | 'none'): string {
  if (comments === 'none') return text;
  const pattern =
    comments === 'slashes'
      ? /"(?:[^"\\\n]|\\.)*(?:"|$|(?=\n))|'(?:[^'\\\n]|\\.)*(?:'|$|(?=\n))|`(?:[^`\\]|\\[\s\S])*(?:`|$)|\/\/[^\n]*|\/\*[\s\S]*?(?:\*\/|$)/gu
      : /"(?:[^"\\\n]|\\.)*(?:"|$|(?=\n))|'(?:[^'\\\n]|\\.)*(?:'|$|(?=\n))|#[^\n]*/gu;
  return text.replace(pattern, (whole) => (/^(?:\/[/*]|#)/u.test(whole) ? whole.replace(/[^\n]/gu, ' ') : whole));
}
