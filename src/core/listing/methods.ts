/** Cells that name request methods. */

/** RFC 9110, 9.3; RFC 5789. In any case: listings print `get`. */
const USUAL = new Set(['GET', 'HEAD', 'POST', 'PUT', 'PATCH', 'DELETE', 'OPTIONS', 'TRACE', 'CONNECT']);
/** WebDAV (RFC 4918) and its relatives: in upper case alone, because `lock` and `link` are names. */
const RARE = new Set([
  ...['PROPFIND', 'PROPPATCH', 'MKCOL', 'COPY', 'MOVE', 'LOCK', 'UNLOCK', 'REPORT', 'SEARCH', 'PURGE', 'LINK', 'UNLINK', 'QUERY'],
]);
/** Words for every method. */
const EVERY = new Set(['ANY', 'ALL', '*']);
/** Words that stand where a method would, of rows that answer no request. */
const NO_HANDLER = new Set(['USE', 'MIDDLEWARE', 'BEFORE', 'AFTER', 'HOOK', 'FILTER', 'WS', 'MOUNT']);

/** A longer cell names no methods, in characters. */
const MOST_CELL = 200;

/**
 * The methods that a cell names: `GET|HEAD`, `GET, POST`, `[GET]`, `('GET', 'POST')`, `any`. Undefined where it names anything
 * else. ANY stands for every method.
 */
export function methodsIn(cell: string): readonly string[] | undefined {
  if (cell.length > MOST_CELL) return undefined;
  const bare = cell.replace(/^[[({<'"\s]+|[\])}>'"\s:]+$/gu, '');
  if (bare === '') return undefined;
  const words = bare.split(/['"]?\s*[|,/;+&]\s*['"]?|['"]?\s+['"]?/u).filter((w) => w !== '');
  const found: string[] = [];
  for (const word of words) {
    const upper = word.toUpperCase();
    if (EVERY.has(upper)) return ['ANY'];
    if (!USUAL.has(upper) && !RARE.has(word)) return undefined;
    if (!found.includes(upper)) found.push(upper);
  }
  return found.length === 0 ? undefined : found;
}

/** Why a row with this path and these methods is no route; undefined where it is one. */
export function whyNoRoute(path: string | undefined, said: string | undefined): string | undefined {
  if (path === undefined) return 'no path stands in it';
  return said !== undefined && methodsIn(said) === undefined ? `"${said}" is no method` : undefined;
}

/** Is it a word in the place of a method that means no handler? */
export function isNoHandler(cell: string): boolean {
  return NO_HANDLER.has(
    cell
      .replace(/^[[(]|[\])]$/gu, '')
      .trim()
      .toUpperCase(),
  );
}

/** Is it one method as it stands in running text: upper case, because `get` is a word? */
export function isMethodWord(word: string): boolean {
  return USUAL.has(word) || RARE.has(word) || word === 'ANY' || word === 'ALL';
}
