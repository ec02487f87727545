/** What is wrong with a pair of schemas, and what the questions of one direction share. */

import type { Schema } from '../../schema/model/schema.ts';
import type { Answers } from '../../schema/search/cache.ts';
import type { Verdict } from '../../schema/search/witness.ts';
import type { Pair, PairStep } from '../../schema/subschema/pair.ts';
import type { Web } from '../../schema/subschema/pair-graph.ts';

/** Why a pair is not inside; `open` until somebody asks. */
export type Flaw = Exclude<Verdict, { kind: 'inside' }> | { readonly kind: 'open' };

export interface Direction {
  readonly web: Web<Flaw>;
  readonly answers: Answers;
  readonly verdicts: Map<Pair<Flaw>, Verdict>;
  readonly absorbing: Absorbing;
  readonly explained: Explained;
  /** What was blamed last: what is lost asks for each name. */
  blamed?: LastBlamed;
}

interface LastBlamed {
  readonly root: Pair<Flaw>;
  readonly flaws: readonly Pair<Flaw>[];
  readonly whole: Verdict;
  readonly list: readonly Blamed[];
}

/** Two schemas that stand at one place of a value, the sender's first. */
export interface Blamed {
  /** The same for the same pair. */
  readonly cause: object;
  readonly sent: Schema;
  readonly taken: Schema;
  /** Into the body; items are `0`. */
  readonly pointer: () => string;
  readonly verdict: Exclude<Verdict, { kind: 'inside' }>;
  /** A whole body that shows it; `never` where it can't come up in the whole. */
  readonly body: () => Body;
}

export type Body = { readonly value: unknown } | 'never' | Stopped;

/** What was asked in one direction. */
export interface Absorbing {
  readonly seen: Set<Pair<Flaw>>;
  readonly asked: Set<PairStep<Flaw>>;
}

/** What was wrong with pairs until a form of theirs explained it. */
export type Explained = Map<Pair<Flaw>, Flaw>;

/** The keyword, or the limit, for which no whole body was put together. */
export interface Stopped {
  readonly why: string;
}
