/** Keywords of schemas that are numbers. */
import { kindOf, type Mapping } from '../../base/json.ts';
import { type At, addFlaw, child, type Reader } from '../document/document.ts';
import { BOUNDS, COUNTS } from '../document/near-keys.ts';

const NUMBERS: ReadonlySet<string> = new Set([...COUNTS, ...BOUNDS]);

export function isNumeric(key: string): boolean {
  return NUMBERS.has(key);
}

type Numbers = { -readonly [K in (typeof COUNTS)[number] | (typeof BOUNDS)[number]]?: number };

/** The bounds and counts of a schema; before 3.1 a flag beside a bound says whether it is left out. */
export function numbersOf(reader: Reader, at: At<Mapping>): Numbers {
  const out: Numbers = {};
  for (const key of COUNTS) {
    const n = at.value[key];
    if (n === undefined) continue;
    if (typeof n === 'number' && Number.isInteger(n) && n >= 0) out[key] = n;
    else addFlaw(reader, child(at, key), `expected a whole number of 0 or more for ${key}, found ${kindOf(n)}`);
  }
  for (const key of BOUNDS) {
    const n = at.value[key];
    if (n === undefined || typeof n === 'boolean') continue;
    if (typeof n === 'number' && (key !== 'multipleOf' || n > 0)) out[key] = n;
    else addFlaw(reader, child(at, key), `expected a number for ${key}, found ${kindOf(n)}`);
  }
  // Before 3.1 these say of the bound beside them whether it is left out.
  if (at.value.exclusiveMinimum === true && out.minimum !== undefined) {
    out.exclusiveMinimum = out.minimum;
    delete out.minimum;
  }
  if (at.value.exclusiveMaximum === true && out.maximum !== undefined) {
    out.exclusiveMaximum = out.maximum;
    delete out.maximum;
  }
  return out;
}
