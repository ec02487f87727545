/** JSON that a person reads in passing: what does not fit is left out, and marked with three dots. */
import { isMapping } from './json.ts';

/** All of a value where it fits into so many characters, else what comes first of it. O(size). */
export function brief(value: unknown, room: number): string {
  const text = JSON.stringify(value) ?? 'nothing';
  if (text.length <= room) return text;
  return enclosed(value, (members) => {
    const kept: string[] = [];
    let used = 2;
    // One list or object of a list is like the other to somebody who sees nothing of what it holds.
    const some = Array.isArray(value) && typeof value[0] === 'object' ? members.slice(0, 1) : members;
    for (const [label, item] of some) {
      const member = label + closed(item);
      used += member.length + 2;
      if (kept.length > 0 && used + 8 > room) break;
      kept.push(member);
    }
    const more = members.length - kept.length;
    return more === 0 ? kept : [...kept, `… ${more} more`];
  });
}

/** A value that stands beside what matters: nothing of what it holds. */
function closed(value: unknown): string {
  return enclosed(value, (members) => (members.length === 0 ? [] : ['…']));
}

/** A list or an object with these members between its brackets, each with its name before it; anything else cut short. */
function enclosed(
  value: unknown,
  inner: (members: readonly (readonly [label: string, item: unknown])[]) => readonly string[],
): string {
  if (Array.isArray(value)) return `[${inner(value.map((item) => ['', item])).join(', ')}]`;
  if (isMapping(value))
    return `{${inner(Object.entries(value).map(([name, item]) => [`${JSON.stringify(name)}: `, item])).join(', ')}}`;
  const text = JSON.stringify(value) ?? 'nothing';
  if (text.length <= LONGEST) return text;
  // Of this one the length is what matters.
  const length = typeof value === 'string' && text.length > FAR_LONGER ? ` (${[...value].length} characters)` : '';
  return `${text.slice(0, LONGEST - 2)}…"${length}`;
}

const LONGEST = 60;
const FAR_LONGER = 250;
