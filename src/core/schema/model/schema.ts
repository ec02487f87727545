/**
 * A JSON Schema as the model has it: one set of keywords, that of JSON Schema 2020-12, whatever edition of OpenAPI it was
 * written in. Nothing of it is read before `keywords` is called.
 */

import { isMapping } from '../../base/json.ts';
import type { Place } from '../../base/place.ts';

export const JSON_TYPES = ['null', 'boolean', 'number', 'string', 'array', 'object'] as const;
export type JsonType = (typeof JSON_TYPES)[number];

export interface Schema {
  /** A number of its own, where whoever made it gave it one (`newId`). */
  readonly id?: number;
  readonly place: Place;
  /** As it was written: for comparing text, and for extensions. */
  readonly raw: unknown;
  /** What it says; `true` holds every value, `false` none. Read once. */
  readonly keywords: () => Keywords | boolean;
  /** In which dialect the text is to be read; texts of two dialects are never the same. */
  readonly dialect?: string;
  /** What it refers to, where it is a reference and nothing else. */
  readonly alone?: () => Schema | undefined;
  /** What it says of a property, or of an item, where that is looked at as text. */
  readonly part?: (name?: string) => Schema | undefined;
  /** How its text is like another's; undefined where one of them has no text to look at. */
  readonly like?: (other: Schema) => Likeness | undefined;
  /** The other schemas that it was held against as text, by their numbers, or the only one. */
  twins?: TextPair | Map<number, TextPair> | undefined;
}

/** Two schemas that may stand at the same place many times. */
export interface SchemaPair {
  readonly a: Schema;
  readonly b: Schema;
  /** How they are like each other, once somebody asked. */
  twin?: TextPair | undefined;
}

/** Two schemas that stand at the same place. */
export interface PairAtPointer {
  /** Into a value of the schemas that they stand in (RFC 6901). */
  readonly pointer: string;
  readonly both: SchemaPair;
}

/**
 * How two texts are alike: not, as texts whose parts speak of a value together, or altogether but for what stands at these
 * places, innermost.
 */
export type Likeness = 'unlike' | 'together' | readonly PairAtPointer[];

export interface Keywords {
  /** What `$ref` or `$dynamicRef` leads to; the other keywords hold beside it. */
  readonly ref?: Schema;
  /** `integer` is a number that is whole. */
  readonly types?: readonly (JsonType | 'integer')[];
  /** `const` is one of one. */
  readonly enum?: readonly unknown[];
  readonly minimum?: number;
  readonly exclusiveMinimum?: number;
  readonly maximum?: number;
  readonly exclusiveMaximum?: number;
  readonly multipleOf?: number;
  /** In characters. */
  readonly minLength?: number;
  readonly maxLength?: number;
  readonly pattern?: string;
  readonly format?: string;
  readonly properties: ReadonlyMap<string, Schema>;
  readonly required: readonly string[];
  readonly additional?: Schema;
  readonly patternProperties: ReadonlyMap<string, Schema>;
  readonly propertyNames?: Schema;
  readonly minProperties?: number;
  readonly maxProperties?: number;
  readonly dependentRequired: ReadonlyMap<string, readonly string[]>;
  readonly dependentSchemas: ReadonlyMap<string, Schema>;
  readonly items?: Schema;
  readonly prefixItems: readonly Schema[];
  readonly contains?: Schema;
  readonly minContains?: number;
  readonly maxContains?: number;
  readonly minItems?: number;
  readonly maxItems?: number;
  readonly uniqueItems: boolean;
  readonly unevaluatedProperties?: Schema;
  readonly unevaluatedItems?: Schema;
  readonly allOf: readonly Schema[];
  readonly anyOf?: readonly Schema[];
  readonly oneOf?: readonly Schema[];
  readonly not?: Schema;
  readonly if?: Schema;
  readonly then?: Schema;
  readonly else?: Schema;
  readonly readOnly: boolean;
  readonly writeOnly: boolean;
  /** `{ value }` where one is given, because `undefined` is none. */
  readonly default?: { readonly value: unknown };
  readonly examples: readonly unknown[];
  readonly discriminator?: { readonly property: string; readonly names: readonly string[] };
}

/** Every keyword that may be left out, in one order: the engine then sees one kind of object, and reads it fast. */
const ABSENT_KEYWORDS = Object.fromEntries(
  [
    ...['ref', 'types', 'enum', 'minimum', 'exclusiveMinimum', 'maximum', 'exclusiveMaximum', 'multipleOf', 'minLength'],
    ...['maxLength', 'pattern', 'format', 'additional', 'propertyNames', 'minProperties', 'maxProperties', 'items', 'contains'],
    ...['minContains', 'maxContains', 'minItems', 'maxItems', 'unevaluatedProperties', 'unevaluatedItems', 'anyOf', 'oneOf'],
    ...['not', 'if', 'then', 'else', 'default', 'discriminator'],
  ].map((key) => [key, undefined]),
) as Record<Exclude<keyof Keywords, AlwaysPresent>, never>;

