/** Paths of groups: a prefix and what stands below it. */
import { literalSegment, type Pattern, type Shape, type Style } from '../../paths/pattern.ts';

/**
 * A prefix and what stands below it. `/` below a prefix is the prefix itself: `/moorings` and `/` are `/moorings`.
 * A prefix's own trailing slash is dropped.
 */
export function joinPaths(prefix: string, path: string, style: Style): string {
  if (style === 'regex') return prefix === '' ? path : prefix.replace(/\$$/u, '') + path.replace(/^\^/u, '');
  if (prefix === '' || prefix === '/') return path === '' ? prefix : path;
  if (path === '' || path === '/') return prefix;
  const bare = prefix.replace(/\/$/u, '');
  return path.startsWith('/') ? bare + path : `${bare}/${path}`;
}

/** The pattern with and without a slash at its end. */
export function withBothSlashes(pattern: Pattern): Pattern {
  const slashed = pattern.shapes.map((shape): Shape => [...shape, literalSegment('')]);
  return { ...pattern, shapes: [...pattern.shapes, ...slashed] };
}
