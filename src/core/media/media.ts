/** Media types and ranges, and which of the offered types a client gets (RFC 9110, 12.5.1 and 8.3.1). */

export interface MediaRange {
  /** Lower case; `*` in a range. */
  readonly type: string;
  readonly subtype: string;
  /** Names in lower case, without `q`. */
  readonly parameters: ReadonlyMap<string, string>;
  /** 0 to 1; 0 refuses. */
  readonly quality: number;
}

const ELEMENT = /(?:[^",]|"(?:[^"\\]|\\.)*")+/gu;
const PARAMETER = /;\s*([!#$%&'*+.^_`|~\w-]+)\s*=\s*(?:"((?:[^"\\]|\\.)*)"|([^;\s]*))/gu;

/** The ranges of an Accept header, or the one type of a Content-Type; elements that can't be read are passed over. */
export function parseRanges(header: string): readonly MediaRange[] {
  return (header.match(ELEMENT) ?? []).flatMap((element): MediaRange[] => {
    const [name = ''] = element.trim().split(';', 1);
    const [type, subtype, more] = name.trim().toLowerCase().split('/');
    if (!type || !subtype || more !== undefined) return [];
    const parameters = new Map<string, string>();
    let quality = 1;
    for (const [, key = '', quoted, plain = ''] of element.matchAll(PARAMETER)) {
      const value = quoted === undefined ? plain : quoted.replaceAll(/\\(.)/gu, '$1');
      if (key.toLowerCase() === 'q') quality = Math.min(1, Math.max(0, Number(value) || 0));
      else parameters.set(key.toLowerCase(), value);
    }
    return [{ type, subtype, parameters, quality }];
  });
}

/** How precisely a range names a type: 0 not at all, then by wildcards and parameters, more being more precise. */
function precision(range: MediaRange, offered: MediaRange, useParameters: boolean): number {
  if (range.type !== '*' && range.type !== offered.type) return 0;
  if (range.subtype !== '*' && range.subtype !== offered.subtype) return 0;
  if (!useParameters) return range.type === '*' ? 1 : range.subtype === '*' ? 2 : 3;
  for (const [name, value] of range.parameters) {
    const has = offered.parameters.get(name);
    if (has === undefined || has.toLowerCase() !== value.toLowerCase()) return 0;
  }
  return (range.type === '*' ? 1 : range.subtype === '*' ? 2 : 3) + range.parameters.size;
}

/** The quality that an Accept header gives an offered type: that of the most precise range; 0 when none names it. */
export function qualityOf(accept: readonly MediaRange[], offered: string, useParameters = true): number {
  const [type] = parseRanges(offered);
  if (type === undefined) return 0;
  let best = 0;
  let quality = 0;
  for (const range of accept) {
    const p = precision(range, type, useParameters);
    if (p > best) {
      best = p;
      quality = range.quality;
    }
  }
  return quality;
}

/** The type that is sent: of the highest quality, among equals the first declared. Undefined when none is acceptable. */
export function chooseType(accept: string | undefined, offered: readonly string[], useParameters = true): string | undefined {
  if (accept === undefined || accept.trim() === '') return offered[0];
  const ranges = parseRanges(accept);
  let best: string | undefined;
  let highest = 0;
  for (const type of offered) {
    const quality = qualityOf(ranges, type, useParameters);
    if (quality > highest) {
      highest = quality;
      best = type;
    }
  }
  return best;
}

/** Does a declared range of request types take this Content-Type? A charset never decides. */
export function takesType(declared: readonly string[], contentType: string, useParameters = true): boolean {
  const [sent] = parseRanges(contentType);
  if (sent === undefined) return false;
  return declared.some((text) => {
    const [range] = parseRanges(text);
    if (range === undefined) return false;
    const parameters = new Map([...range.parameters].filter(([name]) => name !== 'charset'));
    return precision({ ...range, parameters }, sent, useParameters) > 0;
  });
}

/** Are two media types one, for every request? Parameters in any order; a charset tells nothing apart. */
export function sameMedia(a: string, b: string): boolean {
  const [x] = parseRanges(a);
  const [y] = parseRanges(b);
  if (x === undefined || y === undefined) return a === b;
  const own = (r: MediaRange): readonly string[] =>
    [...r.parameters]
      .filter(([name]) => name !== 'charset')
      .map(([name, value]) => `${name}=${value.toLowerCase()}`)
      .sort();
  return x.type === y.type && x.subtype === y.subtype && own(x).join(';') === own(y).join(';');
}
