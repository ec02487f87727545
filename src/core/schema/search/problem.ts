/** What is looked for when two schemas are compared: a value that some hold and others do not. */

import { idOf, type JsonType, type Keywords, type Schema } from '../model/schema.ts';
import type { Side } from '../model/side.ts';
import type { UnevaluatedItemCase } from '../normalise/evaluated-items.ts';

/**
 * A schema that has to hold the value; `producerId` 0: standard reading. Above 0: all literals with this id were produced
 * together, so undeclared properties never occur.
 */
export interface Literal {
  readonly schema: Schema;
  readonly producerId: number;
  /** One of two forms that a receiver counts, or a part of it. */
  readonly isExclusiveBranch?: boolean | undefined;
}

export interface Problem {
  readonly pos: readonly Literal[];
  readonly neg: readonly Schema[];
  /** Where in the value that is looked for this one stands (RFC 6901); the whole where nothing is said. */
  readonly at?: string | undefined;
}

export type SearchResult =
  | { readonly kind: 'witness'; readonly value: unknown }
  /** `firm` unless a question that is still open was taken for answered. */
  | { readonly kind: 'none'; readonly firm: boolean }
  | { readonly kind: 'undecided'; readonly why: string };

export const EMPTY: SearchResult = { kind: 'none', firm: true };

/** One keyword of a schema that the value has to break. */
export interface Violated {
  readonly k: Keywords;
  readonly keyword: keyof Keywords;
  /** Of `unevaluatedProperties`: the names that nothing else looks at. */
  readonly unevaluatedName?: { readonly isLeft: (name: string) => boolean; readonly patterns: readonly string[] };
  /** Of `unevaluatedItems`: the item that nothing else looks at. */
  readonly unevaluatedItem?: Pick<UnevaluatedItemCase, 'at' | 'isTail' | 'unlike'>;
}

/** The keywords of a schema that holds, as its side reads them. */
export interface Satisfied {
  readonly schema: Schema;
  readonly k: Keywords;
  readonly producerId: number;
  readonly isExclusiveBranch?: boolean | undefined;
}

/** One way through all alternatives, for values of one kind: keywords to hold, and one keyword to break of each negation. */
export interface Disjunct {
  readonly kind: JsonType;
  readonly pos: readonly Satisfied[];
  readonly broken: readonly Violated[];
  /** What each group declares, in addition to its keywords. */
  readonly declarers: readonly { readonly producerId: number; readonly schema: Schema }[];
  readonly present: readonly string[];
  readonly absent: readonly string[];
  readonly at?: string | undefined;
}

/** Solves a part of the question; shared by the kinds. */
export interface Solver {
  readonly side: Side;
  readonly solve: (state: Problem) => SearchResult;
  /** Counts a combination that is looked at; ends the search when there are too many. */
  readonly count: () => void;
}

/** Equal for equal questions; groups by the order in which they come. */
export function canonicalKey({ pos, neg }: Problem): string {
  const sorted = pos.map((l) => ({ id: idOf(l.schema), group: l.producerId })).sort((a, b) => a.id - b.id || a.group - b.group);
  const groups = new Map<number, number>([[0, 0]]);
  for (const { group } of sorted) if (!groups.has(group)) groups.set(group, groups.size);
  const held = [...new Set(sorted.map((l) => `${l.id}.${groups.get(l.group)}`))];
  return `${held.join(',')}-${[...new Set(neg.map(idOf))].sort((a, b) => a - b).join(',')}`;
}

/** The better of two answers: a witness, then what is unknown, then nothing. */
export function joinResults(a: SearchResult, b: SearchResult): SearchResult {
  if (a.kind === 'witness' || b.kind === 'witness') return a.kind === 'witness' ? a : b;
  if (a.kind === 'undecided' || b.kind === 'undecided') return a.kind === 'undecided' ? a : b;
  return a.firm ? b : a;
}
