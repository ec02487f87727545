/** Numbers and texts that hold some keywords and break others. */

import { sameJson } from '../json.ts';
import { example } from '../language/example.ts';
import { ANY, repeat } from '../language/expression.ts';
import { holds, intersect, isEmpty, type Language, languageOf, subtract, unite, wordLanguage } from '../language/language.ts';
import { decide } from '../language/limits.ts';
import { commonMultiple, isMultiple, multipleAbove } from './decimals.ts';
import { FORMAT_EXAMPLES, formatLanguage, NUMBER_FORMATS } from './formats.ts';
import { ANYTHING } from './node.ts';
import { patternLanguage } from './patterns.ts';
import { type Found, NOT_FOUND, type Way } from './state.ts';

interface Range {
  low: number;
  lowOpen: boolean;
  high: number;
  highOpen: boolean;
}

/** How many multiples are tried before a question is given up. */
const MOST_TRIED = 2_000;

/** A number of this way that is none of `not`. Exact on decimals. */
export function solveNumber(way: Way, not: readonly unknown[]): Found {
  const range: Range = { low: -Infinity, lowOpen: true, high: Infinity, highOpen: true };
  let unit: number | undefined;
  const atLeast = (n: number, open: boolean): void => {
    if (n > range.low || (n === range.low && open)) Object.assign(range, { low: n, lowOpen: open });
  };
  const atMost = (n: number, open: boolean): void => {
    if (n < range.high || (n === range.high && open)) Object.assign(range, { high: n, highOpen: open });
  };
  const every = (n: number): void => {
    unit = unit === undefined ? n : commonMultiple(unit, n);
  };
  const breaks: number[] = [];
  for (const { k } of way.pos) {
    if (k.minimum !== undefined) atLeast(k.minimum, false);
    if (k.exclusiveMinimum !== undefined) atLeast(k.exclusiveMinimum, true);
    if (k.maximum !== undefined) atMost(k.maximum, false);
    if (k.exclusiveMaximum !== undefined) atMost(k.exclusiveMaximum, true);
    if (k.multipleOf !== undefined) every(k.multipleOf);
    if (k.types !== undefined && !k.types.includes('number')) every(1);
    const format = k.format === undefined ? undefined : NUMBER_FORMATS[k.format];
    if (format !== undefined) {
      every(1);
      atLeast(format[0], false);
      atMost(format[1], false);
    }
  }
  for (const { k, keyword } of way.broken) {
    if (keyword === 'types') breaks.push(1);
    else if (keyword === 'minimum') atMost(k.minimum as number, true);
    else if (keyword === 'exclusiveMinimum') atMost(k.exclusiveMinimum as number, false);
    else if (keyword === 'maximum') atLeast(k.maximum as number, true);
    else if (keyword === 'exclusiveMaximum') atLeast(k.exclusiveMaximum as number, false);
    else if (keyword === 'multipleOf') breaks.push(k.multipleOf as number);
    else if (keyword === 'format') {
      const format = NUMBER_FORMATS[k.format as string];
      // Outside on either side, or no whole number: three questions, asked one after the other.
      if (format === undefined) return NOT_FOUND;
      const rest = { ...way, broken: way.broken.filter((b) => b.k !== k || b.keyword !== 'format') };
      const bound = (keywords: object): Way => ({
        ...rest,
        pos: [...rest.pos, { schema: ANYTHING, k: { ...k, format: '', ...keywords } as never, group: 0 }],
      });
      for (const w of [bound({ exclusiveMinimum: format[1] }), bound({ exclusiveMaximum: format[0] })]) {
        const found = solveNumber(w, not);
        if (found.kind !== 'none') return found;
      }
      const whole = {
        ...rest,
        broken: [...rest.broken, { k: { ...k, types: ['integer'] } as never, keyword: 'types' as const }],
      };
      return solveNumber(whole, not);
    }
  }
  const wrong = (n: number): boolean => breaks.some((b) => isMultiple(n, b)) || not.some((v) => v === n);
  // Every multiple of the one is a multiple of the other.
  if (unit !== undefined && breaks.some((b) => isMultiple(unit as number, b))) return NOT_FOUND;
  const clear = (n: number): boolean => breaks.every((b) => Math.abs(n / b - Math.round(n / b)) > 1e-6);
  return pick(range, unit, wrong, clear);
}

