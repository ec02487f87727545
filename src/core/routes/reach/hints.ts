/** Texts that a person would send as the value of a parameter: those of the document, then by its type and its name. */
import type { Piece } from '../../paths/pattern.ts';
import type { Router } from '../index/router.ts';
import type { RouteShape } from '../index/segment-tree.ts';
import type { Axis } from './product.ts';

const BY_NAME: readonly (readonly [RegExp, readonly string[]])[] = [
  [/date|day$/iu, ['2027-03-14']],
  [/lang|locale/iu, ['en']],
  [/format|ext/iu, ['json']],
  [/file|document|path/iu, ['file.pdf']],
];

const COMMON_METHODS = ['GET', 'POST', 'PUT', 'PATCH', 'DELETE', 'HEAD', 'OPTIONS'] as const;

/** The texts to try first on one side of a leaf's reach. */
export function hintsFor(leaf: RouteShape, axis: Axis, router?: Pick<Router, 'versioning' | 'samples'>): readonly string[] {
  switch (axis.kind) {
    case 'method':
      return COMMON_METHODS;
    case 'segment':
      return pieceHints(leaf.shape[axis.at], router?.samples());
    case 'takes':
    case 'returns':
      return ['application/json', 'application/xml', 'text/plain'];
    case 'version':
      return router?.versioning?.versions ?? ['1', '2'];
    case 'host':
      return [(leaf.route.conditions.host ?? '').replaceAll('*', 'www')];
    default:
      return [];
  }
}

function pieceHints(piece: Piece | undefined, samples?: ReadonlyMap<string, readonly string[]>): readonly string[] {
  if (piece === undefined) return [];
  const [only] = piece.parts;
  if (piece.parts.length !== 1 || only?.kind !== 'parameter') return [];
  const named = BY_NAME.flatMap(([name, texts]) => (name.test(only.name) ? texts : []));
  const own = only.name.toLowerCase().replaceAll(/[^a-z]+/gu, '');
  return [...(samples?.get(only.name) ?? []), ...only.type.hints, ...named, '7', ...(own === '' ? [] : [own])];
}
