/** Texts that hold some keywords and break others. */
import { ANY, repeat } from '../../language/expression.ts';
import { accepts, intersect, type Language, languageOf, subtract, union, wordLanguage } from '../../language/language.ts';
import { exampleOfLength } from '../../language/lengths.ts';
import { decide } from '../../language/limits.ts';
import { FORMAT_EXAMPLES, formatLanguage } from '../vocabulary/formats.ts';
import { matchesPattern, patternLanguage, patternOverapproximation } from '../vocabulary/patterns.ts';
import { type Disjunct, EMPTY, type SearchResult } from './problem.ts';

/** Texts are made longer up to so many characters, before an automaton is made. */
const MOST_PADDED = 3_000;

/** A text of this way that is none of `not`. */
export function solveText(way: Disjunct, not: readonly unknown[], hints: readonly string[]): SearchResult {
  if (isUnreadTwice(way)) return EMPTY;
  let [low, high] = [0, Infinity];
  const languages: Language[] = [];
  const without: Language[] = [];
  const unread: NonRegularPattern[] = [];
  for (const { k } of way.pos) {
    low = Math.max(low, k.minLength ?? 0);
    high = Math.min(high, k.maxLength ?? Infinity);
    const format = k.format === undefined ? undefined : formatLanguage(k.format);
    if (format !== undefined) languages.push(format);
    if (k.pattern === undefined) continue;
    const pattern = patternLanguage(k.pattern);
    if (pattern === undefined) unread.push({ source: k.pattern, matches: true });
    else languages.push(pattern);
  }
  for (const { k, keyword } of way.broken) {
    if (keyword === 'minLength') high = Math.min(high, (k.minLength as number) - 1);
    else if (keyword === 'maxLength') low = Math.max(low, (k.maxLength as number) + 1);
    else if (keyword === 'format') {
      const format = formatLanguage(k.format as string);
      if (format === undefined) return EMPTY;
      without.push(format);
    } else if (keyword === 'pattern') {
      const pattern = patternLanguage(k.pattern as string);
      if (pattern === undefined) unread.push({ source: k.pattern as string, matches: false });
      else without.push(pattern);
    }
  }
  if (low > high) return EMPTY;
  const words = not.filter((v) => typeof v === 'string').map(wordLanguage);
  return textIn({ low, high, languages, without: words.length === 0 ? without : [...without, union(words)], unread }, hints);
}

/** A pattern that nobody can read is the same as itself. */
function isUnreadTwice({ pos, broken }: Disjunct): boolean {
  return broken.some(({ keyword, k: { pattern } }) => {
    if (keyword !== 'pattern' || pattern === undefined || patternLanguage(pattern) !== undefined) return false;
    return pos.some((p) => p.k.pattern === pattern);
  });
}

const UNREAD: SearchResult = { kind: 'undecided', why: 'pattern' };

/** What a pattern that is no language says of single texts is asked of the engine. */
interface NonRegularPattern {
  readonly source: string;
  readonly matches: boolean;
}

/** So many texts of what is a little too large are tried. */
const MOST_TRIED = 12;

const USUAL = Object.values(FORMAT_EXAMPLES);
/** What people type first, where it will do. */
const PLAIN = ['abc', '7'] as const;
const PADDING = ['7', 'a'] as const;
/** Such as rules for names and secrets ask for. */
const SAMPLE_SECRETS = ['Abcd-Efg-7!', 'abcd-efg-7', 'abcdefg7', 'ABCD7', 'Abcd', 'abcd', 'ABCD', 'abcd efg', '77', '_', ''];

interface Texts {
  readonly low: number;
  readonly high: number;
  readonly languages: readonly Language[];
  readonly without: readonly Language[];
  readonly unread: readonly NonRegularPattern[];
}

function textIn({ low, high, languages, without, unread }: Texts, hints: readonly string[]): SearchResult {
  if (languages.length + without.length + unread.length === 0) return { kind: 'witness', value: textOfLength(low, high, hints) };
  const usual = [...hints, ...PLAIN, ...USUAL, ...(unread.length === 0 ? [] : SAMPLE_SECRETS)];
  const fine = (t: string): boolean => unread.every(({ source, matches }) => matchesPattern(source, t) === matches);
  const will = (t: string): boolean => {
    const length = [...t].length;
    return (
      length >= low && length <= high && languages.every((l) => accepts(l, t)) && !without.some((l) => accepts(l, t)) && fine(t)
    );
  };
  // Most often one of these will do, if need be made longer, and no automaton has to be made.
  const longer = function* (): Generator<string> {
    for (const t of usual) if (t.length < low) for (const pad of PADDING) yield t + pad.repeat(low - [...t].length);
  };
  const known = usual.find(will) ?? (low <= MOST_PADDED ? [...longer()].find(will) : undefined);
  if (known !== undefined) return { kind: 'witness', value: known };
  const made = decide(() => {
    let language = languageOf(repeat(ANY));
    for (const l of languages) language = intersect(language, l);
    for (const l of without) language = subtract(language, l);
    for (const { source, matches } of unread) {
      const loose = patternOverapproximation(source);
      if (loose === undefined) return undefined;
      language = matches ? intersect(language, loose) : subtract(language, loose);
    }
    return language;
  });
  if (!made.decided) return { kind: 'undecided', why: made.why };
  if (made.value === undefined) return UNREAD;
  const strict = unread.every((u) => u.matches);
  for (let left = made.value, i = 0; ; i++) {
    const looked = decide(() => exampleOfLength(left, low, high, hints));
    if (!looked.decided) return { kind: 'undecided', why: looked.why };
    const text = looked.value;
    // What can't be read holds less than was looked through.
    if (text === undefined) return i === 0 && strict ? EMPTY : UNREAD;
    if (fine(text)) return { kind: 'witness', value: text };
    const rest = i < MOST_TRIED ? decide(() => subtract(left, wordLanguage(text))) : undefined;
    if (rest?.decided !== true) return UNREAD;
    left = rest.value;
  }
}

function textOfLength(low: number, high: number, hints: readonly string[]): string {
  const known = [...hints, 'abc', 'abcd', ''].find((h) => h.length >= low && h.length <= high);
  return known ?? 'abc-def-ghi-jkl-mno-pqr-'.repeat(Math.ceil(low / 24) + 1).slice(0, Math.max(low, Math.min(high, 3)));
}
