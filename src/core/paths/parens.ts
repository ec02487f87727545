/**
 * The style of optional groups: `/yards/:id(.:format)`, `/slots(/:day)`, groups in groups, and `*rest`, which takes at least one
 * character and slashes. A dot separates as a slash does: `:id` takes neither. A backslash stands before what is meant literally.
 */
import type { Part, PatternResult } from './pattern.ts';
import { MAX_SHAPES, PatternFailure, patternFrom, type Token, textToken, tooManyShapes } from './segments.ts';
import { type NamedTypes, type ParameterType, regexType, TEXT } from './types.ts';

const NAME = /[\p{ID_Start}_][\p{ID_Continue}]*/uy;

/** Reads a pattern of the style of optional groups. */
export function parseParens(text: string, _named: NamedTypes): PatternResult {
  return patternFrom('parens', text, () => scanAll({ text, at: 0 }, undefined));
}

interface Scanner {
  readonly text: string;
  at: number;
}

/** The tokens up to the end or the parenthesis that closes the group opened at `open`; the fullest list first. */
function scanAll(scanner: Scanner, open: number | undefined): Token[][] {
  let variants: Token[][] = [[]];
  while (scanner.at < scanner.text.length) {
    const start = scanner.at;
    const char = scanner.text[start] as string;
    if (char === ')') {
      if (open === undefined) throw new PatternFailure('a closing parenthesis without an opening one', start, start + 1);
      return variants;
    }
    if (char !== '(') {
      const token = scanOne(scanner, char);
      for (const v of variants) v.push(token);
      continue;
    }
    scanner.at += 1;
    const inner = [...scanAll(scanner, start), []];
    scanner.at += 1;
    if (variants.length * inner.length > MAX_SHAPES) throw tooManyShapes();
    variants = variants.flatMap((v) => inner.map((tokens) => [...v, ...tokens]));
  }
  if (open !== undefined) throw new PatternFailure('this group is never closed', open, scanner.text.length);
  return variants;
}

function scanOne(scanner: Scanner, char: string): Token {
  const { text, at: start } = scanner;
  if (char === '/') {
    scanner.at += 1;
    return { kind: 'slash', start, end: start + 1 };
  }
  if (char === ':' || char === '*') {
    NAME.lastIndex = start + 1;
    const [name] = NAME.exec(text) ?? [];
    if (name === undefined)
      throw new PatternFailure(`expected a name after ${char}; write \\${char} for the character itself`, start, start + 1);
    scanner.at = start + 1 + name.length;
    const part: Part = char === '*' ? { kind: 'tail', name, takes: 'some' } : { kind: 'parameter', name, type: withoutDot() };
    return { kind: 'part', part, optional: false, start, end: scanner.at };
  }
  if (char === '\\') {
    scanner.at += 2;
    return { kind: 'text', text: text[start + 1] ?? '', start, end: start + 2 };
  }
  let end = start + 1;
  while (end < text.length && !'/:*()\\'.includes(text[end] as string)) end += 1;
  scanner.at = end;
  return textToken(text.slice(start, end), start, end);
}

let made: ParameterType | undefined;

/** What a parameter of this style takes. */
function withoutDot(): ParameterType {
  if (made === undefined) {
    const result = regexType('[^/.]+', '[^/.]+', ['7', 'abc']);
    made = result.ok ? result.type : TEXT;
  }
  return made;
}
