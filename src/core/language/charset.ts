/**
 * Sets of symbols as sorted intervals: `[lo, hi, lo, hi, ...]`, both ends included, disjoint and never adjacent, so that
 * equal sets are equal lists.
 *
 * Symbols are Unicode scalar values, plus `BOUNDARY`, which stands for the slash between two path segments. A slash that
 * came out of `%2F` is an ordinary character of a segment's value, so the two can't be confused.
 */
export type CharSet = readonly number[];

export const MAX_CODE_POINT = 0x10ffff;
/** The symbol between path segments: a lone surrogate, which no decoded text holds and every JavaScript string can. */
export const BOUNDARY = 0xd800;
export const BOUNDARY_TEXT = String.fromCharCode(BOUNDARY);
/** All Unicode scalar values. */
export const ANY_CHARACTER: CharSet = [0, 0xd7ff, 0xe000, MAX_CODE_POINT];

/** Builds a set from intervals in any order, overlapping or not. O(n log n). */
export function charSet(...intervals: readonly (readonly [number, number])[]): CharSet {
  const sorted = [...intervals].sort((a, b) => a[0] - b[0]);
  const out: number[] = [];
  for (const [lo, hi] of sorted) {
    const last = out.length - 1;
    if (last > 0 && lo <= (out[last] as number) + 1) out[last] = Math.max(out[last] as number, hi);
    else out.push(lo, hi);
  }
  return out;
}

/** The set of the characters of a text. */
export function charsOf(text: string): CharSet {
  return charSet(...[...text].map((c) => [c.codePointAt(0) as number, c.codePointAt(0) as number] as const));
}

export function unionSets(...sets: readonly CharSet[]): CharSet {
  return charSet(...sets.flatMap(intervalsOf));
}

/** All characters that are not in the set; `BOUNDARY` never is. */
export function complementSet(set: CharSet): CharSet {
  const out: number[] = [];
  let next = 0;
  for (const [lo, hi] of intervalsOf(set)) {
    if (lo > next) out.push(next, lo - 1);
    next = hi + 1;
  }
  if (next <= MAX_CODE_POINT) out.push(next, MAX_CODE_POINT);
  return intersectSets(out, ANY_CHARACTER);
}

export function intersectSets(a: CharSet, b: CharSet): CharSet {
  const out: [number, number][] = [];
  for (const [alo, ahi] of intervalsOf(a)) {
    for (const [blo, bhi] of intervalsOf(b)) {
      const lo = Math.max(alo, blo);
      const hi = Math.min(ahi, bhi);
      if (lo <= hi) out.push([lo, hi]);
    }
  }
  return charSet(...out);
}

export function setHas(set: CharSet, code: number): boolean {
  for (let i = 0; i < set.length; i += 2) {
    if (code < (set[i] as number)) return false;
    if (code <= (set[i + 1] as number)) return true;
  }
  return false;
}

export function intervalsOf(set: CharSet): readonly (readonly [number, number])[] {
  const out: [number, number][] = [];
  for (let i = 0; i < set.length; i += 2) out.push([set[i] as number, set[i + 1] as number]);
  return out;
}
