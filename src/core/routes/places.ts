/** How specific a piece is at its place: literal, mixed, typed, plain, tail. */
import { literalText, type Part, type Piece } from '../paths/pattern.ts';

/** What precedence says of two overlapping leaves. */
export type Order = 'first' | 'second' | 'tie';

export function fewer(a: number, b: number): Order {
  if (a === b) return 'tie';
  return a < b ? 'first' : 'second';
}

/** The first that decides. */
export function or(order: Order, next: () => Order): Order {
  return order === 'tie' ? next() : order;
}

const [LITERAL, MIXED, TYPED, PLAIN, TAIL] = [0, 1, 2, 3, 4];

/** A type that is no part of the match makes nothing more specific. */
export function comparePieces(a: Piece, b: Piece, typesMatch: boolean): Order {
  const kind = kindOf(a, typesMatch);
  const order = fewer(kind, kindOf(b, typesMatch));
  if (order !== 'tie' || kind !== MIXED) return order;
  return or(fewer(-leading(a).length, -leading(b).length), () => fewer(-trailing(a).length, -trailing(b).length));
}

function kindOf(piece: Piece, typesMatch: boolean): number {
  if (piece.kind === 'span') return TAIL as number;
  if (literalText(piece) !== undefined) return LITERAL as number;
  const [only] = piece.parts;
  if (piece.parts.length > 1 || only?.kind !== 'parameter') return MIXED as number;
  return only.type.name === 'text' || !typesMatch ? (PLAIN as number) : (TYPED as number);
}

function leading(piece: Piece): string {
  return textOf(piece.parts[0]);
}

function trailing(piece: Piece): string {
  return textOf(piece.parts[piece.parts.length - 1]);
}

function textOf(part: Part | undefined): string {
  return part?.kind === 'literal' ? part.text : '';
}
