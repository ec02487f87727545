/** In which style patterns are written, told by the patterns themselves. */
import type { Style } from '../paths/pattern.ts';

export interface StyleGuess {
  readonly style: Style;
  /** How many paths have its marks, and how many have those of another style. */
  readonly marked: number;
  readonly against: number;
}

/** What only patterns of a style hold. */
const MARKS: readonly (readonly [Style, RegExp])[] = [
  ['regex', /^\^|\(\?P?<\w+>|\$$/u],
  ['parens', /\((?:\/|\.:|:)[^()]*\)/u],
  ['colon', /(?:^|[/.~-]):[A-Za-z_]\w*|\/\*\w*$/u],
  ['brace', /\{[^{}]+\}/u],
  ['angle', /<[^<>]+>/u],
  ['bracket', /(?:^|\/)\[{1,2}[^[\]]+\]{1,2}(?:\/|$)/u],
];

/** The style whose marks most of the paths have; brace where none has any. O(all text). */
export function styleOf(paths: readonly string[]): StyleGuess {
  const counts = new Map<Style, number>();
  let any = 0;
  for (const path of paths) {
    const [style] = MARKS.find(([, mark]) => mark.test(path)) ?? [];
    if (style === undefined) continue;
    any += 1;
    counts.set(style, (counts.get(style) ?? 0) + 1);
  }
  // A table with optional groups writes most of its paths without one.
  const colon = counts.get('colon') ?? 0;
  if ((counts.get('parens') ?? 0) > 0) {
    counts.set('parens', (counts.get('parens') ?? 0) + colon);
    counts.delete('colon');
  }
  const [best] = [...counts].sort((a, b) => b[1] - a[1]);
  return best === undefined
    ? { style: 'brace', marked: 0, against: 0 }
    : { style: best[0], marked: best[1], against: any - best[1] };
}