/** Nobody reads such a number with ease. */
function isHuge(n: number): boolean {
  return Math.abs(n) > 1e12;
}

function pick(range: Range, unit: number | undefined, wrong: (n: number) => boolean, clear: (n: number) => boolean): Found {
  const inside = (n: number): boolean =>
    (range.lowOpen ? n > range.low : n >= range.low) && (range.highOpen ? n < range.high : n <= range.high);
  const fits = (n: number): boolean =>
    Number.isFinite(n) && inside(n) && (unit === undefined || isMultiple(n, unit)) && !wrong(n);
  if (range.low > range.high || (range.low === range.high && (range.lowOpen || range.highOpen))) return NOT_FOUND;
  const [low, high] = [range.low, range.high];
  const friendly = [
    7,
    1,
    0,
    2,
    12,
    7.5,
    0.5,
    0.25,
    -1,
    100,
    low,
    high,
    low + 1,
    high - 1,
    low + 0.5,
    high - 0.5,
    (low + high) / 2,
    low + (high - low) / 3,
    low * 2,
    high * 2,
    low + 0.25,
    high - 0.1,
    low + 0.1,
  ].sort((a, b) => Number(isHuge(a)) - Number(isHuge(b)));
  // Those first that are told from a multiple by floating arithmetic too, so that anybody can confirm them.
  let unclear: number | undefined;
  for (const n of friendly) {
    const exact = Number.isInteger(n) || !Number.isFinite(n) ? n : Number(n.toPrecision(12));
    if (!fits(exact)) continue;
    if (clear(exact)) return { kind: 'witness', value: exact };
    unclear ??= exact;
  }
  unclear ??= friendly.find(fits);
  if (low === high) return unclear === undefined ? NOT_FOUND : { kind: 'witness', value: unclear };
  const start = Number.isFinite(low) ? low : Number.isFinite(high) ? high : 0;
  const step = unit ?? (Number.isFinite(low) && Number.isFinite(high) ? (high - low) / 97 : 0.37);
  const first =
    unit === undefined
      ? start
      : Number.isFinite(low) || !Number.isFinite(high)
        ? multipleAbove(start, unit)
        : -multipleAbove(-start, unit);
  const direction = Number.isFinite(low) || !Number.isFinite(high) ? 1 : -1;
  for (let i = 0; i < MOST_TRIED; i++) {
    const n = Number((first + direction * i * step).toPrecision(15));
    if (unit !== undefined && Number.isFinite(high) && direction > 0 && n > high)
      return unclear === undefined ? NOT_FOUND : { kind: 'witness', value: unclear };
    if (unit !== undefined && Number.isFinite(low) && direction < 0 && n < low)
      return unclear === undefined ? NOT_FOUND : { kind: 'witness', value: unclear };
    if (fits(n) && clear(n)) return { kind: 'witness', value: n };
    if (fits(n)) unclear ??= n;
  }
  return unclear === undefined ? { kind: 'undecided', why: 'multipleOf' } : { kind: 'witness', value: unclear };
}

/** The longest text that is counted character by character in an automaton. */
const MOST_COUNTED = 3_000;

