/** What is looked for when two schemas are compared: a value that some hold and others do not. */

import { idOf, type JsonType, type Keywords, type Schema } from '../model/schema.ts';
import type { Side } from '../model/side.ts';
import type { LeftItem } from '../normalise/evaluated-items.ts';

/** A schema that has to hold the value; those of one group above 0 were written by a sender, who sends what is declared. */
export interface Literal {
  readonly schema: Schema;
  readonly group: number;
  /** One of two forms that a receiver counts, or a part of it. */
  readonly counted?: boolean | undefined;
}

export interface State {
  readonly pos: readonly Literal[];
  readonly neg: readonly Schema[];
  /** Where in the value that is looked for this one stands (RFC 6901); the whole where nothing is said. */
  readonly at?: string | undefined;
}

export type Found =
  | { readonly kind: 'witness'; readonly value: unknown }
  /** `firm` unless a question that is still open was taken for answered. */
  | { readonly kind: 'none'; readonly firm: boolean }
  | { readonly kind: 'undecided'; readonly why: string };

export const NOT_FOUND: Found = { kind: 'none', firm: true };

/** One keyword of a schema that the value has to break. */
export interface Broken {
  readonly k: Keywords;
  readonly keyword: keyof Keywords;
  /** Of `unevaluatedProperties`: the names that nothing else looks at. */
  readonly left?: { readonly isLeft: (name: string) => boolean; readonly patterns: readonly string[] };
  /** Of `unevaluatedItems`: the item that nothing else looks at. */
  readonly leftItem?: Pick<LeftItem, 'at' | 'isTail' | 'unlike'>;
}

/** The keywords of a schema that holds, as its side reads them. */
export interface Held {
  readonly schema: Schema;
  readonly k: Keywords;
  readonly group: number;
  readonly counted?: boolean | undefined;
}

/** One way through all alternatives, for values of one kind: keywords to hold, and one keyword to break of each negation. */
export interface Way {
  readonly kind: JsonType;
  readonly pos: readonly Held[];
  readonly broken: readonly Broken[];
  /** What each group declares, in addition to its keywords. */
  readonly sources: readonly { readonly group: number; readonly schema: Schema }[];
  readonly present: readonly string[];
  readonly absent: readonly string[];
  readonly at?: string | undefined;
}

/** Solves a part of the question; shared by the kinds. */
export interface Solver {
  readonly side: Side;
  readonly solve: (state: State) => Found;
  /** Counts a combination that is looked at; ends the search when there are too many. */
  readonly count: () => void;
}

/** Equal for equal questions; groups by the order in which they come. */
export function stateKey({ pos, neg }: State): string {
  const sorted = pos.map((l) => ({ id: idOf(l.schema), group: l.group })).sort((a, b) => a.id - b.id || a.group - b.group);
  const groups = new Map<number, number>([[0, 0]]);
  for (const { group } of sorted) if (!groups.has(group)) groups.set(group, groups.size);
  const held = [...new Set(sorted.map((l) => `${l.id}.${groups.get(l.group)}`))];
  return `${held.join(',')}-${[...new Set(neg.map(idOf))].sort((a, b) => a - b).join(',')}`;
}

/** The better of two answers: a witness, then what is unknown, then nothing. */
export function better(a: Found, b: Found): Found {
  if (a.kind === 'witness' || b.kind === 'witness') return a.kind === 'witness' ? a : b;
  if (a.kind === 'undecided' || b.kind === 'undecided') return a.kind === 'undecided' ? a : b;
  return a.firm ? b : a;
}
