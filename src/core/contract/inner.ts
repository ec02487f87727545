/** What of a schema its own text doesn't tell: where references, and parts that are said together, stand in it. */
import { isMapping, type Mapping } from '../json.ts';
import { below } from '../place.ts';
import { freeName } from '../schema/declared.ts';
import type { Inner, Schema } from '../schema/node.ts';
import type { At } from './reader.ts';

/** Keywords whose schemas speak of the value itself, or of its parts together with others. */
const TOGETHER = new Set([
  '$ref',
  '$dynamicRef',
  'allOf',
  'anyOf',
  'oneOf',
  'not',
  'if',
  'then',
  'else',
  'dependentSchemas',
  'dependencies',
  'contains',
  'propertyNames',
  'patternProperties',
  'unevaluatedProperties',
  'unevaluatedItems',
]);

/** Where a schema stands below the first one, and for which part of a value. */
interface Spot {
  readonly above: Spot | undefined;
  readonly keys: readonly (string | number)[];
  readonly step: string | number;
}

/**
 * The innermost schemas below this one that are more than their text, in an order that the text's doesn't change, each with the pointer into
 * a value at which it stands; undefined where the schema itself is one. Looks at the text only, and makes nothing of what
 * is plain: O(its size).
 */
export function innerOf(at: At, schemaAt: (at: At) => Schema | undefined): readonly Inner[] | undefined {
  const out: (Inner & { readonly at: string })[] = [];
  const each = (value: unknown, above: Spot | undefined, keys: readonly (string | number)[], step: string | number): void => {
    if (!isMapping(value)) return;
    const spot: Spot = { above, keys, step };
    if (plainly(value, spot)) return;
    const path = keysOf(spot);
    const place = below('', ...path);
    const schema = schemaAt({ value, file: at.file, pointer: at.pointer + place });
    if (schema !== undefined) out.push({ at: place, keys: path, pointer: pointerOf(spot), schema });
  };
  const plainly = (value: Mapping, spot: Spot | undefined): boolean => {
    for (const key in value) if (TOGETHER.has(key)) return !refers(value);
    const { properties, items, prefixItems, additionalItems, additionalProperties } = value;
    if (isMapping(properties)) for (const name in properties) each(properties[name], spot, ['properties', name], name);
    for (const key of ['items', 'prefixItems']) {
      const list = value[key];
      if (Array.isArray(list)) for (const [i, item] of list.entries()) each(item, spot, [key, i], i);
    }
    each(items, spot, ['items'], Array.isArray(prefixItems) ? prefixItems.length : 0);
    each(additionalItems, spot, ['additionalItems'], Array.isArray(items) ? items.length : 0);
    if (isMapping(additionalProperties))
      each(
        additionalProperties,
        spot,
        ['additionalProperties'],
        freeName(new Set(Object.keys(isMapping(properties) ? properties : {}))),
      );
    return true;
  };
  if (isMapping(at.value) && !plainly(at.value, undefined)) return undefined;
  // Members may stand in any order, and equal texts have equal lists.
  return out.length < 2 ? out : out.sort((a, b) => (a.at < b.at ? -1 : 1));
}

/** The same of an equal text, at the same places; undefined where one of them is no schema there. */
export function innerLike(
  at: At,
  equal: readonly Inner[],
  schemaAt: (at: At) => Schema | undefined,
): readonly Inner[] | undefined {
  const out: Inner[] = [];
  for (const { pointer, keys } of equal) {
    let value = at.value;
    for (const key of keys) value = (value as Mapping)[key];
    const schema = schemaAt({ value, file: at.file, pointer: at.pointer + below('', ...keys) });
    if (schema === undefined) return undefined;
    out.push({ pointer, keys, schema });
  }
  return out;
}

function pointerOf(spot: Spot): string {
  return (spot.above === undefined ? '' : pointerOf(spot.above)) + below('', spot.step);
}

function keysOf({ above, keys }: Spot): readonly (string | number)[] {
  return above === undefined ? keys : [...keysOf(above), ...keys];
}

/** Does a reference stand anywhere in the text? One in an example counts too, which costs a closer look and no more. */
function refers(value: unknown): boolean {
  if (Array.isArray(value)) return value.some(refers);
  if (!isMapping(value)) return false;
  return Object.keys(value).some((key) => key === '$ref' || key === '$dynamicRef' || refers(value[key]));
}
