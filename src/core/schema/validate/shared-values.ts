/** Values that many others hold: what they fit is found once. */

import { type Schema, target } from '../model/schema.ts';
import type { Side } from '../model/side.ts';

/** A list or an object that is never changed, and part of many values. */
export interface Shared {
  /** The schema that it was made for, as a sender on this side sends it, or on either. */
  readonly of: Schema;
  readonly side: Side;
  /** Which schemas it fits, by how it was asked. */
  readonly known: Map<string, Map<Schema, boolean>>;
}

const shared = new WeakMap<object, Shared>();

/** Undefined for all other values. */
export function sharedAs(value: object): Shared | undefined {
  return shared.get(value);
}

/**
 * A list or an object that is never changed again, and part of many values; it was made for this schema, whose sender may
 * send it. What it fits is remembered.
 */
export function share<T extends object>(value: T, of: Schema, side: Side): T {
  shared.set(value, { of: target(of), side, known: new Map() });
  return value;
}
