/**
 * Shapes by the literal words in them: which of them a path was meant for, without looking at every one. A word is found
 * where it stands from the start and from the end, so that a segment more or less on the other side changes nothing, and
 * by what is left of it without one letter, so that a letter too many, too few, another or two in turn find it too.
 */
import { literalText, type Piece, type Shape } from '../paths/pattern.ts';
import type { Router } from './router.ts';
import type { Leaf } from './tree.ts';

export interface NearIndex {
  /** The shapes that share most words with the path, at most `MOST_CANDIDATES`. */
  readonly candidates: (segments: readonly string[]) => readonly Leaf[];
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

const indexes = new WeakMap<Router, NearIndex>();

/** The index of a router, built when the first path misses. O(segments of the table). */
export function nearIndex(router: Router): NearIndex {
  const known = indexes.get(router) ?? build(router);
  indexes.set(router, known);
  return known;
}

function build(router: Router): NearIndex {
  const leaves: Leaf[] = [];
  const seen = new Set<Shape>();
  for (const route of router.table.routes) {
    if (route.ends) continue;
    for (const leaf of router.leavesOf(route)) {
      if (leaf.otherSlash === true || seen.has(leaf.shape)) continue;
      seen.add(leaf.shape);
      leaves.push(leaf);
    }
  }
  const hasSlashes = leaves.some(({ shape }) => shape.length > 1 && literalText(shape.at(-1) as Piece) === '');
  if (leaves.length <= FEW) return { hasSlashes, candidates: () => leaves };
  const byPlace = new Map<string, number[]>();
  const spellings = new Map<string, string[]>();
  const words = new Set<string>();
  leaves.forEach(({ shape }, id) => {
    const isOpen = shape.at(-1)?.kind === 'span';
    shape.forEach((piece, at) => {
      const word = wordOf(piece);
      if (word === undefined) return;
      words.add(word);
      push(byPlace, `${word} ${at}`, id);
      if (!isOpen) push(byPlace, `${word} -${shape.length - at}`, id);
    });
  });
  for (const word of words) for (const key of lessOne(word)) push(spellings, key, word);
  return { hasSlashes, candidates: (segments) => ranked(segments, byPlace, spellings, words).map((id) => leaves[id] as Leaf) };
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

/** The lists of the rarest words first; then the shapes found most often, and of these the ones of the same length. */
function ranked(
  segments: readonly string[],
  byPlace: ReadonlyMap<string, readonly number[]>,
  spellings: ReadonlyMap<string, readonly string[]>,
  words: ReadonlySet<string>,
): readonly number[] {
  const lists: (readonly number[])[] = [];
  segments.forEach((segment, at) => {
    const text = segment.toLowerCase();
    const alike = words.has(text) ? [text] : [...new Set(lessOne(text).flatMap((key) => spellings.get(key) ?? []))];
    for (const word of alike) {
      // One segment more or less before a word moves it by one; more of them are a prefix, which the other end sees.
      for (const place of [at, at + 1, at - 1]) lists.push(byPlace.get(`${word} ${place}`) ?? []);
      for (const place of [segments.length - at]) lists.push(byPlace.get(`${word} -${place}`) ?? []);
    }
  });
  const counts = new Map<number, number>();
  let read = 0;
  for (const list of lists.filter((l) => l.length > 0).sort((a, b) => a.length - b.length)) {
    for (const id of list) {
      if (read >= MOST_READ) break;
      read += 1;
      counts.set(id, (counts.get(id) ?? 0) + 1);
    }
  }
  return [...counts]
    .sort((a, b) => b[1] - a[1] || a[0] - b[0])
    .slice(0, MOST_CANDIDATES)
    .map(([id]) => id);
}
