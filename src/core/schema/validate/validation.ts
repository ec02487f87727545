/** What a value is judged with, and what is found on the way. */

import type { Mapping } from '../../base/json.ts';
import { suggest } from '../../base/nearest-word.ts';
import type { Schema } from '../model/schema.ts';
import type { Semantics, Side } from '../model/side.ts';
import type { Scope } from './scope.ts';

/** What of a value was looked at, for `unevaluatedProperties` and `unevaluatedItems`. */
export interface EvaluatedLocations {
  readonly names: Set<string>;
  readonly items: Set<number>;
}

export interface EvaluationContext {
  readonly side: Side;
  readonly semantics: Semantics;
  /** What is said beside the forms of a `oneOf`, whose names are asked for seldom. */
  readonly beside: Scope;
  readonly misfits: ValidationError[];
  readonly depth: number;
  /** Somebody asks what of the value was looked at. */
  readonly tracksEvaluated: boolean;
  /** One misfit is enough. */
  readonly failFast: boolean;
  /** What of a value fits what, where one misfit is enough. */
  readonly resultCache: WeakMap<object, Map<string, boolean>>;
}

/** Written out, because a value has many parts. */
export function childContext(
  { side, semantics, misfits: found, depth, failFast, resultCache }: EvaluationContext,
  beside: Scope,
  tracks: boolean,
): EvaluationContext {
  return { side, semantics, beside, misfits: found, depth: depth + 1, tracksEvaluated: tracks, failFast, resultCache };
}

export function addError(
  judge: EvaluationContext,
  pointer: string,
  keyword: string,
  message: string,
  missing?: string,
): undefined {
  judge.misfits.push({ pointer, keyword, message, missing });
}

export const ROOT_WEIGHT = 1000;

/** Misfits of the whole value weigh more than those inside it. */
export function errorWeight(list: readonly ValidationError[]): number {
  return list.reduce((n, m) => n + (m.pointer === '' && (m.keyword === 'type' || m.keyword === 'enum') ? ROOT_WEIGHT : 1), 0);
}

export function mergeEvaluated(seen: EvaluatedLocations | undefined, more: EvaluatedLocations | undefined): void {
  if (seen === undefined || more === undefined) return;
  for (const name of more.names) seen.names.add(name);
  for (const item of more.items) seen.items.add(item);
}

export interface ValidationError {
  /** Into the value (RFC 6901). */
  readonly pointer: string;
  readonly keyword: string;
  /** The name of a property that is not there. */
  readonly missing?: string | undefined;
  /** `expected a whole number, found "seven"`. */
  readonly message: string;
}

/** How a value inside another one is judged; the judges of arrays and objects take it as an argument. */
export interface Steps {
  readonly evaluate: (judge: EvaluationContext, schema: Schema, value: unknown, at: string) => EvaluatedLocations | undefined;
  /** Does it fit, whatever is wrong with it? */
  readonly isMatch: (judge: EvaluationContext, schema: Schema, value: unknown) => boolean;
}

/** What may be meant instead, among what is text and not there; nobody reads it where one misfit is enough. */
export function nearest(judge: EvaluationContext, found: string, among: Iterable<unknown>, there: Mapping = {}): string {
  if (judge.failFast) return '';
  const texts = [...among].filter((text): text is string => typeof text === 'string' && !Object.hasOwn(there, text));
  const near = suggest(found, texts);
  return near === undefined ? '' : `; did you mean ${JSON.stringify(near)}?`;
}
