/** Texts that are too long for their column, cut so that they can still be told apart. */
import { widthOf } from './terminal.ts';

/** How much of the room the end of a text gets; the next is tried where two texts would look the same. */
const ENDS = [0.6, 0.9, 0.3, 0.75, 0] as const;

/**
 * Each text as it fits `room`: what is too long loses its middle, because the beginnings of paths and names are the same and
 * their ends are not. Equal texts stay equal; different ones stay different where any cut can do that. O(all text).
 */
export function shortened(texts: Iterable<string>, room: number): ReadonlyMap<string, string> {
  const out = new Map<string, string>();
  const taken = new Set<string>();
  const long: string[] = [];
  for (const text of new Set(texts)) {
    if (widthOf(text) > room) long.push(text);
    else {
      out.set(text, text);
      taken.add(text);
    }
  }
  for (const text of long) {
    const cuts = ENDS.map((end) => cut(text, room, end));
    const own = cuts.find((c) => !taken.has(c)) ?? (cuts[0] as string);
    taken.add(own);
    out.set(text, own);
  }
  return out;
}

function cut(text: string, room: number, share: number): string {
  const all = [...text];
  const kept = Math.max(1, room - 1);
  let end = Math.floor(kept * share);
  // A whole segment reads better than half of one.
  const tail = all.slice(all.length - end).join('');
  const slash = tail.indexOf('/');
  if (slash > 0 && slash < end / 2) end -= [...tail.slice(0, slash)].length;
  const head = all.slice(0, kept - end).join('');
  return `${head}…${end === 0 ? '' : all.slice(all.length - end).join('')}`;
}
