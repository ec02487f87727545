/** Media types and ranges as headers have them: what can be read, and what was ignored (RFC 9110, 8.3.1 and 12.5.1). */

export interface MediaRange {
  /** Lower case; `*` in a range. */
  readonly type: string;
  readonly subtype: string;
  /** Names in lower case, without `q`. */
  readonly parameters: ReadonlyMap<string, string>;
  /** 0 to 1; 0 refuses. */
  readonly quality: number;
}

/** What a header says, and in words what of it could not be read as the standard has it. */
export interface ReadHeader {
  readonly ranges: readonly MediaRange[];
  readonly notes: readonly string[];
}

/** A list is cut at commas, an element at semicolons, neither inside quotes (RFC 9110, 5.6.1 and 5.6.6). */
const ELEMENT = /(?:[^",]|"(?:[^"\\]|\\.)*(?:"|$))+/gu;
const PIECE = /(?:[^";]|"(?:[^"\\]|\\.)*(?:"|$))+/gu;
const TOKEN = /^[!#$%&'*+.^_`|~\w-]+$/u;
const QUOTED = /^"((?:[^"\\]|\\.)*)"$/u;
/** RFC 9110, 12.4.2. */
const WEIGHT = /^(?:0(?:\.\d{0,3})?|1(?:\.0{0,3})?)$/u;
const ANYTHING: MediaRange = { type: '*', subtype: '*', parameters: new Map(), quality: 1 };

/**
 * The ranges of an Accept header. An element that is no range is ignored, and so is a weight that is none: the range
 * counts without it. Where nothing is left everything is accepted, as with an empty header. O(header).
 */
export function readAccept(header: string): ReadHeader {
  const notes: string[] = [];
  const ranges = elementsOf(header).flatMap((element) => rangeOf(element, notes) ?? []);
  if (ranges.length > 0) return { ranges, notes };
  return {
    ranges: [ANYTHING],
    notes: [...notes, `${notes.length > 0 ? 'nothing of' : 'an empty'} Accept is left, and it is read as */*`],
  };
}

/** The ranges that a text names, in its order; what can't be read is ignored. */
export function parseRanges(text: string): readonly MediaRange[] {
  return elementsOf(text).flatMap((element) => rangeOf(element, []) ?? []);
}

/** The one type that a Content-Type names; undefined where it names a range, several types or none (RFC 9110, 8.3). */
export function readContentType(header: string): MediaRange | undefined {
  const elements = elementsOf(header);
  const type = elements.length === 1 ? rangeOf(elements[0] as string, []) : undefined;
  return type === undefined || type.type === '*' || type.subtype === '*' ? undefined : type;
}

function elementsOf(header: string): readonly string[] {
  return (header.match(ELEMENT) ?? []).map((e) => e.trim()).filter((e) => e !== '');
}

function rangeOf(element: string, notes: string[]): MediaRange | undefined {
  const [first = '', ...pieces] = (element.match(PIECE) ?? []).map((p) => p.trim());
  const name = first.toLowerCase();
  const [type = '', subtype, more] = name === '*' ? ['*', '*'] : name.split('/');
  if (name === '*') notes.push('"*" is no media range and is read as */*');
  if (
    subtype === undefined ||
    more !== undefined ||
    !TOKEN.test(type) ||
    !TOKEN.test(subtype) ||
    (type === '*' && subtype !== '*')
  ) {
    notes.push(`"${first}" is no media range and is ignored`);
    return undefined;
  }
  const parameters = new Map<string, string>();
  let quality = 1;
  for (const piece of pieces) {
    const at = piece.indexOf('=');
    const key = piece.slice(0, Math.max(0, at)).trim().toLowerCase();
    const text = at < 0 ? '' : piece.slice(at + 1).trim();
    const [, quoted] = QUOTED.exec(text) ?? [];
    if (piece === '') continue;
    if (!TOKEN.test(key) || (quoted === undefined && text !== '' && !TOKEN.test(text) && key === 'q')) {
      notes.push(`"${piece}" of ${first} is no parameter and is ignored`);
      continue;
    }
    const value = quoted === undefined ? text : quoted.replaceAll(/\\(.)/gu, '$1');
    if (key !== 'q') parameters.set(key, value);
    else if (WEIGHT.test(text)) quality = Number(text);
    else notes.push(`the weight "${text}" of ${first} is none from 0 to 1 with up to three decimals, and is ignored`);
  }
  return { type, subtype, parameters, quality };
}

/** The header without a parameter that selects something else, such as the version. Linear. */
export function withoutParameter(header: string, name: string): string {
  const wanted = name.toLowerCase();
  const keyOf = (piece: string): string => (piece.split('=', 1)[0] as string).trim().toLowerCase();
  return elementsOf(header)
    .map((element) => {
      const [first = '', ...pieces] = element.match(PIECE) ?? [];
      return [first.trim(), ...pieces.filter((p) => keyOf(p) !== wanted).map((p) => p.trim())].join(';');
    })
    .join(', ');
}
