/** What one comparison remembers of its searches, and how hard it searches. */

import type { Schema } from '../model/schema.ts';
import type { Side } from '../model/side.ts';
import type { SearchResult } from './problem.ts';

/**
 * Ways that are looked at for one question; beyond that it is undecided. Few where the answer changes little, and where all
 * questions together took many.
 */
export const MAX_WAYS = { full: 2_500, little: 300 } as const;

export type Budget = keyof typeof MAX_WAYS;

/** Parts of questions that were answered, which later ones on the same side may share, and how much work is left to them. */
export interface SearchCache {
  readonly known: Map<string, SearchResult>;
  /** Values that have a certain part, by the schema and what is asked of the part. */
  readonly holders: Map<Schema, Map<string, SearchResult>>;
  /** What plain schemas hold, by the schema, and by what a scalar says. */
  readonly plain: Readonly<Record<Side | 'sideless', Map<Schema, SimpleValue>>>;
  readonly scalars: Map<string, SimpleValue>;
  left: number;
}

/** Ways that all questions of one comparison may look at together, before each gets little. */
const MAX_ALL_WAYS = 300_000;

export function newSearchCache(): SearchCache {
  const plain = { request: new Map(), response: new Map(), either: new Map(), sideless: new Map() };
  return { known: new Map(), holders: new Map(), plain, scalars: new Map(), left: MAX_ALL_WAYS };
}

export type Value = { readonly value: unknown } | undefined;

/** `sideless` where it is the same in requests and responses. */
export interface SimpleValue {
  readonly made: Value;
  readonly sideless: boolean;
}
