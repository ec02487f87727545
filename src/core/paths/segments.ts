/** Shared by the styles: from tokens to pieces, and the flaws that every style has in common. */

import { percentDecoded } from '../base/percent.ts';
import {
  type Part,
  type Pattern,
  type PatternError,
  type PatternResult,
  type Piece,
  type Shape,
  type Style,
  segmentOf,
} from './pattern.ts';
import { crosses } from './slashes.ts';

/** What a style's scanner yields: a slash, literal text, or a parameter. Offsets into the pattern, `end` one past. */
export type Token =
  | { readonly kind: 'slash'; readonly start: number; readonly end: number }
  | { readonly kind: 'text'; readonly text: string; readonly raw?: string; readonly start: number; readonly end: number }
  | { readonly kind: 'part'; readonly part: Part; readonly optional: boolean; readonly start: number; readonly end: number };

export class PatternFailure extends Error {
  readonly start: number;
  readonly end: number;
  constructor(message: string, start: number, end: number) {
    super(message);
    this.start = start;
    this.end = end;
  }
}

/** The pattern of what a style's scanner yields, the fullest list first; what it throws is what is wrong with the text. */
export function patternFrom(style: Style, text: string, scan: () => readonly (readonly Token[])[]): PatternResult {
  try {
    const variants = scan();
    return { ok: true, pattern: { style, text, ...shapesOf(variants) }, flaws: flawsOf(text, variants[0] ?? [], true) };
  } catch (error) {
    if (error instanceof PatternFailure) return { ok: false, error };
    throw error;
  }
}

/**
 * The shapes of a pattern, given as lists of tokens of which the first is the fullest. A parameter that is optional and
 * fills its segment may be left out together with that segment's slash; what stands behind it stays. At most
 * `MAX_SHAPES` shapes, counted before they are built.
 */
export function shapesOf(lists: readonly (readonly Token[])[]): Pick<Pattern, 'shapes' | 'partial'> {
  const shapes: Shape[] = [];
  const partial = new Set<Shape>();
  lists.forEach((tokens, i) => {
    for (const { pieces, isFull } of variantsOfTokens(tokens)) {
      const shape = pieces.length === 0 ? [pieceOf([])] : pieces;
      shapes.push(shape);
      if (!isFull || i > 0) partial.add(shape);
    }
    if (shapes.length > MAX_SHAPES) throw tooManyShapes();
  });
  return partial.size === 0 ? { shapes } : { shapes, partial };
}

interface Variant {
  readonly pieces: readonly Piece[];
  readonly isFull: boolean;
}

/** In the order of a greedy matcher: what comes first in the path is left out last. */
function variantsOfTokens(tokens: readonly Token[]): readonly Variant[] {
  let variants: readonly Variant[] = [{ pieces: [], isFull: true }];
  for (const segment of cut(tokens)) {
    const only = segment.length === 1 ? segment[0] : undefined;
    const isOptional = only?.kind === 'part' && only.optional;
    const choices: readonly Variant[] = isOptional
      ? [
          { pieces: [pieceOf(segment)], isFull: true },
          { pieces: [], isFull: false },
        ]
      : variantsOf(segment).map((v) => ({ pieces: [pieceOf(v)], isFull: v.length === segment.length }));
    if (variants.length * choices.length > MAX_SHAPES) throw tooManyShapes();
    variants = variants.flatMap((v) =>
      choices.map((c) => ({ pieces: [...v.pieces, ...c.pieces], isFull: v.isFull && c.isFull })),
    );
  }
  return variants;
}

/** The most shapes that one pattern may have. */
export const MAX_SHAPES = 64;

export function tooManyShapes(): PatternFailure {
  return new PatternFailure(`more than ${MAX_SHAPES} combinations of optional parts; write several routes instead`, 0, 1);
}

/** Flaws that leave the pattern usable: no leading slash, an empty segment, one name for two parameters. */
export function flawsOf(text: string, tokens: readonly Token[], leadingSlash: boolean): readonly PatternError[] {
  const flaws: PatternError[] = [];
  if (leadingSlash && tokens[0]?.kind !== 'slash') {
    flaws.push({
      message: `expected a leading slash, found ${JSON.stringify(text.slice(0, 1) || 'nothing')}; write /${text}`,
      start: 0,
      end: 1,
    });
  }
  tokens.forEach((token, i) => {
    const next = tokens[i + 1];
    if (token.kind === 'slash' && next?.kind === 'slash') {
      flaws.push({ message: 'an empty segment: two slashes in a row; remove one', start: token.start, end: next.end });
    }
  });
  const names = new Set<string>();
  for (const token of tokens) {
    if (token.kind !== 'part' || !('name' in token.part) || token.part.name === '') continue;
    if (names.has(token.part.name)) {
      flaws.push({
        message: `the parameter "${token.part.name}" stands here a second time, and one value would be lost; give it another name`,
        start: token.start,
        end: token.end,
      });
    }
    names.add(token.part.name);
  }
  return flaws;
}

/** Literal text as it is compared: percent-encodings decoded where they are valid (RFC 3986, 2.1). */
export function textToken(raw: string, start: number, end: number): Extract<Token, { kind: 'text' }> {
  const text = percentDecoded(raw) ?? raw;
  return text === raw ? { kind: 'text', text, start, end } : { kind: 'text', text, raw, start, end };
}

/** The tokens of each segment; one empty segment for a lone slash. */
function cut(tokens: readonly Token[]): (readonly Exclude<Token, { kind: 'slash' }>[])[] {
  const out: Exclude<Token, { kind: 'slash' }>[][] = [];
  if (tokens[0]?.kind !== 'slash') out.push([]);
  for (const token of tokens) {
    if (token.kind === 'slash') out.push([]);
    else (out[out.length - 1] as Token[]).push(token);
  }
  return out;
}

/** A mixed segment with and without each of its optional parameters. */
function variantsOf(segment: readonly Exclude<Token, { kind: 'slash' }>[]): (readonly Exclude<Token, { kind: 'slash' }>[])[] {
  if (2 ** segment.filter((t) => t.kind === 'part' && t.optional).length > MAX_SHAPES) throw tooManyShapes();
  const at = segment.findIndex((t) => t.kind === 'part' && t.optional);
  if (at < 0) return [segment];
  const token = segment[at] as Extract<Token, { kind: 'part' }>;
  const before = segment.slice(0, at);
  const rests = variantsOf(segment.slice(at + 1));
  return [
    ...rests.map((rest) => [...before, { ...token, optional: false }, ...rest]),
    ...rests.map((rest) => [...before, ...rest]),
  ];
}

function pieceOf(segment: readonly Exclude<Token, { kind: 'slash' }>[]): Piece {
  const parts: Part[] = [];
  for (const token of segment) {
    const last = parts[parts.length - 1];
    if (token.kind === 'part') parts.push(token.part);
    else if (last?.kind === 'literal') parts[parts.length - 1] = joined(last, token);
    else parts.push(joined({ text: '' }, token));
  }
  const spans = parts.some((p) => p.kind === 'tail' || (p.kind === 'expression' && crosses(p.expression)));
  return spans ? { kind: 'span', parts } : segmentOf(parts);
}

interface Literal {
  readonly text: string;
  readonly raw?: string;
}

function joined(a: Literal, b: Literal): Part {
  const text = a.text + b.text;
  const raw = (a.raw ?? a.text) + (b.raw ?? b.text);
  return raw === text ? { kind: 'literal', text } : { kind: 'literal', text, raw };
}
