/** What a path looks like without the values in it, so that requests can be told together and no secret is told. */
import { percentDecoded } from '../base/percent.ts';

/** A segment that may hold anything. */
const HIDDEN = '{…}';
/** Segments of paths; a longer one is cut. */
const MOST_SEGMENTS = 12;

/** The words that stand as literals in route tables and documents: they are no values. O(all paths). */
export function wordsOf(paths: Iterable<string>): ReadonlySet<string> {
  const words = new Set<string>();
  for (const path of paths)
    for (const segment of path.split('/')) if (/^[\w.~-]+$/u.test(segment)) words.add(segment.toLowerCase());
  return words;
}

/**
 * A path with what may be a value hidden: words of the table and versions stay, and so does the first other segment of small
 * letters, which names a resource that is not there. A query and all behind it are left out.
 */
export function shapeOf(target: string, words: ReadonlySet<string>): string {
  const path = target.replace(/^[a-z][a-z0-9+.-]*:\/\/[^/?#]*/iu, '').replace(/[?#].*$/su, '');
  if (path === '*') return path;
  if (!path.startsWith('/')) return HIDDEN;
  const segments = path.slice(1).split('/');
  let isFirst = true;
  const shown = segments.slice(0, MOST_SEGMENTS).map((raw) => {
    const segment = percentDecoded(raw) ?? '';
    if (raw === '' || words.has(segment.toLowerCase()) || /^v\d{1,2}$/u.test(segment)) return segment;
    const isWord = isFirst && /^[a-z]+(?:[._-][a-z]+){0,2}$/u.test(segment) && segment.length <= 20;
    isFirst = false;
    return isWord ? segment : HIDDEN;
  });
  return `/${shown.join('/')}${segments.length > MOST_SEGMENTS ? '/…' : ''}`;
}

/** The name of a parameter or header, unless it looks like a value itself: letters, and at most two digits behind them. */
export function shownName(name: string): string {
  return /^[A-Za-z_][A-Za-z_.[\]-]{0,38}\d{0,2}\]?$/u.test(name) ? name : HIDDEN;
}

/** A client by the product that its User-Agent names first (RFC 9110, 10.1.5). */
export function productOf(agent: string): string {
  if (agent === '' || agent === '-') return 'no User-Agent';
  const [, product = ''] = /^([A-Za-z][A-Za-z._-]{0,30}[A-Za-z]?\d{0,2})(?=[/ ;(]|$)/u.exec(agent) ?? [];
  return product === '' ? 'another client' : product;
}
