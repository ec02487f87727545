/** What is said beside the forms of a `oneOf`: keywords, from the outside in, that speak of the same value. */

import type { Keywords } from '../model/schema.ts';
import { type Declared, declaredBeside, type Reader, together } from '../normalise/declared-names.ts';

let last = 0;

/** The same for the same keywords. */
export class Beside {
  readonly id: number;
  private readonly inner = new WeakMap<Keywords, Beside>();
  private readonly found: Partial<Record<Reader, Declared>> = {};

  constructor(
    private readonly outer?: Beside,
    private readonly k?: Keywords,
  ) {
    last += 1;
    this.id = last;
  }

  with(k: Keywords): Beside {
    const made = this.inner.get(k) ?? new Beside(this, k);
    this.inner.set(k, made);
    return made;
  }

  /** What is declared there. Found once. */
  declaredTo(reader: Reader): Declared {
    const outer = this.outer === undefined ? [] : [this.outer.declaredTo(reader)];
    const found = this.found[reader] ?? together([...outer, declaredBeside(this.k === undefined ? [] : [this.k], reader)]);
    this.found[reader] = found;
    return found;
  }
}

export const NOTHING = new Beside();