/** Those that every schema has. */
type AlwaysPresent = { [K in keyof Keywords]-?: undefined extends Keywords[K] ? never : K }[keyof Keywords];

/** The keywords of a schema that says nothing. */
export const EMPTY_KEYWORDS: Keywords = {
  ...ABSENT_KEYWORDS,
  properties: new Map(),
  required: [],
  patternProperties: new Map(),
  dependentRequired: new Map(),
  dependentSchemas: new Map(),
  prefixItems: [],
  uniqueItems: false,
  allOf: [],
  readOnly: false,
  writeOnly: false,
  examples: [],
};

/** Holds every value. */
export const TRUE_SCHEMA: Schema = { place: { file: '', pointer: '' }, raw: true, keywords: () => true };

/** Holds no value. */
export const FALSE_SCHEMA: Schema = { place: { file: '', pointer: '' }, raw: false, keywords: () => false };

/** Does it say nothing of a value by other schemas that speak of the same value? */
export function hasNoInPlaceApplicators({
  ref,
  allOf,
  anyOf,
  oneOf,
  not,
  if: condition,
  then,
  else: other,
  dependentSchemas,
}: Keywords): boolean {
  const some = ref ?? anyOf ?? oneOf ?? not ?? condition ?? then ?? other;
  return some === undefined && allOf.length === 0 && dependentSchemas.size === 0;
}

/** Is this all that a schema says? Told by its text, where it has one. */
export function isBooleanSchema(schema: Schema, what: boolean): boolean {
  return !(schema.dialect !== undefined && isMapping(schema.raw)) && schema.keywords() === what;
}

const dereferenceCache = new WeakMap<Schema, Schema>();

/** The schema that a chain of references ends at, where nothing else stands beside them. Found once. */
export function dereference(schema: Schema): Schema {
  // Told by the text, of which most need not be read.
  if (isMapping(schema.raw) && !('$ref' in schema.raw) && !('$dynamicRef' in schema.raw)) return schema;
  const known = dereferenceCache.get(schema);
  if (known !== undefined) return known;
  const end = followReferences(schema);
  dereferenceCache.set(schema, end);
  return end;
}

function followReferences(schema: Schema): Schema {
  const seen = new Set<Schema>();
  let at = schema;
  for (;;) {
    if (isMapping(at.raw) && !('$ref' in at.raw) && !('$dynamicRef' in at.raw)) return at;
    if (seen.has(at)) return at;
    seen.add(at);
    const next = at.alone?.() ?? soleReference(at.keywords());
    if (next === undefined) return at;
    at = next;
  }
}

/** What the reference leads to, where nothing stands beside it that changes which values it holds. */
function soleReference(k: Keywords | boolean): Schema | undefined {
  if (typeof k === 'boolean') return undefined;
  for (const key of Object.keys(k) as (keyof Keywords)[]) {
    if (key === 'ref' || ANNOTATIONS.has(key)) continue;
    const value = k[key];
    if (Array.isArray(value) ? value.length > 0 : value instanceof Map ? value.size > 0 : value !== false && value !== undefined)
      return undefined;
  }
  return k.ref;
}

const ANNOTATIONS: ReadonlySet<keyof Keywords> = new Set(['default', 'examples', 'discriminator']);

const ids = new WeakMap<Schema, number>();
let last = 0;

/** A number of its own for each schema, rising in the order in which they are asked. */
export function idOf(schema: Schema): number {
  if (schema.id !== undefined) return schema.id;
  const known = ids.get(schema);
  if (known !== undefined) return known;
  last += 1;
  ids.set(schema, last);
  return last;
}

/** The next number that no schema has. */
export function newId(): number {
  last += 1;
  return last;
}

/** Two schemas, held against each other as text. */
export interface TextPair {
  readonly a: Schema;
  readonly b: Schema;
  /** Where in a value, if nowhere else, the two differ; undefined where more has to be looked at. */
  readonly differingChildren: readonly TextPairChild[] | undefined;
  /** By itself, or by something that it leads to. */
  readonly differs: boolean;
  /** Whether these are part of a request or a response at all is the same of both. */
  readonly steady: boolean;
  /** Those whose texts lead to this one, until it is known whether it differs. */
  readonly dependents: readonly TextPair[] | undefined;
  /** With all that lead to each other through parts; those have to be known. */
  readonly group: PairComponent | undefined;
}

export interface TextPairChild {
  readonly pointer: string;
  readonly to: TextPair;
}

/** Twins that lead to each other, and are alike: whatever is wrong with one of them stands behind all of them. */
export interface PairComponent {
  /** What has to be looked at closer, and other groups, right behind one of them. */
  readonly next: readonly (TextPair | PairComponent)[];
}
