/** What is wrong with a pair of schemas, and what the questions of one direction share. */

import type { Schema } from '../../schema/model/schema.ts';
import type { SearchCache } from '../../schema/search/cache.ts';
import type { Containment } from '../../schema/search/witness.ts';
import type { DependencyEdge, PairNode } from '../../schema/subschema/pair.ts';
import type { PairGraph } from '../../schema/subschema/pair-graph.ts';

/** Why a pair is not inside; `open` until somebody asks. */
export type ContainmentFailure = Exclude<Containment, { kind: 'contained' }> | { readonly kind: 'open' };

export interface SideState {
  readonly web: PairGraph<ContainmentFailure>;
  readonly answers: SearchCache;
  readonly verdicts: Map<PairNode<ContainmentFailure>, Containment>;
  readonly absorbing: SubsumptionState;
  readonly explained: Attributions;
  /** What was blamed last: what is lost asks for each name. */
  blamed?: LastBlamed;
}

interface LastBlamed {
  readonly root: PairNode<ContainmentFailure>;
  readonly flaws: readonly PairNode<ContainmentFailure>[];
  readonly whole: Containment;
  readonly list: readonly RootCause[];
}

/** Two schemas that stand at one place of a value, the sender's first. */
export interface RootCause {
  /** The same for the same pair. */
  readonly cause: object;
  readonly sent: Schema;
  readonly taken: Schema;
  /** Into the body; items are `0`. */
  readonly pointer: () => string;
  readonly verdict: Exclude<Containment, { kind: 'contained' }>;
  /** A whole body that shows it; `never` where it can't come up in the whole. */
  readonly body: () => WholeWitness;
}

export type WholeWitness = { readonly value: unknown } | 'never' | NotShown;

/** What was asked in one direction. */
export interface SubsumptionState {
  readonly seen: Set<PairNode<ContainmentFailure>>;
  readonly asked: Set<DependencyEdge<ContainmentFailure>>;
}

/** What was wrong with pairs until a form of theirs explained it. */
export type Attributions = Map<PairNode<ContainmentFailure>, ContainmentFailure>;

/** The keyword, or the limit, for which no whole body was put together. */
export interface NotShown {
  readonly why: string;
}
