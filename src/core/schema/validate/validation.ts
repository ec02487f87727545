/** What a value is judged with, and what is found on the way. */

import type { Count, Side } from '../model/side.ts';
import type { Beside } from './scope.ts';

/** What of a value was looked at, for `unevaluatedProperties` and `unevaluatedItems`. */
export interface Seen {
  readonly names: Set<string>;
  readonly items: Set<number>;
}

export interface Judge {
  readonly side: Side;
  readonly count: Count;
  /** What is said beside the forms of a `oneOf`, whose names are asked for seldom. */
  readonly beside: Beside;
  readonly misfits: Misfit[];
  readonly depth: number;
  /** Somebody asks what of the value was looked at. */
  readonly tracks: boolean;
  /** One misfit is enough. */
  readonly hasty: boolean;
  /** What of a value fits what, where one misfit is enough. */
  readonly tried: WeakMap<object, Map<string, boolean>>;
}

/** Written out, because a value has many parts. */
export function deeper({ side, count, misfits: found, depth, hasty, tried }: Judge, beside: Beside, tracks: boolean): Judge {
  return { side, count, beside, misfits: found, depth: depth + 1, tracks, hasty, tried };
}

export function miss(judge: Judge, pointer: string, keyword: string, message: string, missing?: string): undefined {
  judge.misfits.push({ pointer, keyword, message, missing });
}

export const WHOLE = 1000;

/** Misfits of the whole value weigh more than those inside it. */
export function weight(list: readonly Misfit[]): number {
  return list.reduce((n, m) => n + (m.pointer === '' && (m.keyword === 'type' || m.keyword === 'enum') ? WHOLE : 1), 0);
}

export function add(seen: Seen | undefined, more: Seen | undefined): void {
  if (seen === undefined || more === undefined) return;
  for (const name of more.names) seen.names.add(name);
  for (const item of more.items) seen.items.add(item);
}

export interface Misfit {
  /** Into the value (RFC 6901). */
  readonly pointer: string;
  readonly keyword: string;
  /** The name of a property that is not there. */
  readonly missing?: string | undefined;
  /** `expected a whole number, found "seven"`. */
  readonly message: string;
}
