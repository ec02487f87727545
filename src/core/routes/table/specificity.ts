/** How specific a piece is at its place: literal, mixed, typed, plain, tail. */
import { literalText, type Part, type Piece } from '../../paths/pattern.ts';
import type { Facts } from './router-facts.ts';

/** What precedence says of two overlapping leaves. */
export type Order = 'first' | 'second' | 'tie';

export function compareNumbers(a: number, b: number): Order {
  if (a === b) return 'tie';
  return a < b ? 'first' : 'second';
}

/** The first that decides. */
export function thenBy(order: Order, next: () => Order): Order {
  return order === 'tie' ? next() : order;
}

const [LITERAL, MIXED, TYPED, PLAIN, TAIL] = [0, 1, 2, 3, 4];

/** The facts by which pieces are compared. */
export type PieceFacts = Pick<Facts, 'types' | 'typedBranch' | 'mixed'>;

/** A type that is no part of the match, or has no branch of its own, makes nothing more specific. */
export function comparePieces(a: Piece, b: Piece, facts: PieceFacts): Order {
  const typesCount = facts.types !== 'after-match' && facts.typedBranch !== 'shared';
  const kind = kindOf(a, typesCount);
  const order = compareNumbers(kind, kindOf(b, typesCount));
  if (order !== 'tie' || kind !== MIXED) return order;
  return facts.mixed === 'most-parts' ? byParts(a, b) : byLeading(a, b);
}

function kindOf(piece: Piece, typesCount: boolean): number {
  if (piece.kind === 'span') return TAIL as number;
  if (literalText(piece) !== undefined) return LITERAL as number;
  const [only] = piece.parts;
  if (piece.parts.length > 1 || only?.kind !== 'parameter') return MIXED as number;
  return only.type.name === 'text' || !typesCount ? (PLAIN as number) : (TYPED as number);
}

/** The longer text before the first parameter, then the longer one behind the last. */
function byLeading(a: Piece, b: Piece): Order {
  return thenBy(compareNumbers(-textOf(a.parts[0]).length, -textOf(b.parts[0]).length), () =>
    compareNumbers(-textOf(a.parts.at(-1)).length, -textOf(b.parts.at(-1)).length),
  );
}

/** The more parts, then what starts with text, then the longer text of the first that differ, then alphabetically. */
function byParts(a: Piece, b: Piece): Order {
  const startsWithText = (p: Piece): number => (p.parts[0]?.kind === 'literal' ? 0 : 1);
  const texts = (p: Piece): readonly string[] => p.parts.flatMap((part) => (part.kind === 'literal' ? [part.text] : []));
  const [x, y] = [texts(a), texts(b)];
  return thenBy(compareNumbers(-a.parts.length, -b.parts.length), () =>
    thenBy(compareNumbers(startsWithText(a), startsWithText(b)), () => {
      const at = x.findIndex((text, i) => text !== y[i]);
      if (at < 0) return 'tie';
      const [s, t] = [x[at] as string, y[at] ?? ''];
      return thenBy(compareNumbers(-s.length, -t.length), () => (s < t ? 'first' : 'second'));
    }),
  );
}

function textOf(part: Part | undefined): string {
  return part?.kind === 'literal' ? part.text : '';
}
