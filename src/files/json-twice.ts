/** Keys that stand twice in one object of JSON, where parsers quietly keep the last (RFC 8259, 4). */

export interface Twice {
  readonly key: string;
  /** Where each of the two stands, as offsets into the text. */
  readonly first: number;
  readonly second: number;
}

/** Texts and the signs that open, close and part objects; numbers and words between them say nothing of keys. */
const SIGN = /"(?:[^"\\]|\\.)*"|[{}[\]:,]/gsu;

/** The first key of valid JSON that its object has already. O(text). */
export function keyTwice(text: string): Twice | undefined {
  /** The keys of each object that is open; undefined for a list. */
  const open: (Map<string, number> | undefined)[] = [];
  let last: RegExpExecArray | undefined;
  for (const match of text.matchAll(SIGN)) {
    const [sign] = match;
    if (sign === '{') open.push(new Map());
    else if (sign === '[') open.push(undefined);
    else if (sign === '}' || sign === ']') open.pop();
    else if (sign === ':' && last !== undefined) {
      const keys = open.at(-1);
      const key = JSON.parse(last[0]) as string;
      const first = keys?.get(key);
      if (first !== undefined) return { key, first, second: last.index };
      keys?.set(key, last.index);
    }
    last = sign.startsWith('"') ? match : undefined;
  }
  return undefined;
}
