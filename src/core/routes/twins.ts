/** Patterns that look so alike that people take one for the other. */
import { literalText, type Shape } from '../paths/pattern.ts';
import type { Route } from './route.ts';
import type { Router } from './router.ts';

export interface Twin {
  readonly route: Route;
  readonly other: Route;
  /** What alone tells them apart. */
  readonly by: 'slash' | 'case' | 'plural';
}

/** Routes whose paths differ in a slash, in letter case or in a plural alone; one for each pair of paths. */
export function twins(router: Router): readonly Twin[] {
  const { facts } = router;
  const groups = new Map<string, Map<string, { route: Route; words: readonly string[] }>>();
  const seen = new Set<Shape>();
  for (const route of router.table.routes) {
    if (route.ends) continue;
    for (const shape of route.pattern.shapes) {
      if (seen.has(shape)) continue;
      seen.add(shape);
      const words = shape.map((piece, i) =>
        piece.kind === 'span'
          ? `*${router.tree.compiler.rest(shape, i).id}`
          : (literalText(piece) ?? `{${router.tree.compiler.segment(piece).id}}`),
      );
      const key = words
        .filter((w) => w !== '')
        .map((w) => (w.startsWith('{') || w.startsWith('*') ? w : bare(w)))
        .join('/');
      const group = groups.get(key) ?? new Map();
      groups.set(key, group);
      const spelling = words.join('/');
      if (!group.has(spelling)) group.set(spelling, { route, words });
    }
  }
  return [...groups.values()].flatMap((group): Twin[] => {
    const [first, ...rest] = [...group.values()];
    if (first === undefined) return [];
    return rest.flatMap(({ route, words }): Twin[] => {
      const by = difference(first.words, words);
      if (route === first.route || by === undefined) return [];
      // Where the router takes both spellings for one, the two are the same path, which is another finding.
      if ((by === 'slash' && facts.trailingSlash !== 'exact') || (by === 'case' && facts.letterCase === 'either')) return [];
      return [{ route, other: first.route, by }];
    });
  });
}

const bareWords = new Map<string, string>();

/** In lower case, without the ending of a plural. */
function bare(word: string): string {
  const known = bareWords.get(word) ?? makeBare(word);
  bareWords.set(word, known);
  return known;
}

function makeBare(word: string): string {
  const lower = word.toLowerCase();
  if (lower.endsWith('ies')) return `${lower.slice(0, -3)}y`;
  return lower.length > 3 && lower.endsWith('s') && !lower.endsWith('ss') ? lower.slice(0, -1) : lower;
}

function difference(a: readonly string[], b: readonly string[]): Twin['by'] | undefined {
  const full = (words: readonly string[]): readonly string[] => words.filter((w) => w !== '');
  const [x, y] = [full(a), full(b)];
  const same = (fold: (w: string) => string): boolean => x.every((w, i) => fold(w) === fold(y[i] as string));
  if (same((w) => w)) return 'slash';
  if (same((w) => w.toLowerCase())) return 'case';
  return 'plural';
}
