/**
 * Two schemas held against each other as text, and Compares two schemas as text and returns the pointers at which references
 * still have to be compared.
 */
import { isMapping, type Mapping, sameJson } from '../../base/json.ts';
import { escapePointerToken } from '../../base/place.ts';
import type { Likeness, PairAtPointer, SchemaPair } from '../../schema/model/schema.ts';
import { freshName } from '../../schema/vocabulary/sample-names.ts';

/** Keywords whose schemas speak of the value itself, or of its parts together with others. */
const IN_PLACE_KEYWORDS: ReadonlySet<string> = new Set([
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

/** Words about a schema, which change nothing that it holds. */
const ANNOTATION_KEYWORDS: ReadonlySet<string> = new Set([
  ...['title', 'description', 'summary', '$comment', 'example', 'examples', 'externalDocs', 'xml', 'deprecated'],
]);

/** Keywords of many schemas, by name or in a list, and of one. */
const MANY: ReadonlySet<string> = new Set([
  ...['properties', 'patternProperties', 'dependentSchemas', '$defs', 'definitions', 'allOf', 'anyOf', 'oneOf', 'prefixItems'],
]);
const ONE: ReadonlySet<string> = new Set([
  ...['items', 'additionalItems', 'additionalProperties', 'not', 'if', 'then', 'else', 'contains', 'propertyNames'],
  ...['unevaluatedProperties', 'unevaluatedItems'],
]);

type Key = string | number;

/** The two schemas that stand behind these keys of two texts; behind references, what these lead to. */
type BothAt = (a: Mapping, b: Mapping, keys: readonly Key[]) => SchemaPair;

/**
 * How two schemas are alike, whatever words stand beside what counts. Looks at both texts once and together, and makes
 * nothing of what is plain: O(the smaller).
 */
export function likeness(a: unknown, b: unknown, bothAt: BothAt): Likeness {
  const walk: TextWalk = { keys: [], steps: [], together: false, refers: false, spots: [], bothAt };
  if (!sameSchema(walk, a, b)) return 'unlike';
  const [first] = walk.spots;
  // The whole of it: alike where nothing stands beside a reference.
  return first?.pointer === '' && (first.both.a.raw === a || first.both.b.raw === b) ? 'together' : walk.spots;
}

interface TextWalk {
  /** From the whole to where it is in the text. */
  readonly keys: Key[];
  /** And in a value: a mapping stands for a name that it does not declare. */
  readonly steps: (Key | Mapping)[];
  /** In a schema that speaks of a value together with others, which is one spot. */
  together: boolean;
  /** A reference was met in there. */
  refers: boolean;
  /** The innermost schemas that hold references, and say things together. */
  readonly spots: PairAtPointer[];
  readonly bothAt: BothAt;
}

function sameSchema(walk: TextWalk, a: unknown, b: unknown): boolean {
  if (!isMapping(a) || !isMapping(b)) return sameJson(a, b);
  if (walk.together) return sameKeywords(walk, a, b) === true;
  const met = walk.spots.length;
  const same = sameKeywords(walk, a, b);
  if (same !== 'together') return same;
  // All of it is one spot, whatever was found of it so far.
  walk.spots.length = met;
  walk.together = true;
  walk.refers = false;
  const whole = sameKeywords(walk, a, b) === true;
  walk.together = false;
  if (whole && walk.refers) walk.spots.push({ pointer: pointerTo(walk.steps), both: walk.bothAt(a, b, walk.keys) });
  return whole;
}

/** Ends where a keyword says things together, outside of what does so already. */
function sameKeywords(walk: TextWalk, a: Mapping, b: Mapping): boolean | 'together' {
  let more = 0;
  for (const key in a) {
    if (isWord(key)) continue;
    if (!walk.together && IN_PLACE_KEYWORDS.has(key)) return 'together';
    more += 1;
    if (!sameKeyword(walk, a, b, key)) return false;
  }
  for (const key in b) if (!isWord(key)) more -= 1;
  return more === 0;
}

/** Words, and extensions. */
function isWord(key: string): boolean {
  return ANNOTATION_KEYWORDS.has(key) || (key.charCodeAt(0) === 120 && key.charCodeAt(1) === 45);
}

function sameKeyword(walk: TextWalk, a: Mapping, b: Mapping, key: string): boolean {
  const x = a[key];
  const y = b[key];
  if (typeof x !== 'object') {
    if (key === '$ref' && typeof x === 'string' && typeof y === 'string') {
      // What a component is called is nothing that it says.
      walk.refers = true;
      return true;
    }
    if (key === '$dynamicRef') walk.refers = true;
    return x === y;
  }
  if (key === 'discriminator') return sameDiscriminator(x, y);
  // What every object inherits is nobody's own.
  if (key === '__proto__' && !Object.hasOwn(b, key)) return false;
  if (!MANY.has(key) && !ONE.has(key)) return sameJson(x, y);
  const met = walk.spots.length;
  const same = MANY.has(key) || Array.isArray(x) ? sameAll(walk, x, y, key) : sameBelow(walk, key, stepInto(a, key), x, y);
  // What is said of lists tells nothing of what is none.
  if (walk.spots.length > met && isInapplicable(a, key)) walk.spots.length = met;
  return same;
}

/** Is it said of lists, or of objects, where the value is no such thing? */
function isInapplicable({ type }: Mapping, key: string): boolean {
  const of =
    key === 'items' || key === 'prefixItems' ? 'array' : /^(?:properties|additionalProperties)$/u.test(key) ? 'object' : type;
  return type !== undefined && type !== of && !(Array.isArray(type) && type.includes(of));
}

/** Which names there are; what each refers to is said by the forms. */
function sameDiscriminator(x: unknown, y: unknown): boolean {
  if (!isMapping(x) || !isMapping(y)) return sameJson(x, y);
  const names = ({ mapping }: Mapping): readonly string[] => (isMapping(mapping) ? Object.keys(mapping).sort() : []);
  return x.propertyName === y.propertyName && sameJson(names(x), names(y));
}

/** The part of a value that the one schema behind a keyword describes. */
function stepInto(x: Mapping, key: string): Key | Mapping {
  if (key === 'additionalProperties') return x;
  const first = key === 'items' ? x.prefixItems : x.items;
  return Array.isArray(first) ? first.length : 0;
}

function sameBelow(walk: TextWalk, key: Key, step: Key | Mapping, x: unknown, y: unknown): boolean {
  walk.keys.push(key);
  walk.steps.push(step);
  const same = sameSchema(walk, x, y);
  walk.keys.pop();
  walk.steps.pop();
  return same;
}

/** Schemas by name, or in a list. */
function sameAll(walk: TextWalk, x: unknown, y: unknown, key: string): boolean {
  walk.keys.push(key);
  const met = walk.spots.length;
  const same = Array.isArray(x) ? sameList(walk, x, y) : isMapping(x) ? sameNamed(walk, x, y) : sameJson(x, y);
  walk.keys.pop();
  // What is only named describes no part of a value.
  if (key === '$defs' || key === 'definitions' || (key === 'properties') === Array.isArray(x)) walk.spots.length = met;
  return same;
}

function sameList(walk: TextWalk, x: readonly unknown[], y: unknown): boolean {
  if (!Array.isArray(y) || x.length !== y.length) return false;
  for (let i = 0; i < x.length; i++) if (!sameBelow(walk, i, i, x[i], y[i])) return false;
  return true;
}

function sameNamed(walk: TextWalk, x: Mapping, y: unknown): boolean {
  if (!isMapping(y)) return false;
  let more = 0;
  for (const name in x) {
    more += 1;
    if ((name === '__proto__' && !Object.hasOwn(y, name)) || !sameBelow(walk, name, name, x[name], y[name])) return false;
  }
  for (const _ in y) more -= 1;
  return more === 0;
}

function pointerTo(steps: TextWalk['steps']): string {
  let out = '';
  for (const s of steps)
    out += `/${typeof s === 'object' ? freshName(namesOf(s)) : typeof s === 'string' ? escapePointerToken(s) : s}`;
  return out;
}

function namesOf({ properties }: Mapping): ReadonlySet<string> {
  return new Set(isMapping(properties) ? Object.keys(properties) : []);
}
