/**
 * Escape characters in the text of an input. Nobody means them in a route or a document, and a terminal would obey them:
 * they become the text `\u001b`, everywhere in the value.
 */

/** The character itself, or one of the ways in which YAML and JSON write it. */
// biome-ignore lint/suspicious/noControlCharactersInRegex: these are what is looked for
const MAY_HOLD = /\u001b|\\(?:e|x1b|u001b|U0000001b)/iu;

/** The value without escape characters, itself where its text has none. O(text), and O(value) where there are some. */
export function withoutEscapes(text: string, value: unknown): unknown {
  return MAY_HOLD.test(text) ? replaced(value, new Map()) : value;
}

function replaced(value: unknown, done: Map<object, unknown>): unknown {
  if (typeof value === 'string') return value.replaceAll('\u001b', '\\u001b');
  if (typeof value !== 'object' || value === null) return value;
  const known = done.get(value);
  if (known !== undefined) return known;
  if (Array.isArray(value)) {
    const list: unknown[] = [];
    done.set(value, list);
    for (const item of value) list.push(replaced(item, done));
    return list;
  }
  const made: Record<string, unknown> = {};
  done.set(value, made);
  for (const [key, item] of Object.entries(value)) {
    const name = replaced(key, done) as string;
    Object.defineProperty(made, name, { value: replaced(item, done), enumerable: true, configurable: true, writable: true });
  }
  return made;
}
