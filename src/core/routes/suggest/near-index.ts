/**
 * Shapes by the literal words in them: which of them a path was meant for, without looking at every one. A word is found
 * where it stands from the start and from the end, so that a segment more or less on the other side changes nothing, and
 * by what is left of it without one letter, so that a letter too many, too few, another or two in turn find it too.
 */
import { memoise } from '../../base/memo.ts';
import { literalText, type Piece, type Shape } from '../../paths/pattern.ts';
import type { Router } from '../index/router.ts';
import type { RouteShape } from '../index/segment-tree.ts';

export interface NearIndex {
  /** The shapes that share most words with the path, at most `MOST_CANDIDATES`. */
  readonly candidates: (segments: readonly string[]) => readonly RouteShape[];
  /** Does any shape end in a slash? */
  readonly hasSlashes: boolean;
}

/** The most shapes that one path is held against, and the most entries that are read to find them. */
const MOST_CANDIDATES = 12;
const MOST_READ = 200;
/** Tables with fewer shapes are looked through whole. */
const FEW = 60;
/** Words longer than this are not looked for misspelt. */
const LONGEST_WORD = 24;

/** The index of a router, built when the first path misses. O(segments of the table). */
export const nearIndex = memoise((router: Router): NearIndex => build(router));

function build(router: Router): NearIndex {
  const leaves: RouteShape[] = [];
  const seen = new Set<Shape>();
  for (const route of router.table.routes) {
    if (route.isBarrier) continue;
    for (const leaf of router.leavesOf(route)) {
      if (leaf.otherSlash === true || seen.has(leaf.shape)) continue;
      seen.add(leaf.shape);
      leaves.push(leaf);
    }
  }
  const hasSlashes = leaves.some(({ shape }) => shape.length > 1 && literalText(shape.at(-1) as Piece) === '');
  if (leaves.length <= FEW) return { hasSlashes, candidates: () => leaves };
  const words = new Map<string, Places>();
  const spellings = new Map<string, string[]>();
  leaves.forEach(({ shape }, id) => {
    const isOpen = shape.at(-1)?.kind === 'span';
    shape.forEach((piece, at) => {
      const word = wordOf(piece);
      if (word === undefined) return;
      const places = words.get(word) ?? { fromStart: [], toEnd: [] };
      words.set(word, places);
      put(places.fromStart, at, id);
      if (!isOpen) put(places.toEnd, shape.length - at, id);
    });
  });
  for (const word of words.keys()) for (const key of lessOne(word)) push(spellings, key, word);
  const counts = new Uint16Array(leaves.length);
  return {
    hasSlashes,
    candidates: (segments) => ranked(listsFor(segments, words, spellings), counts).map((id) => leaves[id] as RouteShape),
  };
}

/** The shapes in which a word stands, by its place from the start and from the end. */
interface Places {
  readonly fromStart: number[][];
  readonly toEnd: number[][];
}

function put(lists: number[][], at: number, id: number): void {
  const list = lists[at] ?? [];
  lists[at] = list;
  list.push(id);
}

function wordOf(piece: Piece): string | undefined {
  const text = literalText(piece);
  return text === undefined || text === '' ? undefined : text.toLowerCase();
}

function push<K, V>(map: Map<K, V[]>, key: K, value: V): void {
  const known = map.get(key);
  if (known === undefined) map.set(key, [value]);
  else known.push(value);
}

/** The word, and what is left of it without each of its letters. */
function lessOne(word: string): readonly string[] {
  if (word.length > LONGEST_WORD || word.length < 3) return [word];
  const out = [word];
  for (let i = 0; i < word.length; i++) out.push(word.slice(0, i) + word.slice(i + 1));
  return out;
}

/** For each segment the shapes that have its word, or one like it, where it stands or one place beside. */
function listsFor(
  segments: readonly string[],
  words: ReadonlyMap<string, Places>,
  spellings: ReadonlyMap<string, readonly string[]>,
): (readonly number[])[] {
  const lists: (readonly number[])[] = [];
  const add = (word: string, at: number): void => {
    const places = words.get(word);
    if (places === undefined) return;
    for (let place = Math.max(0, at - 1); place <= at + 1; place++) {
      const list = places.fromStart[place];
      if (list !== undefined) lists.push(list);
    }
    // More than one segment too many or too few are a prefix, which the other end does not see.
    const list = places.toEnd[segments.length - at];
    if (list !== undefined) lists.push(list);
  };
  for (let at = 0; at < segments.length; at++) {
    const text = (segments[at] as string).toLowerCase();
    if (words.has(text)) add(text, at);
    else for (const key of lessOne(text)) for (const word of spellings.get(key) ?? NONE) add(word, at);
  }
  return lists;
}

const NONE: readonly string[] = [];

/** The lists of the rarest words first; then the shapes found most often. `counts` is all zero before and after. */
function ranked(lists: (readonly number[])[], counts: Uint16Array): readonly number[] {
  const found: number[] = [];
  let read = 0;
  for (const list of lists.sort((a, b) => a.length - b.length)) {
    for (let i = 0; i < list.length && read < MOST_READ; i++, read++) {
      const id = list[i] as number;
      if (counts[id] === 0) found.push(id);
      counts[id] = (counts[id] as number) + 1;
    }
  }
  const best = found.sort((a, b) => (counts[b] as number) - (counts[a] as number) || a - b);
  const least = (counts[best[0] as number] as number) / 2;
  const most = best.slice(0, MOST_CANDIDATES).filter((id) => (counts[id] as number) >= least);
  for (const id of best) counts[id] = 0;
  return most;
}
