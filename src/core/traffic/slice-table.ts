/** A table of texts that is asked with parts of longer texts, which are never cut out: cutting would cost more than looking. */

const SIZE = 1 << 16;

/** The hash of a part of a text; the same for equal parts. O(length). */
export function hashOf(text: string, from: number, end: number): number {
  let hash = 0x811c9dc5;
  for (let i = from; i < end; i++) hash = Math.imul(hash ^ text.charCodeAt(i), 0x01000193);
  return hash;
}

/** A hash that looks at both ends of a part alone, for long texts that differ little. O(1). */
export function endsHash(text: string, from: number, end: number): number {
  let hash = end - from;
  for (let i = 0; i < 6; i++)
    hash = Math.imul(hash ^ text.charCodeAt(from + i) ^ (text.charCodeAt(end - 1 - i) << 8), 0x01000193);
  return hash;
}

export class SliceTable<V> {
  private readonly heads = new Int32Array(SIZE).fill(-1);
  private readonly next: number[] = [];
  private readonly hashes: number[] = [];
  private readonly keys: string[] = [];
  readonly values: V[] = [];

  /** The value of the part of `text` from `from` up to `end`. O(1). */
  find(text: string, from: number, end: number, hash: number): V | undefined {
    for (let at = this.heads[hash & (SIZE - 1)] as number; at >= 0; at = this.next[at] as number) {
      const key = this.keys[at] as string;
      if (this.hashes[at] === hash && key.length === end - from && text.startsWith(key, from)) return this.values[at];
    }
    return undefined;
  }

  /** `key` must not be a part of a longer text, which would be kept with it. */
  add(key: string, hash: number, value: V): void {
    const slot = hash & (SIZE - 1);
    this.next.push(this.heads[slot] as number);
    this.hashes.push(hash);
    this.keys.push(key);
    this.heads[slot] = this.values.length;
    this.values.push(value);
  }
}
