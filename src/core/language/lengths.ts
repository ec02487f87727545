/** Texts of a language that are no shorter and no longer than asked, without counting in the automaton. */
import type { Automaton } from './automaton.ts';
import { distances, FAMILIAR, friendliest, REMEMBERED, shortest, textOf } from './example.ts';
import { accepts, isEmpty, type Language } from './language.ts';
import { LimitReached } from './limits.ts';

/** So many steps along edges are taken for one text. */
const MOST_STEPS = 20_000_000;

/**
 * A text of the language with so many characters: one of the `hints`, a familiar one, or one of friendly characters.
 * Undefined where there is none. Throws `LimitReached` where too much would have to be looked at. O(low · edges).
 */
export function exampleOfLength(
  language: Language,
  low: number,
  high: number,
  hints: readonly string[] = [],
): string | undefined {
  const isWithin = (text: string): boolean => text.length >= low && [...text].length >= low && [...text].length <= high;
  if (language.word !== undefined) return isWithin(language.word) ? language.word : undefined;
  if (isEmpty(language)) return undefined;
  const known = [...hints, ...FAMILIAR].find((hint) => isWithin(hint) && accepts(language, hint));
  if (known !== undefined) return known;
  const short = shortest(language.automaton);
  if (isWithin(short)) return short;
  return [...short].length > high ? undefined : cachedAtLeast(language, low, high);
}

const exampleCache = new WeakMap<Language, Map<string, string | undefined>>();

/** Found once: many schemas ask for the same of the same pattern. */
function cachedAtLeast(language: Language, low: number, high: number): string | undefined {
  const row = exampleCache.get(language) ?? new Map<string, string | undefined>();
  exampleCache.set(language, row);
  const key = `${low} ${high}`;
  if (!row.has(key)) row.set(key, longer(language.automaton, low, high));
  return row.get(key);
}

/** A shortest text of at least `low` characters, unless it is longer than `high`. */
function longer(automaton: Automaton, low: number, high: number): string | undefined {
  const { edges } = automaton;
  if (low * edges.reduce((sum, out) => sum + out.length / 3, 0) > MOST_STEPS) throw new LimitReached('minLength');
  const layers = reached(edges, low);
  const left = distances(automaton);
  let least = Infinity;
  layers[low]?.forEach((is, s) => {
    if (is === 1) least = Math.min(least, left[s] as number);
  });
  if (low + least > high || least === Infinity) return undefined;
  // From behind: by which states one comes to the end in time.
  chooseNext(layers[low] as Uint8Array, (s) => left[s] === least);
  for (let n = low - 1; n >= 0; n--) {
    const next = layers[n + 1] as Uint8Array;
    chooseNext(layers[n] as Uint8Array, (s) => targets(edges[s] as readonly number[]).some((t) => next[t] === 1));
  }
  const out: number[] = [];
  let state = 0;
  const go = (leads: (target: number) => boolean): void => {
    const [symbol, next] = friendliest(edges[state] as readonly number[], out.slice(-REMEMBERED), leads);
    out.push(symbol);
    state = next;
  };
  while (out.length < low) {
    const next = layers[out.length + 1] as Uint8Array;
    go((t) => next[t] === 1);
  }
  while (left[state] !== 0) {
    const nearer = (left[state] as number) - 1;
    go((t) => left[t] === nearer);
  }
  return textOf(out);
}

/** By number of characters, the states that one may be in behind them. */
function reached(edges: Automaton['edges'], most: number): readonly Uint8Array[] {
  const layers = [new Uint8Array(edges.length)];
  (layers[0] as Uint8Array)[0] = 1;
  for (let n = 0; n < most; n++) {
    const next = new Uint8Array(edges.length);
    (layers[n] as Uint8Array).forEach((is, s) => {
      if (is === 1) for (const t of targets(edges[s] as readonly number[])) next[t] = 1;
    });
    layers.push(next);
  }
  return layers;
}

function chooseNext(layer: Uint8Array, wanted: (state: number) => boolean): void {
  layer.forEach((is, s) => {
    if (is === 1 && !wanted(s)) layer[s] = 0;
  });
}

function targets(edges: readonly number[]): readonly number[] {
  const out: number[] = [];
  for (let i = 2; i < edges.length; i += 3) out.push(edges[i] as number);
  return out;
}
