/**
 * Regular expressions as data: the one form in which every part of a path, every parameter type and every parsed
 * pattern reaches the automata.
 */
import type { Automaton } from './automaton.ts';
import { ANY_CHARACTER, BOUNDARY, type CharSet } from './charset.ts';

export type Expression =
  | { readonly kind: 'nothing' }
  | { readonly kind: 'empty' }
  | { readonly kind: 'set'; readonly set: CharSet }
  /** The empty text, but only where the whole text begins or ends: `^` and `$`. */
  | { readonly kind: 'edge'; readonly of: 'start' | 'end' }
  | { readonly kind: 'sequence'; readonly items: readonly Expression[] }
  | { readonly kind: 'choice'; readonly items: readonly Expression[] }
  /** A language that was computed before. */
  | { readonly kind: 'automaton'; readonly automaton: Automaton }
  | { readonly kind: 'repeat'; readonly item: Expression; readonly min: number; readonly max: number };

/** Matches no text at all. */
export const NOTHING: Expression = { kind: 'nothing' };
/** Matches the empty text only. */
export const EMPTY: Expression = { kind: 'empty' };
/** Any one character; not the boundary between segments. */
export const ANY: Expression = { kind: 'set', set: ANY_CHARACTER };
/** The boundary between two segments. */
export const SLASH: Expression = { kind: 'set', set: [BOUNDARY, BOUNDARY] };

export function oneOf(set: CharSet): Expression {
  return set.length === 0 ? NOTHING : { kind: 'set', set };
}

export function sequence(...items: readonly Expression[]): Expression {
  return items.length === 1 ? (items[0] as Expression) : { kind: 'sequence', items };
}

export function choice(...items: readonly Expression[]): Expression {
  return items.length === 1 ? (items[0] as Expression) : { kind: 'choice', items };
}

/** `max` may be `Infinity`. */
export function repeat(item: Expression, min = 0, max: number = Number.POSITIVE_INFINITY): Expression {
  return { kind: 'repeat', item, min, max };
}

export function optional(item: Expression): Expression {
  return repeat(item, 0, 1);
}

/** Exactly this text; with `eitherCase`, in any mixture of upper and lower case. */
export function literal(text: string, eitherCase = false): Expression {
  const items = [...text].map((char): Expression => {
    const codes = eitherCase ? [char, char.toLowerCase(), char.toUpperCase()] : [char];
    const single = codes.filter((c) => [...c].length === 1).map((c) => c.codePointAt(0) as number);
    const sorted = [...new Set(single)].sort((a, b) => a - b);
    return { kind: 'set', set: sorted.flatMap((code) => [code, code]) };
  });
  return items.length === 0 ? EMPTY : sequence(...items);
}

/** Any of the characters between the two, both included: `span('a', 'z')`. */
export function span(from: string, to: string): Expression {
  return { kind: 'set', set: [from.codePointAt(0) as number, to.codePointAt(0) as number] };
}
