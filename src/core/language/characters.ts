/** Character sets that have names, and letters in either case (ECMA-262, 22.2.2.9). */
import { type CharSet, charSet, intervalsOf, MAX_CODE_POINT } from './charset.ts';

export const WORD: CharSet = charSet([0x30, 0x39], [0x41, 0x5a], [0x5f, 0x5f], [0x61, 0x7a]);
export const SPACE: CharSet = charSet(
  [9, 13],
  [32, 32],
  [0xa0, 0xa0],
  [0x1680, 0x1680],
  [0x2000, 0x200a],
  [0x2028, 0x2029],
  [0x202f, 0x202f],
  [0x205f, 0x205f],
  [0x3000, 0x3000],
  [0xfeff, 0xfeff],
);

/** Above this no character has another case. */
const LAST_CASED = 0x1e943;
const properties = new Map<string, CharSet>();

/** The set of a Unicode property, as this engine's own Unicode version has it. One pass over all characters, remembered. */
export function propertySet(key: string, value: string | null): CharSet {
  const name = value === null ? key : `${key}=${value}`;
  const known = properties.get(name);
  if (known !== undefined) return known;
  const test = new RegExp(`\\p{${name}}`, 'u');
  const found: [number, number][] = [];
  for (let code = 0; code <= MAX_CODE_POINT; code++) {
    if (code >= 0xd800 && code <= 0xdfff) continue;
    if (!test.test(String.fromCodePoint(code))) continue;
    const last = found[found.length - 1];
    if (last !== undefined && last[1] === code - 1) last[1] = code;
    else found.push([code, code]);
  }
  const set = charSet(...found);
  properties.set(name, set);
  return set;
}

/** The set with the other case of each of its letters added. Linear in the number of cased characters. */
export function withEitherCase(set: CharSet): CharSet {
  const more: [number, number][] = [...intervalsOf(set)].map(([lo, hi]) => [lo, hi]);
  for (const [lo, hi] of intervalsOf(set)) {
    for (let code = lo; code <= Math.min(hi, LAST_CASED); code++) {
      const char = String.fromCodePoint(code);
      for (const other of [char.toLowerCase(), char.toUpperCase()]) {
        const folded = other.codePointAt(0) as number;
        if (folded !== code && other.length === String.fromCodePoint(folded).length) more.push([folded, folded]);
      }
    }
  }
  return charSet(...more);
}
