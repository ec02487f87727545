/** Pairs of schemas, what they rest on, and the ways between them. */
import type { PairComponent, Schema, TextPair } from '../model/schema.ts';

export interface Dependency {
  /** Into a value (RFC 6901); empty where both speak of the same value. */
  readonly pointer: string;
  readonly a: Schema;
  readonly b: Schema;
}

export interface DependencyEdge<T> {
  readonly pointer: string;
  readonly to: PairNode<T>;
}

export interface PairNode<T> {
  readonly a: Schema;
  readonly b: Schema;
  /** What is wrong with the pair itself. */
  localFailure: T | undefined;
  /** It, or something that it rests on, is flawed. */
  isRefuted: boolean;
  dependencies: readonly DependencyEdge<T>[];
  readonly dependents: PairNode<T>[];
  /** Set where nothing can be wrong with the pair itself, and its only step leads to the whole group. */
  twin: TextPair | undefined;
  /** Set where it stands for a group. */
  readonly group: PairComponent | undefined;
}

/** What one pair says for itself, and which pairs it rests on. */
export type LocalCheck<T> = (a: Schema, b: Schema) => { readonly flaw: T | undefined; readonly steps: readonly Dependency[] };

/** A pair, or two schemas that are alike, of which no pair was made yet. */
export type PathNode<T> = PairNode<T> | TextPair;

/** The shortest way to a flawed pair. */
export interface FailurePath<T> {
  readonly pair: PairNode<T>;
  /** From the first pair to this one. */
  readonly path: readonly PathNode<T>[];
  /** How each of the path leads to the next. */
  readonly pointers: readonly string[];
  /** All of them together. */
  readonly pointer: string;
}
