/** What is known of two schemas. Many schemas are held against one other alone, which then takes no map of its own. */
import { idOf, type Schema } from './schema.ts';

interface OneEntry<T> {
  readonly other: number;
  readonly value: T;
}

/** Forgets what it knows when a schema is gone. */
export class PairMap<T> {
  private readonly rows = new WeakMap<Schema, OneEntry<T> | Map<number, T>>();

  get(a: Schema, b: Schema): T | undefined {
    const row = this.rows.get(a);
    if (row === undefined) return undefined;
    if (row instanceof Map) return row.get(idOf(b));
    return row.other === idOf(b) ? row.value : undefined;
  }

  set(a: Schema, b: Schema, value: T): void {
    const row = this.rows.get(a);
    const other = idOf(b);
    if (row instanceof Map) row.set(other, value);
    else if (row === undefined || row.other === other) this.rows.set(a, { other, value });
    else this.rows.set(a, new Map([[row.other, row.value] as const, [other, value] as const]));
  }
}
