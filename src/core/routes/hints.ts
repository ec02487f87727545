/** Texts that a person would send as the value of a parameter, by its type and its name. */
import type { Piece } from '../paths/pattern.ts';
import type { Axis } from './reach.ts';
import type { Leaf } from './tree.ts';

const BY_NAME: readonly (readonly [RegExp, readonly string[]])[] = [
  [/registration|plate/iu, ['TE-4821']],
  [/date|day$/iu, ['2027-03-14']],
  [/slug|name|title|basin/iu, ['elm']],
  [/lang|locale/iu, ['en']],
  [/format|ext/iu, ['json']],
  [/file|document|path/iu, ['report.pdf']],
];

const COMMON_METHODS = ['GET', 'POST', 'PUT', 'PATCH', 'DELETE', 'HEAD', 'OPTIONS'] as const;

/** The texts to try first on one side of a leaf's reach. */
export function hintsFor(leaf: Leaf, axis: Axis): readonly string[] {
  switch (axis.kind) {
    case 'method':
      return COMMON_METHODS;
    case 'segment':
      return pieceHints(leaf.shape[axis.at]);
    case 'takes':
    case 'returns':
      return ['application/json', 'application/xml', 'text/plain'];
    case 'version':
      return ['1', '2'];
    case 'host':
      return ['desk.tarn-and-elm.example'];
    default:
      return [];
  }
}

function pieceHints(piece: Piece | undefined): readonly string[] {
  if (piece === undefined) return [];
  const [only] = piece.parts;
  if (piece.parts.length !== 1 || only?.kind !== 'parameter') return [];
  const named = BY_NAME.flatMap(([name, texts]) => (name.test(only.name) ? texts : []));
  return [...only.type.hints, ...named];
}
