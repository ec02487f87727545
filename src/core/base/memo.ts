/** What is remembered of what was computed. Everything here may be forgotten without changing a result. */

/** A function of one object whose result is kept as long as the object is. */
export function memoise<K extends object, V extends object | string | number | boolean>(compute: (of: K) => V): (of: K) => V {
  const results = new WeakMap<K, V>();
  return (of) => {
    const known = results.get(of);
    if (known !== undefined) return known;
    const made = compute(of);
    results.set(of, made);
    return made;
  };
}

/**
 * A map that holds what was asked for last: at most twice `most` entries, the older half forgotten at once. For results
 * that cost time alone to find again.
 */
export class RecentMap<K, V> {
  private recent = new Map<K, V>();
  private older = new Map<K, V>();

  constructor(private readonly most: number) {}

  get(key: K): V | undefined {
    const known = this.recent.get(key);
    if (known !== undefined || this.older.size === 0) return known;
    const before = this.older.get(key);
    if (before !== undefined) this.set(key, before);
    return before;
  }

  set(key: K, value: V): void {
    if (this.recent.size >= this.most) {
      this.older = this.recent;
      this.recent = new Map();
    }
    this.recent.set(key, value);
  }

  /** The value, computed where it is not known. */
  remember(key: K, compute: () => V): V {
    const known = this.get(key);
    if (known !== undefined) return known;
    const made = compute();
    this.set(key, made);
    return made;
  }
}

const FIRST_SWEEP = 1_024;

/**
 * Objects of which there is one for each key, kept only as long as somebody else holds them: a process that reads many
 * inputs keeps no trace of those that are gone. Sweeping costs as much as the entries that were added since the last time.
 */
export class InternTable<V extends object> {
  private readonly entries = new Map<string, WeakRef<V>>();
  private sweepAt = FIRST_SWEEP;

  get(key: string): V | undefined {
    return this.entries.get(key)?.deref();
  }

  set(key: string, value: V): void {
    this.entries.set(key, new WeakRef(value));
    if (this.entries.size >= this.sweepAt) this.sweep();
  }

  /** The one for this key, made where there is none. */
  remember(key: string, make: () => V): V {
    const known = this.get(key);
    if (known !== undefined) return known;
    const made = make();
    this.set(key, made);
    return made;
  }

  private sweep(): void {
    for (const [key, entry] of this.entries) if (entry.deref() === undefined) this.entries.delete(key);
    this.sweepAt = Math.max(FIRST_SWEEP, 2 * this.entries.size);
  }
}

/** Results of an object and something that is asked of it, kept as long as the object is. */
export class KeyedMemo<K extends object, Q, V> {
  private readonly rows = new WeakMap<K, Map<Q, V>>();

  get(of: K, question: Q): V | undefined {
    return this.rows.get(of)?.get(question);
  }

  set(of: K, question: Q, value: V): V {
    const row = this.rows.get(of);
    if (row === undefined) this.rows.set(of, new Map([[question, value]]));
    else row.set(question, value);
    return value;
  }

  /** The result, computed where it is not known. */
  remember(of: K, question: Q, compute: () => V): V {
    return this.get(of, question) ?? this.set(of, question, compute());
  }
}
