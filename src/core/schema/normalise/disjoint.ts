/** Schemas that are plainly without a common value: seen at once, so that their combinations need not be looked at. */

import { sameJson } from '../../base/json.ts';
import { KeyedMemo } from '../../base/memo.ts';
import { idOf, type Keywords, type Schema } from '../model/schema.ts';
import type { Side } from '../model/side.ts';
import { isExcludedFrom, keywordsFor } from '../model/side-view.ts';
import { type DeclaredNames, declaredNamesOf } from './declared-names.ts';

/** More parts of one value than this are not looked at, nor more forms, nor what nests deeper. */
const MOST_PARTS = 50;
const MOST_FORMS = 50;
const MOST_DEEP = 4;

/** What all parts of a schema say together. */
interface ConjunctFacts {
  readonly parts: readonly Keywords[];
  /** Nothing but an object. */
  readonly object: boolean;
  readonly required: readonly string[];
  readonly properties: ReadonlyMap<string, readonly Schema[]>;
}

const conjunctFactsCache = new KeyedMemo<Schema, Side, ConjunctFacts>();

function factsOf(schema: Schema, side: Side): ConjunctFacts {
  return conjunctFactsCache.remember(schema, side, () => read(schema, side));
}

function read(schema: Schema, side: Side): ConjunctFacts {
  const parts: Keywords[] = [];
  const seen = new Set([schema]);
  for (const s of seen) {
    const k = keywordsFor(s, side, 'consumer');
    if (typeof k === 'boolean' || parts.length >= MOST_PARTS) continue;
    parts.push(k);
    if (k.ref !== undefined) seen.add(k.ref);
    for (const part of k.allOf) seen.add(part);
  }
  const properties = new Map<string, Schema[]>();
  const unsent = new Set<string>();
  for (const s of seen) {
    const k = s.keywords();
    if (typeof k === 'boolean') continue;
    for (const [name, property] of k.properties) {
      if (isExcludedFrom(property, side)) unsent.add(name);
      properties.set(name, [...(properties.get(name) ?? []), property]);
    }
  }
  for (const name of unsent) properties.delete(name);
  return {
    parts,
    // What names no type may be anything but an object.
    object: parts.some((k) => k.types?.every((t) => t === 'object') === true),
    required: [...new Set(parts.flatMap((k) => k.required))].filter((name) => !unsent.has(name)),
    properties,
  };
}

/** How deep two schemas were looked at without seeing that they are apart; without end where they are. */
const looked: Readonly<Record<Side, WeakMap<Schema, Map<number, number>>>> = {
  request: new WeakMap(),
  response: new WeakMap(),
  either: new WeakMap(),
};

/**
 * Plainly without a common value: by their types, their lists of values, their forms, or a property that one of them
 * requires. No is no answer. Cost: the forms and the required properties, once for each pair.
 */
export function isObviouslyDisjoint(a: Schema, b: Schema, side: Side): boolean {
  // Most often the first property tells.
  return disjointToDepth(a, b, side, 1) || disjointToDepth(a, b, side, MOST_DEEP);
}

function disjointToDepth(a: Schema, b: Schema, side: Side, deep: number): boolean {
  if (a === b) return false;
  const row = looked[side].get(a) ?? new Map<number, number>();
  if (row.size === 0) looked[side].set(a, row);
  const known = row.get(idOf(b)) ?? -1;
  if (known >= deep) return known === Infinity;
  const answer = computeDisjoint(a, b, side, deep);
  row.set(idOf(b), answer ? Infinity : deep);
  return answer;
}

function computeDisjoint(a: Schema, b: Schema, side: Side, deep: number): boolean {
  const [x, y] = [factsOf(a, side), factsOf(b, side)];
  if (x.parts.some((k) => y.parts.some((l) => typesApart(k, l) || valuesApart(k, l)))) return true;
  if (deep === 0) return false;
  if (formsApart(x, b, side, deep - 1) || formsApart(y, a, side, deep - 1)) return true;
  if (!x.object && !y.object) return false;
  return [...new Set([...x.required, ...y.required])].some((name) => {
    const [p = [], q = []] = [x.properties.get(name), y.properties.get(name)];
    return p.some((s) => q.some((t) => disjointToDepth(s, t, side, deep - 1)));
  });
}

/** Whichever form it is, it is apart. */
function formsApart({ parts }: ConjunctFacts, other: Schema, side: Side, deep: number): boolean {
  return parts.some(({ anyOf, oneOf }) =>
    [anyOf, oneOf].some(
      (forms) => forms !== undefined && forms.length <= MOST_FORMS && forms.every((f) => disjointToDepth(f, other, side, deep)),
    ),
  );
}

function typesApart({ types: x }: Keywords, { types: y }: Keywords): boolean {
  if (x === undefined || y === undefined) return false;
  const isNumber = (t: string): boolean => t === 'integer' || t === 'number';
  return !x.some((t) => y.some((u) => t === u || (isNumber(t) && isNumber(u))));
}

function valuesApart({ enum: x }: Keywords, { enum: y }: Keywords): boolean {
  return x !== undefined && y !== undefined && !x.some((v) => y.some((w) => sameJson(v, w)));
}

/** Plainly no value can be both, each closed: what one needs the other does not declare. */
export function areClosedBranchesDisjoint(a: Schema, b: Schema, beside: DeclaredNames, side: Side): boolean {
  if (beside.allowsOthers || beside.patterns.length > 0) return false;
  const [x, y] = [needs(a, side), needs(b, side)];
  if (x === undefined || y === undefined) return false;
  return [...x.needed, ...y.needed].some((n) => !beside.names.has(n) && !(x.names.has(n) && y.names.has(n)));
}

/** What an object needs and declares, where it is closed when it is counted, and can be nothing but an object. */
function needs(
  schema: Schema,
  side: Side,
): { readonly needed: readonly string[]; readonly names: ReadonlySet<string> } | undefined {
  const { object, required } = factsOf(schema, side);
  const own = declaredNamesOf(schema);
  if (!object || own.allowsOthers || own.patterns.length > 0 || own.names.size === 0) return undefined;
  return { needed: required, names: own.names };
}
