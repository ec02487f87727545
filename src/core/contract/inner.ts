/** Two schemas held against each other as text, and what their texts alone don't tell: where references stand in them. */
import { isMapping, type Mapping } from '../json.ts';
import { below } from '../place.ts';
import { freeName } from '../schema/declared.ts';
import type { InnerPair, Likeness, Schema } from '../schema/node.ts';
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

/** The two schemas that stand at these places of two documents; behind references, what these lead to. */
type BothAt = (a: At, b: At) => readonly [Schema, Schema];

/**
 * How two schemas are alike. Looks at both texts once and together, and makes nothing of what is plain: O(the smaller).
 */
export function likeness(a: At, b: At, bothAt: BothAt): Likeness {
  const walk: Walk = { keys: [], references: [] };
  if (!sameOn(walk, a.value, b.value)) return 'unlike';
  const out: InnerPair[] = [];
  let last: unknown;
  const whole = isMapping(a.value) && isTogether(a.value);
  for (const keys of walk.references) {
    const spot = innermost(a.value, b.value, keys, whole);
    // One schema may hold several references, and a text that means nothing any.
    if (spot === undefined || spot.a === last) continue;
    last = spot.a;
    const place = below('', ...spot.keys);
    const [one, other] = bothAt(
      { value: spot.a, file: a.file, pointer: a.pointer + place },
      { value: spot.b, file: b.file, pointer: b.pointer + place },
    );
    // The whole of it: alike where nothing stands beside a reference.
    if (spot.a === a.value && (one.raw === spot.a || other.raw === spot.b)) return 'together';
    out.push({ pointer: spot.pointer, a: one, b: other });
  }
  return out;
}

interface Walk {
  /** From the whole to where it is. */
  readonly keys: (string | number)[];
  /** Where references stand. */
  readonly references: (readonly (string | number)[])[];
}

/** Equal as JSON? Notes references on the way. */
function sameOn(walk: Walk, a: unknown, b: unknown): boolean {
  if (typeof a !== 'object' || typeof b !== 'object' || a === null || b === null) return a === b;
  const { keys } = walk;
  if (Array.isArray(a)) {
    if (!Array.isArray(b) || a.length !== b.length) return false;
    for (let i = 0; i < a.length; i++) {
      keys.push(i);
      if (!sameOn(walk, a[i], b[i])) return false;
      keys.pop();
    }
    return true;
  }
  if (Array.isArray(b)) return false;
  let more = 0;
  for (const key in a) {
    more += 1;
    const x = (a as Mapping)[key];
    const y = (b as Mapping)[key];
    if (typeof x === 'object') {
      keys.push(key);
      // What every object inherits is nobody's own.
      if ((key === '__proto__' && !Object.hasOwn(b, key)) || !sameOn(walk, x, y)) return false;
      keys.pop();
    } else if (x !== y) return false;
    else if (key === '$ref' || key === '$dynamicRef') walk.references.push([...keys]);
  }
  for (const _ in b) more -= 1;
  return more === 0;
}

interface Spot {
  readonly a: Mapping;
  readonly b: Mapping;
  /** In the text, and in a value. */
  readonly keys: readonly (string | number)[];
  readonly pointer: string;
}

/**
 * The innermost schema on the way to a reference that says things together, as the whole may do; undefined where no schema
 * stands.
 */
function innermost(a: unknown, b: unknown, keys: readonly (string | number)[], whole: boolean): Spot | undefined {
  let x = a;
  let y = b;
  let pointer = '';
  for (let i = 0; isMapping(x) && isMapping(y); ) {
    if (i === 0 ? whole : isTogether(x)) return { a: x, b: y, pointer, keys: keys.slice(0, i) };
    const key = keys[i] as string;
    const listed = Array.isArray(x[key]);
    const inner = keys[i + 1] as string | number;
    const step = stepInto(x, key, listed, inner);
    if (step === undefined) return undefined;
    pointer += below('', step);
    const deeper = listed || key === 'properties';
    x = deeper ? (x[key] as Mapping)[inner] : x[key];
    y = deeper ? (y[key] as Mapping)[inner] : y[key];
    i += deeper ? 2 : 1;
  }
  return undefined;
}

/** The part of a value that the schema behind a keyword describes; undefined where no schema stands there. */
function stepInto(x: Mapping, key: string, listed: boolean, inner: string | number): string | number | undefined {
  switch (key) {
    case 'properties':
      return listed ? undefined : inner;
    case 'prefixItems':
      return listed ? inner : undefined;
    case 'items':
      if (listed) return inner;
      return Array.isArray(x.prefixItems) ? x.prefixItems.length : 0;
    case 'additionalItems':
      return listed ? undefined : Array.isArray(x.items) ? x.items.length : 0;
    case 'additionalProperties':
      return listed ? undefined : freeName(new Set(isMapping(x.properties) ? Object.keys(x.properties) : []));
    default:
      return undefined;
  }
}

function isTogether(value: Mapping): boolean {
  for (const key in value) if (TOGETHER.has(key)) return true;
  return false;
}

/** Does a reference stand anywhere in the text? One in an example counts too, which costs a closer look and no more. */
export function refers(value: unknown): boolean {
  if (Array.isArray(value)) return value.some(refers);
  if (!isMapping(value)) return false;
  for (const key in value) if (key === '$ref' || key === '$dynamicRef' || refers(value[key])) return true;
  return false;
}
