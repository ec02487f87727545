/** Pairs of schemas, what they rest on, and the ways between them. */
import type { Group, Schema, Twin } from '../model/schema.ts';

export interface Step {
  /** Into a value (RFC 6901); empty where both speak of the same value. */
  readonly pointer: string;
  readonly a: Schema;
  readonly b: Schema;
}

export interface PairStep<T> {
  readonly pointer: string;
  readonly to: Pair<T>;
}

export interface Pair<T> {
  readonly a: Schema;
  readonly b: Schema;
  /** What is wrong with the pair itself. */
  flaw: T | undefined;
  /** It, or something that it rests on, is flawed. */
  fails: boolean;
  steps: readonly PairStep<T>[];
  readonly from: Pair<T>[];
  /** Set where nothing can be wrong with the pair itself, and its only step leads to the whole group. */
  twin: Twin | undefined;
  /** Set where it stands for a group. */
  readonly group: Group | undefined;
}

/** What one pair says for itself, and which pairs it rests on. */
export type Look<T> = (a: Schema, b: Schema) => { readonly flaw: T | undefined; readonly steps: readonly Step[] };

/** A pair, or two schemas that are alike, of which no pair was made yet. */
export type Spot<T> = Pair<T> | Twin;

/** The shortest way to a flawed pair. */
export interface Reached<T> {
  readonly pair: Pair<T>;
  /** From the first pair to this one. */
  readonly path: readonly Spot<T>[];
  /** How each of the path leads to the next. */
  readonly pointers: readonly string[];
  /** All of them together. */
  readonly pointer: string;
}
