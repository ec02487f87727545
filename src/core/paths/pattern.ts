/**
 * What every style of path pattern becomes: one or more shapes (more where a parameter is optional), a shape being a
 * list of pieces, a piece one segment or a span over several, made of literal text and parameters.
 */
import type { Expression } from '../language/expression.ts';
import type { ParameterType } from './types.ts';

export const STYLES = ['brace', 'colon', 'parens', 'angle', 'bracket', 'regex'] as const;
export type Style = (typeof STYLES)[number];

/**
 * What a spanning parameter behind `/a` takes: `all` is `/a` itself and all below it, `below` is `/a/` and all below
 * it, `some` is at least one character below `/a/`, `segments` is one or more segments, none of them empty.
 */
export type Takes = 'all' | 'below' | 'some' | 'segments';

export type Part =
  /** `raw` is how it was written, where percent-encodings in it were decoded. */
  | { readonly kind: 'literal'; readonly text: string; readonly raw?: string }
  | { readonly kind: 'parameter'; readonly name: string; readonly type: ParameterType }
  | { readonly kind: 'tail'; readonly name: string; readonly takes: Takes }
  /** A stretch of a regular expression that can hold slashes; `BOUNDARY` stands for them. */
  | {
      readonly kind: 'expression';
      readonly name?: string;
      readonly expression: Expression;
      readonly source: string;
      /** The first slash of the span is part of the expression. */
      readonly ownsSlash?: boolean;
    };

export interface Segment {
  readonly kind: 'segment';
  readonly parts: readonly Part[];
  /** All of it, where it has no parameter. */
  readonly text: string | undefined;
}

/** Takes any number of segments, its leading slash included. */
export interface Span {
  readonly kind: 'span';
  readonly parts: readonly Part[];
}

export type Piece = Segment | Span;
export type Shape = readonly Piece[];

export interface Pattern {
  readonly style: Style;
  /** As it was written. */
  readonly text: string;
  /** The fullest first, in the order in which a greedy matcher tries them. */
  readonly shapes: readonly Shape[];
  /** Those in which an optional part is left out. */
  readonly partial?: ReadonlySet<Shape>;
  /** With the whole path as one regular expression, what finds its groups in a path. */
  readonly capture?: { readonly source: string; readonly flags: string; readonly slashed: boolean };
}

/** What is wrong with a pattern; offsets into its text, `end` one past. */
export interface PatternError {
  readonly message: string;
  readonly start: number;
  readonly end: number;
}

export type PatternResult =
  | { readonly ok: true; readonly pattern: Pattern; readonly flaws: readonly PatternError[] }
  | { readonly ok: false; readonly error: PatternError };

/** The parameters of a pattern in the order of their first appearance, a name once. */
export function parametersOf(pattern: Pattern): readonly { readonly name: string; readonly type: ParameterType | undefined }[] {
  const found = new Map<string, ParameterType | undefined>();
  for (const shape of pattern.shapes) {
    for (const part of shape.flatMap((piece) => piece.parts)) {
      if (part.kind === 'parameter' && !found.has(part.name)) found.set(part.name, part.type);
      if (part.kind === 'tail' && !found.has(part.name)) found.set(part.name, undefined);
      if (part.kind === 'expression' && part.name !== undefined && !found.has(part.name)) found.set(part.name, undefined);
    }
  }
  return [...found].map(([name, type]) => ({ name, type }));
}

/** A segment of these parts. */
export function segmentOf(parts: readonly Part[]): Segment {
  let text: string | undefined = '';
  for (const part of parts) text = part.kind === 'literal' && text !== undefined ? text + part.text : undefined;
  return { kind: 'segment', parts, text };
}

/** A segment that is nothing but this text. */
export function literalSegment(text: string): Segment {
  return { kind: 'segment', parts: text === '' ? [] : [{ kind: 'literal', text }], text };
}

/** The piece with its literal text as it was written, for routers that compare what was sent. */
export function rawPiece(piece: Piece): Piece {
  if (!piece.parts.some((p) => p.kind === 'literal' && p.raw !== undefined)) return piece;
  const parts = piece.parts.map((p): Part => (p.kind === 'literal' ? { kind: 'literal', text: p.raw ?? p.text } : p));
  return piece.kind === 'span' ? { ...piece, parts } : segmentOf(parts);
}

/** The text of a segment without parameters. */
export function literalText(piece: Piece): string | undefined {
  return piece.kind === 'span' ? undefined : piece.text;
}
