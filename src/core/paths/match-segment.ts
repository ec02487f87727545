/**
 * Does a segment of literal text and parameters match a text? Answered part by part, because a route is followed far more
 * often than its language is needed, and the language of two parameters in one segment may be large.
 */
import { type Automaton, step } from '../language/automaton.ts';
import { accepts, type Language } from '../language/language.ts';
import type { Part } from './pattern.ts';

/** How a parameter is matched: any text within these lengths, or a language. */
export type ValueTest = { readonly min: number; readonly max: number } | Language;

/** Longer texts are left to the language of the whole segment. */
const MAX_LENGTH = 400;
const SURROGATE = /[\ud800-\udfff]/u;

/**
 * A test for the segment; undefined where a part is neither literal nor a parameter. `whole` is asked for texts that are
 * long or have characters beyond the basic plane. Cost: parts times the square of the text's length at most.
 */
export function segmentTest(
  parts: readonly Part[],
  eitherCase: boolean,
  testOf: (part: Extract<Part, { kind: 'parameter' }>) => ValueTest,
  whole: () => Language,
): ((text: string) => boolean) | undefined {
  if (parts.some((p) => p.kind !== 'literal' && p.kind !== 'parameter')) return undefined;
  const tests = parts.map((part): string | ValueTest =>
    part.kind === 'literal' ? fold(part.text, eitherCase) : testOf(part as Extract<Part, { kind: 'parameter' }>),
  );
  const first = typeof tests[0] === 'string' ? tests[0] : '';
  const last = typeof tests.at(-1) === 'string' ? (tests.at(-1) as string) : '';
  return (text) => {
    const folded = fold(text, eitherCase);
    if (!folded.startsWith(first) || !folded.endsWith(last)) return false;
    if (text.length > MAX_LENGTH || folded.length !== text.length || SURROGATE.test(text)) return accepts(whole(), text);
    let places: Uint8Array = new Uint8Array(text.length + 1);
    places[0] = 1;
    for (const test of tests) {
      const next = new Uint8Array(text.length + 1);
      if (!advance(test, text, folded, places, next)) return false;
      places = next;
    }
    return places[text.length] === 1;
  };
}

function fold(text: string, eitherCase: boolean): string {
  return eitherCase ? text.toLowerCase() : text;
}

/** Marks the places that the part can lead to; false where there are none. */
function advance(test: string | ValueTest, text: string, folded: string, from: Uint8Array, to: Uint8Array): boolean {
  let any = false;
  const mark = (at: number): void => {
    to[at] = 1;
    any = true;
  };
  for (let at = from.indexOf(1); at >= 0; at = from.indexOf(1, at + 1)) {
    if (typeof test === 'string') {
      if (folded.startsWith(test, at)) mark(at + test.length);
    } else if ('min' in test) {
      for (let end = at + test.min; end <= Math.min(text.length, at + test.max); end++) mark(end);
    } else if (test.word !== undefined || test.large !== undefined) {
      for (let end = at; end <= text.length; end++) if (accepts(test, text.slice(at, end))) mark(end);
    } else walk(test.automaton, text, at, mark);
  }
  return any;
}

function walk(automaton: Automaton, text: string, from: number, mark: (at: number) => void): void {
  if (automaton.accepts.length === 0) return;
  let state = 0;
  for (let at = from; state >= 0; at++) {
    if (automaton.accepts[state]) mark(at);
    if (at === text.length) return;
    state = step(automaton, state, text.charCodeAt(at));
  }
}
