/** The styles, each in a file of its own. */
import { parseBrace } from './brace.ts';
import type { PatternResult, Style } from './pattern.ts';
import type { NamedTypes } from './types.ts';

const PARSERS: Readonly<Partial<Record<Style, (text: string, named: NamedTypes) => PatternResult>>> = {
  brace: parseBrace,
};

/** Reads a path pattern of a style. */
export function parsePattern(text: string, style: Style, named: NamedTypes): PatternResult {
  const parse = PARSERS[style] ?? parseBrace;
  return parse(text, named);
}
