/**
 * Where the parts of a JSON text stand that somebody asks for. The text was parsed before, so it is known to be JSON, and
 * what nobody asks for is stepped over: a document of many megabytes is read for a handful of places.
 */

/** Pointers that are wanted, as a tree of their keys. */
export interface Wanted {
  readonly pointers: string[];
  readonly children: Map<string, Wanted>;
}

/** A line break. */
const BREAK = 10;
const [QUOTE, BACKSLASH, COMMA, OPEN_LIST, CLOSE_LIST, OPEN, CLOSE] = [34, 92, 44, 91, 93, 123, 125];

/**
 * Calls `note` with each wanted node and the offset of its key, its item, or the whole. `parsed` is what the text stands
 * for. O(text), of which little is looked at where it is indented as its parts nest.
 */
export function findInJson(text: string, parsed: unknown, root: Wanted, note: (wanted: Wanted, offset: number) => void): void {
  if (!walk(text, root, note, byLines(text), parsed)) walk(text, root, note, (at) => behind(text, at), undefined);
}

/** The offset behind a value that nobody asks about; `key` is where its key, or it as an item, starts. */
type Skip = (at: number, key: number) => number;

/** False where what is found is not what was parsed: then the text is not indented as was thought. */
function walk(text: string, root: Wanted, note: (wanted: Wanted, offset: number) => void, skip: Skip, parsed: unknown): boolean {
  let sound = true;
  const value = (at: number, wanted: Wanted, known: unknown): number => {
    const code = text.charCodeAt(at);
    if (wanted.children.size === 0 || (code !== OPEN && code !== OPEN_LIST)) return behind(text, at);
    const keys = known === undefined ? undefined : Object.keys(known as object);
    let i = blank(text, at + 1);
    let n = 0;
    for (; sound && !isClose(text.charCodeAt(i)) && i < text.length; n++) {
      const from = i;
      let key = String(n);
      if (code === OPEN) {
        const end = behind(text, i);
        key = keyIn(text, i, end);
        // Behind the colon.
        i = blank(text, blank(text, end) + 1);
      }
      if (keys !== undefined && key !== keys[n]) sound = false;
      const child = wanted.children.get(key);
      if (child !== undefined) note(child, from);
      const inner = known === undefined ? undefined : (known as Record<string, unknown>)[key];
      i = blank(text, child === undefined ? skip(i, from) : value(i, child, inner));
      if (text.charCodeAt(i) === COMMA) i = blank(text, i + 1);
    }
    if (keys !== undefined && n !== keys.length) sound = false;
    return i + 1;
  };
  const start = blank(text, text.charCodeAt(0) === 0xfeff ? 1 : 0);
  note(root, start);
  value(start, root, parsed);
  return sound;
}

function isClose(code: number): boolean {
  return code === CLOSE || code === CLOSE_LIST;
}

function keyIn(text: string, from: number, to: number): string {
  const plain = text.slice(from + 1, to - 1);
  if (!plain.includes('\\')) return plain;
  return JSON.parse(text.slice(from, to)) as string;
}

/**
 * Where what a value holds stands on lines of its own, further in than the line that the value starts on, its end is the
 * first line that is as far out: no text of JSON holds a line break. Held against its brackets, and by whoever asks
 * against what was parsed, because people indent as they like.
 */
function byLines(text: string): Skip {
  return (at, key) => {
    const code = text.charCodeAt(at);
    if ((code !== OPEN && code !== OPEN_LIST) || text.charCodeAt(at + 1) !== BREAK) return behind(text, at);
    // Looked for only now: a text may be one line of megabytes.
    const line = text.lastIndexOf('\n', key) + 1;
    if (text.charCodeAt(at + 2 + key - line) > 32) return behind(text, at);
    const margin = text.slice(line - 1, key);
    if (margin.trim() !== '' || line === 0 || !text.startsWith(margin, at + 1)) return behind(text, at);
    const close = margin + (code === OPEN ? '}' : ']');
    const last = text.indexOf(close, at + 1);
    const end = last + close.length;
    return last >= 0 && isBalanced(text.slice(at, end), code) ? end : behind(text, at);
  };
}

/** Does the last of these brackets close the first, and no other does, whatever stands in texts? */
function isBalanced(part: string, open: number): boolean {
  const [opening, closing] = open === OPEN ? ['{', '}'] : ['[', ']'];
  let next = part.indexOf(opening, 1);
  let depth = 1;
  for (let i = part.indexOf(closing); i >= 0; i = part.indexOf(closing, i + 1)) {
    for (; next >= 0 && next < i; next = part.indexOf(opening, next + 1)) depth += 1;
    depth -= 1;
    if (depth === 0) return i + 1 === part.length;
  }
  return false;
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
