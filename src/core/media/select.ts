/** Which Accept selects a type: decided for all headers there are, not for samples (RFC 9110, 12.5.1). */
import { chooseType, precision } from './media.ts';
import { type MediaRange, parseRanges } from './ranges.ts';

/** Of more parameters than this, which no registered type has, only all of them, none and each alone are tried. */
const MOST_UNITS = 8;
/** Stands for any type that nobody offers by name. */
const OTHER = 'x-other';

/**
 * An Accept under which the offered type at `index` is sent, a short one where that does; undefined when no header selects it.
 *
 * A header selects type i exactly when it has a range r that names i, and a more precise range that names j and not i for
 * each j before i that r names too: what comes after i loses among equals, and of ranges that are as precise the better
 * counts. Those with the most and the fewest parameters of the types themselves are enough to look at.
 * O(offered x 4^parameters), the parameters being at most `MOST_UNITS`.
 */
export function acceptFor(offered: readonly string[], index: number, useParameters = true): string | undefined {
  const types = offered.map((text) => parseRanges(text)[0]);
  const own = types[index];
  if (own === undefined) return undefined;
  const selects = (header: string): boolean => chosenIndex(header, offered, useParameters) === index;
  const plain = offered[index] as string;
  if (selects(plain)) return plain;
  const earlier = types.slice(0, index).filter((t) => t !== undefined);
  for (const range of rangesOf(own, useParameters)) {
    const refusals = refusalsOf(range, own, earlier, useParameters);
    if (refusals === undefined) continue;
    const header = [written(range), ...new Set(refusals.map((r) => `${written(r)};q=0`))].join(', ');
    if (selects(header)) return header;
  }
  return undefined;
}

/** The place of the type that a header selects. */
function chosenIndex(header: string, offered: readonly string[], useParameters: boolean): number {
  const chosen = chooseType(header, offered, useParameters);
  return chosen === undefined ? -1 : offered.indexOf(chosen);
}

/** What takes away each of the earlier types that the range names too; undefined where one can't be. */
function refusalsOf(
  range: MediaRange,
  own: MediaRange,
  earlier: readonly MediaRange[],
  useParameters: boolean,
): readonly MediaRange[] | undefined {
  const out: MediaRange[] = [];
  for (const type of earlier) {
    const reach = precision(range, type, useParameters);
    if (reach === 0) continue;
    // Of an offered range something is left that the client wants.
    if (type.subtype === '*') return undefined;
    const refusal = rangesOf(type, useParameters).find(
      (r) => precision(r, type, useParameters) > reach && precision(r, own, useParameters) === 0,
    );
    if (refusal === undefined) return undefined;
    out.push(refusal);
  }
  return out;
}

/** The ranges that name a type, the most precise first. */
function rangesOf(type: MediaRange, useParameters: boolean): readonly MediaRange[] {
  const range = (t: string, subtype: string, parameters: MediaRange['parameters']): MediaRange => ({
    type: t,
    subtype,
    parameters,
    quality: 1,
  });
  const none = new Map<string, string>();
  const subsets = useParameters ? subsetsOf(type) : [none];
  const named = subsets.map((p) => range(type.type === '*' ? OTHER : type.type, type.subtype === '*' ? OTHER : type.subtype, p));
  const wild = type.type === '*' ? [] : subsets.map((p) => range(type.type, '*', p));
  return [...named, ...wild, range('*', '*', none)];
}

/** The parameters of a type, all, some and none; of a profile each of its names counts. */
function subsetsOf({ parameters }: MediaRange): readonly ReadonlyMap<string, string>[] {
  const units = [...parameters].flatMap(([name, value]) =>
    name === 'charset'
      ? []
      : name === 'profile'
        ? value.split(/\s+/u).map((uri) => [name, uri] as const)
        : [[name, value] as const],
  );
  const chosen =
    units.length <= MOST_UNITS
      ? Array.from({ length: 2 ** units.length }, (_, bits) => units.filter((_, i) => (bits >> i) & 1))
      : [units, ...units.map((u) => [u]), []];
  return chosen.sort((a, b) => b.length - a.length).map(together);
}

function together(units: readonly (readonly [string, string])[]): ReadonlyMap<string, string> {
  const out = new Map<string, string>();
  for (const [name, value] of units) out.set(name, out.has(name) ? `${out.get(name)} ${value}` : value);
  return out;
}

function written({ type, subtype, parameters }: MediaRange): string {
  const token = /^[!#$%&'*+.^_`|~\w-]+$/u;
  const texts = [...parameters].map(([n, v]) => `;${n}=${token.test(v) ? v : `"${v.replaceAll(/["\\]/gu, '\\$&')}"`}`);
  return `${type}/${subtype}${texts.join('')}`;
}