/** A text of this way that is none of `not`. */
export function solveText(way: Way, not: readonly unknown[], hints: readonly string[]): Found {
  let [low, high] = [0, Infinity];
  const languages: Language[] = [];
  const without: Language[] = [];
  for (const { k } of way.pos) {
    low = Math.max(low, k.minLength ?? 0);
    high = Math.min(high, k.maxLength ?? Infinity);
    const format = k.format === undefined ? undefined : formatLanguage(k.format);
    if (format !== undefined) languages.push(format);
    if (k.pattern === undefined) continue;
    const pattern = patternLanguage(k.pattern);
    if (pattern === undefined) return sameUnread(way, k.pattern) ? NOT_FOUND : { kind: 'undecided', why: 'pattern' };
    languages.push(pattern);
  }
  for (const { k, keyword } of way.broken) {
    if (keyword === 'minLength') high = Math.min(high, (k.minLength as number) - 1);
    else if (keyword === 'maxLength') low = Math.max(low, (k.maxLength as number) + 1);
    else if (keyword === 'format') {
      const format = formatLanguage(k.format as string);
      if (format === undefined) return NOT_FOUND;
      without.push(format);
    } else if (keyword === 'pattern') {
      const pattern = patternLanguage(k.pattern as string);
      if (pattern === undefined) return sameUnread(way, k.pattern as string) ? NOT_FOUND : { kind: 'undecided', why: 'pattern' };
      without.push(pattern);
    }
  }
  if (low > high) return NOT_FOUND;
  const words = not.filter((v) => typeof v === 'string').map(wordLanguage);
  return textIn({ low, high, languages, without: words.length === 0 ? without : [...without, unite(words)] }, hints);
}

/** A pattern that nobody can read is the same as itself. */
function sameUnread(way: Way, pattern: string): boolean {
  return (
    way.broken.some((b) => b.keyword === 'pattern' && b.k.pattern === pattern) && way.pos.some((p) => p.k.pattern === pattern)
  );
}

const USUAL = Object.values(FORMAT_EXAMPLES);
const PADS = ['7', 'a'] as const;

interface Texts {
  readonly low: number;
  readonly high: number;
  readonly languages: readonly Language[];
  readonly without: readonly Language[];
}

function textIn({ low, high, languages, without }: Texts, hints: readonly string[]): Found {
  if (languages.length === 0 && without.length === 0) return { kind: 'witness', value: textOfLength(low, high, hints) };
  const usual = [...hints, ...USUAL];
  const will = (t: string): boolean => {
    const length = [...t].length;
    return length >= low && length <= high && languages.every((l) => holds(l, t)) && !without.some((l) => holds(l, t));
  };
  // Most often one of these will do, if need be made longer, and no automaton has to be made.
  const longer = function* (): Generator<string> {
    for (const t of usual) if (t.length < low) for (const pad of PADS) yield t + pad.repeat(low - [...t].length);
  };
  const known = usual.find(will) ?? (low <= MOST_COUNTED ? [...longer()].find(will) : undefined);
  if (known !== undefined) return { kind: 'witness', value: known };
  const made = decide(() => {
    let language = languageOf(repeat(ANY));
    for (const l of languages) language = intersect(language, l);
    for (const l of without) language = subtract(language, l);
    if (low === 0 && high === Infinity) return language;
    const counted = Math.max(low, high === Infinity ? 0 : high);
    if (counted > MOST_COUNTED) {
      const text = example(language, hints);
      return text !== undefined && [...text].length >= low && [...text].length <= high
        ? wordLanguage(text)
        : isEmpty(language)
          ? language
          : undefined;
    }
    return intersect(language, languageOf(repeat(ANY, low, high)));
  });
  if (!made.decided) return { kind: 'undecided', why: made.why };
  if (made.value === undefined) return { kind: 'undecided', why: 'maxLength' };
  const text = example(made.value);
  return text === undefined ? NOT_FOUND : { kind: 'witness', value: text };
}

function textOfLength(low: number, high: number, hints: readonly string[]): string {
  const known = [...hints, 'elm', 'tarn', ''].find((h) => h.length >= low && h.length <= high);
  return known ?? 'elm-and-tarn-navigation-'.repeat(Math.ceil(low / 24) + 1).slice(0, Math.max(low, Math.min(high, 3)));
}

/** Is a value one of those? */
export function isOneOf(value: unknown, list: readonly unknown[]): boolean {
  return list.some((v) => sameJson(v, value));
}
