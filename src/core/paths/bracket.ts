/**
 * The bracket style, of routes that are files in folders: `locks/[lockId]`, optional `[[page]]`, `[...rest]` for one
 * segment or more, `[[...rest]]` for none or more, `[lockId=int]` with a type; `(group)` folders are no part of the path.
 */
import type { Part, PatternResult } from './pattern.ts';
import { flawsOf, PatternFailure, shapesOf, type Token, textToken } from './segments.ts';
import { type NamedTypes, parseType, TEXT } from './types.ts';

const PARAMETER = /^(\.\.\.)?([A-Za-z_$][\w$-]*)(?:=(.+))?$/u;

/** Reads a pattern of the bracket style; the leading slash may be left out. */
export function parseBracket(text: string, named: NamedTypes): PatternResult {
  try {
    const tokens = scan(text, named);
    return { ok: true, pattern: { style: 'bracket', text, ...shapesOf([tokens]) }, flaws: flawsOf(text, tokens, false) };
  } catch (error) {
    if (error instanceof PatternFailure) return { ok: false, error };
    throw error;
  }
}

function scan(text: string, named: NamedTypes): Token[] {
  const tokens: Token[] = [];
  let offset = 0;
  const words = text.split('/');
  words.forEach((word, i) => {
    const start = offset;
    offset += word.length + 1;
    if (/^\([^()]*\)$/u.test(word) || (i === 0 && word === '' && words.length > 1)) return;
    tokens.push({ kind: 'slash', start: Math.max(0, start - 1), end: start });
    tokens.push(...scanSegment(word, start, named));
  });
  return tokens.length === 0 ? [{ kind: 'slash', start: 0, end: 1 }] : tokens;
}

function scanSegment(word: string, base: number, named: NamedTypes): Token[] {
  return [...word.matchAll(/\[\[[^[\]]*\]\]|\[[^[\]]*\]|[[\]]|[^[\]]+/gu)].map((match): Token => {
    const [whole] = match;
    const [start, end] = [base + match.index, base + match.index + whole.length];
    if (whole === '[' || whole === ']') throw new PatternFailure('square brackets that do not pair', start, end);
    if (!whole.startsWith('[')) return textToken(whole, start, end);
    const optional = whole.startsWith('[[');
    const inner = optional ? whole.slice(2, -2) : whole.slice(1, -1);
    return { kind: 'part', part: parameter(inner, start, end, named), optional, start, end };
  });
}

function parameter(inner: string, start: number, end: number, named: NamedTypes): Part {
  const [, dots, name, spec] = PARAMETER.exec(inner) ?? [];
  if (name === undefined)
    throw new PatternFailure(
      `expected a name between the brackets, found ${inner === '' ? 'nothing' : `"${inner}"`}`,
      start,
      end,
    );
  if (dots !== undefined) return { kind: 'tail', name, takes: 'segments' };
  if (spec === undefined) return { kind: 'parameter', name, type: TEXT };
  const result = parseType(spec, named);
  if (!result.ok) throw new PatternFailure(result.message, start, end);
  return { kind: 'parameter', name, type: result.type };
}
