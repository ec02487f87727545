/** What is said beside the forms of a `oneOf`: keywords, from the outside in, that speak of the same value. */

import type { Keywords } from '../model/schema.ts';
import type { MessageEnd } from '../model/side.ts';
import { type DeclaredNames, joinDeclared, siblingNames } from '../normalise/declared-names.ts';

let last = 0;

/** Hash-consed: equal keyword chains give the same Scope, so its id can be a cache key. */
export class Scope {
  readonly id: number;
  private readonly inner = new WeakMap<Keywords, Scope>();
  private readonly found: Partial<Record<MessageEnd, DeclaredNames>> = {};

  constructor(
    private readonly outer?: Scope,
    private readonly k?: Keywords,
  ) {
    last += 1;
    this.id = last;
  }

  extend(k: Keywords): Scope {
    const made = this.inner.get(k) ?? new Scope(this, k);
    this.inner.set(k, made);
    return made;
  }

  /** What is declared there. Found once. */
  namesFor(end: MessageEnd): DeclaredNames {
    const outer = this.outer === undefined ? [] : [this.outer.namesFor(end)];
    const found = this.found[end] ?? joinDeclared([...outer, siblingNames(this.k === undefined ? [] : [this.k], end)]);
    this.found[end] = found;
    return found;
  }
}

export const EMPTY_SCOPE = new Scope();
