/** Texts that show something: short, and such as a person would type. */
import { memoise } from '../base/memo.ts';
import type { Automaton } from './automaton.ts';
import { BOUNDARY, type CharSet, intervalsOf } from './charset.ts';
import { accepts, isEmpty, type Language } from './language.ts';

/** What people put into a path, the plainest first; tried before a text is put together character by character. */
export const FAMILIAR = [
  '7',
  '12',
  '4821',
  'a1',
  'abc',
  'a-1',
  'en',
  '2027-03-14',
  '2027-03-14T09:30:00Z',
  '7.5',
  '-7',
  'true',
  '3f2b8c1e-5a4d-4e6f-9b7a-0c1d2e3f4a5b',
  '0',
  '100',
  '1000',
  'a-b',
  'file.pdf',
  'v2',
] as const;

/** What stood before these is forgotten when a friendly character is chosen. */
export const REMEMBERED = 30;

/** Preferred characters, in the order in which they are handed out, by kind. */
const PREFERRED = ['7421', 'abcdef', 'ABCD', '-', '_', '.', '/'] as const;
const KINDS: readonly (readonly [number, number])[] = [
  [0x30, 0x39],
  [0x61, 0x7a],
  [0x41, 0x5a],
  [0x2d, 0x2d],
  [0x5f, 0x5f],
  [0x2e, 0x2e],
  [0x21, 0x7e],
  [0xc0, 0x24f],
  [0xa1, 0xd7ff],
  [0xe000, 0x10ffff],
  [BOUNDARY, BOUNDARY],
  [0x20, 0x20],
];

/**
 * A text of the language: the first of `hints` that it holds, or a familiar one, or a shortest one of friendly
 * characters. `undefined` when the language is empty.
 */
export function example(language: Language, hints: readonly string[] = []): string | undefined {
  if (language.word !== undefined) return language.word;
  if (isEmpty(language)) return undefined;
  const known = [...hints, ...FAMILIAR].find((hint) => accepts(language, hint));
  if (known !== undefined) return known;
  return language.large === undefined ? shortest(language.automaton) : shortestBySets(language.large.shortest ?? []);
}

function shortestBySets(sets: readonly CharSet[]): string {
  const out: number[] = [];
  for (const set of sets) {
    const edges = intervalsOf(set).flatMap(([lo, hi]) => [lo, hi, 0]);
    out.push(friendliest(edges, out.slice(-REMEMBERED), () => true)[0]);
  }
  return textOf(out);
}

/** The example without hints, remembered; the empty text for the empty language. */
export const usualText = memoise((language: Language): string => example(language) ?? '');

/** A shortest accepted text; the automaton must not be empty. */
export function shortest(automaton: Automaton): string {
  const distance = distances(automaton);
  const out: number[] = [];
  for (let state = 0; distance[state] !== 0; ) {
    const [symbol, next] = friendliest(
      automaton.edges[state] as readonly number[],
      out.slice(-REMEMBERED),
      (t) => distance[t] === (distance[state] as number) - 1,
    );
    out.push(symbol);
    state = next;
  }
  return textOf(out);
}

/** The text of a list of symbols; not one call with all of them, which a long list would break. */
export function textOf(symbols: readonly number[]): string {
  return symbols.map((symbol) => String.fromCodePoint(symbol)).join('');
}

/** The best symbol among the edges that `leads` admits, and where it goes. */
export function friendliest(
  edges: readonly number[],
  before: readonly number[],
  leads: (target: number) => boolean,
): [number, number] {
  let best: [number, number] | undefined;
  let rank = Number.POSITIVE_INFINITY;
  for (let i = 0; i < edges.length; i += 3) {
    if (!leads(edges[i + 2] as number)) continue;
    const [symbol, r] = friendlySymbol(edges[i] as number, edges[i + 1] as number, before);
    if (r < rank) {
      rank = r;
      best = [symbol, edges[i + 2] as number];
    }
  }
  return best as [number, number];
}

/** The friendliest symbol of an interval and its rank, lower being better. */
export function friendlySymbol(lo: number, hi: number, before: readonly number[]): [number, number] {
  for (let kind = 0; kind < KINDS.length; kind++) {
    const [from, to] = KINDS[kind] as readonly [number, number];
    if (hi < from || lo > to) continue;
    const wanted = PREFERRED[kind];
    if (wanted !== undefined) {
      const turn = before.filter((c) => c >= from && c <= to).length;
      for (let i = 0; i < wanted.length; i++) {
        const code = wanted.charCodeAt((turn + i) % wanted.length);
        if (code >= lo && code <= hi) return [code, kind * 10 + i];
      }
    }
    return [Math.max(lo, from), kind * 10 + 9];
  }
  return [lo, 1000];
}

/** How many symbols it takes from each state to one that accepts. */
export function distances(automaton: Automaton): number[] {
  const n = automaton.accepts.length;
  const sources: number[][] = Array.from({ length: n }, () => []);
  automaton.edges.forEach((edges, s) => {
    for (let i = 2; i < edges.length; i += 3) (sources[edges[i] as number] as number[]).push(s);
  });
  const distance = new Array<number>(n).fill(-1);
  const queue: number[] = [];
  automaton.accepts.forEach((a, s) => {
    if (a) {
      distance[s] = 0;
      queue.push(s);
    }
  });
  for (let i = 0; i < queue.length; i++) {
    for (const source of sources[queue[i] as number] as number[]) {
      if (distance[source] === -1) {
        distance[source] = (distance[queue[i] as number] as number) + 1;
        queue.push(source);
      }
    }
  }
  return distance;
}
