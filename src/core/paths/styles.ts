/** The styles, each in a file of its own. */
import { parseAngle } from './angle.ts';
import { parseBrace } from './brace.ts';
import { parseBracket } from './bracket.ts';
import { parseColon } from './colon.ts';
import { parseParens } from './parens.ts';
import type { PatternResult, Style } from './pattern.ts';
import { parseWholeRegex } from './regex.ts';
import type { NamedTypes } from './types.ts';

const PARSERS: Readonly<Record<Style, (text: string, named: NamedTypes) => PatternResult>> = {
  brace: parseBrace,
  colon: parseColon,
  parens: parseParens,
  angle: parseAngle,
  bracket: parseBracket,
  regex: parseWholeRegex,
};

/** Reads a path pattern of a style. */
export function parsePattern(text: string, style: Style, named: NamedTypes): PatternResult {
  return PARSERS[style](text, named);
}
