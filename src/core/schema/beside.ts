/** What is said beside the forms of a `oneOf`: keywords, from the outside in, that speak of the same value. */
import { type Declared, declaredBeside, together } from './declared.ts';
import type { Keywords } from './node.ts';

let last = 0;

/** The same for the same keywords. */
export class Beside {
  readonly id: number;
  private readonly inner = new WeakMap<Keywords, Beside>();
  private found: Declared | undefined;

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
  get declared(): Declared {
    const outer = this.outer === undefined ? [] : [this.outer.declared];
    this.found ??= together([...outer, declaredBeside(this.k === undefined ? [] : [this.k])]);
    return this.found;
  }
}

export const NOTHING = new Beside();
