/**
 * Where the parts of a JSON text stand that somebody asks for. The text was parsed before, so it is known to be JSON, and
 * what nobody asks for is stepped over: a document of many megabytes is read for a handful of places.
 */

/** Pointers that are wanted, as a tree of their keys. */
export interface Wanted {
  readonly pointers: string[];
  readonly children: Map<string, Wanted>;
}

const [QUOTE, BACKSLASH, COMMA, OPEN_LIST, CLOSE_LIST, OPEN, CLOSE] = [34, 92, 44, 91, 93, 123, 125];

/** Calls `note` with each wanted node and the offset of its key, its item, or the whole. O(text). */
export function findInJson(text: string, root: Wanted, note: (wanted: Wanted, offset: number) => void): void {
  const value = (at: number, wanted: Wanted): number => {
    const code = text.charCodeAt(at);
    if (wanted.children.size === 0 || (code !== OPEN && code !== OPEN_LIST)) return behind(text, at);
    let i = blank(text, at + 1);
    for (let n = 0; text.charCodeAt(i) !== CLOSE && text.charCodeAt(i) !== CLOSE_LIST && i < text.length; n++) {
      const from = i;
      let key = String(n);
      if (code === OPEN) {
        const end = behind(text, i);
        key = JSON.parse(text.slice(i, end)) as string;
        // Behind the colon.
        i = blank(text, blank(text, end) + 1);
      }
      const child = wanted.children.get(key);
      if (child !== undefined) note(child, from);
      i = blank(text, child === undefined ? behind(text, i) : value(i, child));
      if (text.charCodeAt(i) === COMMA) i = blank(text, i + 1);
    }
    return i + 1;
  };
  const start = blank(text, text.charCodeAt(0) === 0xfeff ? 1 : 0);
  note(root, start);
  value(start, root);
}

function blank(text: string, from: number): number {
  let i = from;
  while (text.charCodeAt(i) <= 32) i += 1;
  return i;
}

/** The offset behind the value that starts here. */
function behind(text: string, from: number): number {
  let depth = 0;
  let i = from;
  for (; i < text.length; i++) {
    const code = text.charCodeAt(i);
    if (code === QUOTE) i = endOfString(text, i);
    else if (code === OPEN || code === OPEN_LIST) depth += 1;
    else if (code === CLOSE || code === CLOSE_LIST) {
      // The end of what holds a number or a word.
      if (depth === 0) return i;
      depth -= 1;
    } else if (depth > 0) continue;
    else if (code === COMMA || code <= 32) return i;
    else continue;
    if (depth === 0) return i + 1;
  }
  return i;
}

/** The offset of the closing quote. */
function endOfString(text: string, from: number): number {
  for (let end = text.indexOf('"', from + 1); end >= 0; end = text.indexOf('"', end + 1)) {
    let slashes = 0;
    while (text.charCodeAt(end - 1 - slashes) === BACKSLASH) slashes += 1;
    if (slashes % 2 === 0) return end;
  }
  return text.length;
}
