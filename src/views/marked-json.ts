/** JSON on one line, with the part that matters marked, and what would hide it left out. */
import { brief } from '../core/base/excerpt.ts';
import { isMapping } from '../core/base/json.ts';

export interface Marking {
  readonly plain: (text: string) => string;
  readonly mark: (text: string) => string;
  /** Characters of a line: a longer value has spaces at which it can be wrapped. */
  readonly line: number;
  /** Characters: a longer value is shortened to the way to the part that matters. */
  readonly room: number;
}

/** A text of more characters is a word that no line takes. */
const LONGEST_TEXT = 120;

export function isShortened(value: unknown, room: number): boolean {
  return JSON.stringify(value).length > room || holdsLong(value);
}

function holdsLong(value: unknown): boolean {
  if (typeof value === 'string') return value.length > LONGEST_TEXT;
  return typeof value === 'object' && value !== null && Object.values(value).some(holdsLong);
}

/** What stands where the way ends. */
function ending(value: unknown, room: number): string {
  return brief(value, typeof value === 'string' ? LONGEST_TEXT : room / 2);
}

/** The part that the keys lead to is painted in another way; nothing is where they lead nowhere. */
export function markedJson(value: unknown, keys: readonly string[], marking: Marking): string {
  if (isShortened(value, marking.room)) return shortened(value, keys, marking);
  const text = JSON.stringify(value).length > marking.line ? spaced : JSON.stringify;
  return whole(value, keys, marking, text, text === spaced ? ' ' : '');
}

function whole(
  value: unknown,
  [key, ...rest]: readonly string[],
  marking: Marking,
  text: (value: unknown) => string,
  gap: string,
): string {
  const { plain, mark } = marking;
  if (key === undefined) return mark(text(value));
  if (typeof value !== 'object' || value === null || !Object.hasOwn(value, key)) return plain(text(value));
  const inner = Object.entries(value).map(([name, item]) => {
    const label = Array.isArray(value) ? '' : `${JSON.stringify(name)}:${gap}`;
    return name === key ? plain(label) + whole(item, rest, marking, text, gap) : plain(label + text(item));
  });
  const [open, close] = Array.isArray(value) ? ['[', ']'] : ['{', '}'];
  return plain(open) + inner.join(plain(`,${gap}`)) + plain(close);
}

function spaced(value: unknown): string {
  if (Array.isArray(value)) return `[${value.map(spaced).join(', ')}]`;
  if (!isMapping(value)) return JSON.stringify(value);
  return `{${Object.entries(value)
    .map(([name, item]) => `${JSON.stringify(name)}: ${spaced(item)}`)
    .join(', ')}}`;
}

/** Nothing but the way to the part that matters. */
function shortened(value: unknown, [key, ...rest]: readonly string[], marking: Marking): string {
  const { plain, mark, room } = marking;
  if (key === undefined) return mark(ending(value, room));
  if (typeof value !== 'object' || value === null || !Object.hasOwn(value, key)) return plain(ending(value, room));
  const names = Object.keys(value);
  const at = names.indexOf(key);
  const [open, close] = Array.isArray(value) ? ['[', ']'] : ['{', '}'];
  const label = Array.isArray(value) ? '' : `${JSON.stringify(key)}: `;
  const [before, after] = [at > 0 ? '…, ' : '', at < names.length - 1 ? ', …' : ''];
  const inner = shortened((value as Readonly<Record<string, unknown>>)[key], rest, marking);
  return plain(open + before + label) + inner + plain(after + close);
}
