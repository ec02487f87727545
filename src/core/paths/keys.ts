/** A path by what it matches, whatever its parameters are called and typed: one language for each segment. */
import { memoise } from '../base/memo.ts';
import { compiler, PLAIN_READING } from './compile.ts';
import { literalText, type Piece, type Shape, segmentOf } from './pattern.ts';
import { TEXT } from './types.ts';

const plain = compiler(PLAIN_READING);

/** The key of a piece, all behind it included where it spans several segments. Equal keys match the same text. */
function pieceKey(shape: Shape, at: number): string {
  // A text is its own language, and nothing else with no parameter in it has the same.
  const text = literalText(shape[at] as Piece);
  if (text !== undefined && !text.includes('/')) return `=${text}`;
  const piece = erased(shape[at] as Piece);
  if (piece.kind === 'segment') return String(plain.segment(piece).id);
  return `*${plain.rest([...shape.slice(0, at), piece, ...shape.slice(at + 1)], at).id}`;
}

/** O(segments), once for each shape, each language made once. */
export const pathKeys = memoise((shape: Shape): readonly string[] => shape.map((_, i) => pieceKey(shape, i)));

/** The piece with every parameter taken as text. */
function erased(piece: Piece): Piece {
  const parts = piece.parts.map((part) => (part.kind === 'parameter' ? { ...part, type: TEXT } : part));
  return piece.kind === 'span' ? { kind: 'span', parts } : segmentOf(parts);
}
