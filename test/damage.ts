/** Values that were damaged: a part is something else, is gone, has another name or stands twice. */
import fc from 'fast-check';

const JUNK: readonly unknown[] = [
  null,
  true,
  -1,
  1e300,
  0.1,
  '',
  'GET',
  '/{',
  '#/nowhere',
  '#/components/schemas/Lock',
  '\u0000\ud800',
  'x'.repeat(3000),
  [],
  [null],
  [[[]]],
  {},
  { $ref: '#' },
  { $ref: '#/paths' },
  { type: 'object', required: 7 },
  { allOf: [{ $ref: '#/components/schemas/Lock' }, false] },
  { '': { '': null } },
];
export const junk = fc.constantFrom(...JUNK);

/** A part of a value is something else, is gone, or has another name. */
export type Blow = readonly [where: number, how: 'other' | 'gone' | 'renamed' | 'twice', what: unknown];
export const blows = fc.array(fc.tuple(fc.nat(), fc.constantFrom('other', 'other', 'gone', 'renamed', 'twice'), junk), {
  minLength: 1,
  maxLength: 3,
}) as fc.Arbitrary<readonly Blow[]>;

export function struck(value: unknown, [where, how, what]: Blow): unknown {
  const copy = structuredClone(value);
  const spots: (readonly [Record<string, unknown>, string])[] = [];
  const walk = (v: unknown): void => {
    if (typeof v !== 'object' || v === null) return;
    for (const key of Object.keys(v)) {
      spots.push([v as Record<string, unknown>, key]);
      walk((v as Record<string, unknown>)[key]);
    }
  };
  walk(copy);
  const [holder, key] = spots[where % Math.max(1, spots.length)] ?? [];
  if (holder === undefined || key === undefined) return what;
  const before = holder[key];
  if (how !== 'twice' && how !== 'other') delete holder[key];
  if (how === 'other') holder[key] = what;
  if (how === 'renamed') holder[`${key}s`] = before;
  if (how === 'twice') holder[Array.isArray(holder) ? String(holder.length) : `${key}2`] = before;
  return copy;
}
