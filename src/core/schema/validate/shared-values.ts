/** Values that many others hold: what they fit is found once. */

import { dereference, type Schema } from '../model/schema.ts';
import type { Side } from '../model/side.ts';

/** A list or an object that is never changed, and part of many values. */
export interface MemoisedValue {
  /** The schema that it was made for, as a sender on this side sends it, or on either. */
  readonly of: Schema;
  readonly side: Side;
  /** Which schemas it fits, by how it was asked. */
  readonly known: Map<string, Map<Schema, boolean>>;
}

const sharedValues = new WeakMap<object, MemoisedValue>();

/** Undefined for all other values. */
export function memoisedValue(value: object): MemoisedValue | undefined {
  return sharedValues.get(value);
}

/**
 * A list or an object that is never changed again, and part of many values; it was made for this schema, whose sender may
 * send it. What it fits is remembered.
 */
export function memoise<T extends object>(value: T, of: Schema, side: Side): T {
  sharedValues.set(value, { of: dereference(of), side, known: new Map() });
  return value;
}
