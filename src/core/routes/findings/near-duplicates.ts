/** Patterns that look so alike that people take one for the other. */
import { RecentMap } from '../../base/memo.ts';
import { literalText, type Piece, type Shape } from '../../paths/pattern.ts';
import type { Router } from '../index/router.ts';
import type { Route } from '../table/route.ts';

export interface ConfusablePaths {
  readonly route: Route;
  readonly other: Route;
  /** What alone tells them apart. */
  readonly by: 'slash' | 'case' | 'plural';
}

/** Routes whose paths differ in a slash, in letter case or in a plural alone; one for each pair of paths. */
export function confusablePaths(router: Router): readonly ConfusablePaths[] {
  const { facts } = router;
  const first = new Map<string, Entry>();
  const more = new Map<Entry, Entry[]>();
  const seen = new Set<Shape>();
  for (const route of router.table.routes) {
    if (route.isBarrier) continue;
    for (const shape of route.pattern.shapes) {
      if (seen.has(shape)) continue;
      seen.add(shape);
      const words = new Array<string>(shape.length);
      let key = '';
      for (let i = 0; i < shape.length; i++) {
        const piece = shape[i] as Piece;
        const text = literalText(piece);
        const word = text ?? nameOf(router, shape, piece, i);
        words[i] = word;
        if (word !== '') key += `/${text === undefined ? word : bare(word)}`;
      }
      const entry: Entry = { route, words };
      const like = first.get(key);
      if (like === undefined) first.set(key, entry);
      else if (!sameWords(like, entry) && !more.get(like)?.some((e) => sameWords(e, entry)))
        more.set(like, [...(more.get(like) ?? []), entry]);
    }
  }
  return [...more]
    .sort(([a], [b]) => a.route.index - b.route.index)
    .flatMap(([like, entries]) => entries.map((entry) => ({ ...entry, like })))
    .flatMap(({ route, words, like }): ConfusablePaths[] => {
      const by = difference(like.words, words);
      if (route === like.route || by === undefined) return [];
      // Where the router takes both spellings for one, the two are the same path, which is another finding.
      if ((by === 'slash' && facts.trailingSlash !== 'exact') || (by === 'case' && facts.letterCase === 'either')) return [];
      return [{ route, other: like.route, by }];
    });
}

interface Entry {
  readonly route: Route;
  readonly words: readonly string[];
}

/** A name for what a parameter or a tail stands for. */
function nameOf({ tree: { compiler } }: Router, shape: Shape, piece: Piece, at: number): string {
  return piece.kind === 'span' ? `*${compiler.rest(shape, at).id}` : `{${compiler.segment(piece).id}}`;
}

function sameWords(a: Entry, b: Entry): boolean {
  return a.words.length === b.words.length && a.words.every((w, i) => w === b.words[i]);
}

const bareWords = new RecentMap<string, string>(2_000);

/** In lower case, without the ending of a plural. */
function bare(word: string): string {
  return bareWords.remember(word, () => makeBare(word));
}

function makeBare(word: string): string {
  const lower = word.toLowerCase();
  if (lower.endsWith('ies')) return `${lower.slice(0, -3)}y`;
  return lower.length > 3 && lower.endsWith('s') && !lower.endsWith('ss') ? lower.slice(0, -1) : lower;
}

function difference(a: readonly string[], b: readonly string[]): ConfusablePaths['by'] | undefined {
  const full = (words: readonly string[]): readonly string[] => words.filter((w) => w !== '');
  const [x, y] = [full(a), full(b)];
  const same = (fold: (w: string) => string): boolean => x.every((w, i) => fold(w) === fold(y[i] as string));
  if (same((w) => w)) return 'slash';
  if (same((w) => w.toLowerCase())) return 'case';
  return 'plural';
}
