/**
 * A table of byte texts that is asked with parts of longer ones, which are never cut out: cutting would cost more than looking.
 * What belongs to an entry stands beside its hash, because looks at memory far away are what looking costs.
 */

/** Bytes, and a view that reads four of them at once. */
export interface Bytes {
  readonly bytes: Uint8Array;
  readonly view: DataView;
}

export function viewed(bytes: Uint8Array): Bytes {
  return { bytes, view: new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength) };
}

/** The hash of a part; the same for equal parts. O(length). */
export function hashOf({ view }: Bytes, from: number, end: number): number {
  let hash = end - from;
  let i = from;
  for (; i + 4 <= end; i += 4) {
    hash = Math.imul(hash ^ view.getInt32(i, true), 0x9e3779b1);
    hash ^= hash >>> 15;
  }
  for (; i < end; i++) hash = Math.imul(hash ^ view.getUint8(i), 0x01000193);
  return hash ^ (hash >>> 13);
}

function isSame(a: DataView, at: number, b: DataView, from: number, length: number): boolean {
  let i = 0;
  for (; i + 4 <= length; i += 4) if (a.getInt32(at + i, true) !== b.getInt32(from + i, true)) return false;
  for (; i < length; i++) if (a.getUint8(at + i) !== b.getUint8(from + i)) return false;
  return true;
}

const SLOTS = 1 << 16;
/** The hash, the next entry of its slot (0 for none, else one more than its number), and the text: where it begins, how long it is. */
const [HASH, NEXT, START, LENGTH, HEAD] = [0, 1, 2, 3, 4];

export class ByteTable {
  /** How many entries there are; they are numbered from 0. */
  size = 0;
  /** How many bytes their texts have. */
  used = 0;
  /** The words of entry `i` begin at `wordsAt(i)`; they are 0 at first. */
  records: Int32Array;
  private readonly heads = new Int32Array(SLOTS);
  private texts = viewed(new Uint8Array(1 << 16));

  /** With so many words of 32 bits for each entry. */
  constructor(private readonly words: number) {
    this.records = new Int32Array(1_024 * (HEAD + words));
  }

  wordsAt(entry: number): number {
    return entry * (HEAD + this.words) + HEAD;
  }

  /** The entry of a part of a text; -1 where there is none. O(length). */
  find(text: Bytes, from: number, end: number, hash: number): number {
    const { records } = this;
    const stride = HEAD + this.words;
    for (let next = this.heads[hash & (SLOTS - 1)] as number; next !== 0; ) {
      const at = (next - 1) * stride;
      if (
        records[at + HASH] === hash &&
        records[at + LENGTH] === end - from &&
        isSame(this.texts.view, records[at + START] as number, text.view, from, end - from)
      )
        return next - 1;
      next = records[at + NEXT] as number;
    }
    return -1;
  }

  /** A new entry. */
  add({ bytes }: Bytes, from: number, end: number, hash: number): number {
    const at = this.size * (HEAD + this.words);
    if (at === this.records.length) {
      const grown = new Int32Array(2 * at);
      grown.set(this.records);
      this.records = grown;
    }
    if (this.used + end - from > this.texts.bytes.length) {
      const grown = new Uint8Array(2 * (this.used + end - from));
      grown.set(this.texts.bytes);
      this.texts = viewed(grown);
    }
    this.texts.bytes.set(bytes.subarray(from, end), this.used);
    const slot = hash & (SLOTS - 1);
    this.records[at + HASH] = hash;
    this.records[at + NEXT] = this.heads[slot] as number;
    this.records[at + START] = this.used;
    this.records[at + LENGTH] = end - from;
    this.used += end - from;
    this.size += 1;
    this.heads[slot] = this.size;
    return this.size - 1;
  }
}
