/** Fast, incomplete test that a schema has a value. `false` means unknown. */
import { isMapping, type Mapping } from '../../base/json.ts';
import type { Schema } from '../model/schema.ts';

const inhabitedCache = new WeakMap<Schema, boolean>();

/** Keywords beside which nothing can go wrong that is not looked at here. */
const SIMPLE_KEYWORDS = new Set([
  ...['type', 'nullable', 'properties', 'required', 'additionalProperties', 'items', 'enum'],
  ...['format', 'minLength', 'maxLength', 'minimum', 'maximum', 'maxItems'],
  ...['title', 'description', 'example', 'examples', 'default', 'deprecated', 'externalDocs', 'xml'],
]);

/** At most this many schemas are visited per call. */
const MAX_VISITED = 500;

/**
 * Holds a plain object of plain parts, a list that may be empty, a member of an enumeration, or a value within simple bounds.
 * Where this says no nothing is known. Looks at the text alone, once for each schema that holds some.
 */
export function isObviouslyInhabited(schema: Schema): boolean {
  return inhabitedCache.get(schema) ?? visit(schema, new Set());
}

function visit(schema: Schema, open: Set<Schema>): boolean {
  const done = inhabitedCache.get(schema);
  // What needs itself holds nothing, and what is this large is left to the search.
  if (done !== undefined || open.has(schema) || open.size > MAX_VISITED) return done === true;
  open.add(schema);
  const next = schema.alone?.();
  const answer = next === undefined ? isPlain(schema, open) : visit(next, open);
  // What fails within a circle need not fail when it is asked from elsewhere.
  if (answer || open.size === 1) inhabitedCache.set(schema, answer);
  return answer;
}

function isPlain(schema: Schema, open: Set<Schema>): boolean {
  const { raw } = schema;
  if (!isMapping(raw) || !isPlainText(schema)) return false;
  const { required, properties } = raw;
  if (raw.enum !== undefined) return holdsMember(raw);
  if (!withinBounds(raw)) return false;
  if (!Array.isArray(required)) return true;
  return required.every((name) => isPlainLeaf(properties, String(name)) || holdsPart(schema.part?.(String(name)), open));
}

/** Most parts need nothing else, which their text tells. */
function isPlainLeaf(properties: unknown, name: string): boolean {
  if (!isMapping(properties) || !Object.hasOwn(properties, name)) return false;
  const raw = properties[name];
  return isMapping(raw) && saysPlainly(raw) && raw.enum === undefined && !Array.isArray(raw.required) && withinBounds(raw);
}

/** Does it say nothing but what it says of its type, its parts and their bounds? */
export function isPlainText({ raw, dialect }: Schema): boolean {
  return dialect !== undefined && isMapping(raw) && saysPlainly(raw);
}

function saysPlainly(raw: Mapping): boolean {
  for (const key in raw) if (!SIMPLE_KEYWORDS.has(key) && !key.startsWith('x-')) return false;
  return true;
}

const OTHER = ['enum', 'items', 'additionalProperties'];

/** Is it an object of named properties, of which nothing else is said but in words? */
export function isSimpleObject(schema: Schema): boolean {
  const { raw } = schema;
  return (
    isMapping(raw) && raw.type === 'object' && 'properties' in raw && OTHER.every((key) => !(key in raw)) && isPlainText(schema)
  );
}

const SCALARS: readonly unknown[] = ['string', 'integer', 'number', 'boolean', 'null'];

/** Does it say nothing but what it says of scalars, or of a list of values? */
export function isSimpleScalar(schema: Schema): boolean {
  const { raw } = schema;
  if (!isMapping(raw) || !isPlainText(schema)) return false;
  if ('properties' in raw || 'required' in raw || 'items' in raw || 'additionalProperties' in raw) return false;
  const types: readonly unknown[] = Array.isArray(raw.type) ? raw.type : [raw.type];
  return types.every((t) => SCALARS.includes(t)) || (raw.type === undefined && 'enum' in raw);
}

function holdsPart(part: Schema | undefined, open: Set<Schema>): boolean {
  return part !== undefined && visit(part, open);
}

const BOUNDS = ['format', 'minLength', 'maxLength', 'minimum', 'maximum', 'required'];

function holdsMember(raw: Mapping): boolean {
  const members: readonly unknown[] = Array.isArray(raw.enum) ? raw.enum : [];
  return (
    BOUNDS.every((key) => !(key in raw)) && members.some((v) => typeof v !== 'object' && (raw.type ?? typeof v) === typeof v)
  );
}

/** A format may say more than bounds leave. */
function withinBounds({ format, minLength, maxLength, minimum, maximum }: Mapping): boolean {
  if (format === undefined) return isWithin(minLength, maxLength) && isWithin(minimum, maximum);
  return minLength === undefined && maxLength === undefined && minimum === undefined && maximum === undefined;
}

function isWithin(least: unknown, most: unknown): boolean {
  return typeof least !== 'number' || typeof most !== 'number' || Math.ceil(least) <= Math.floor(most);
}
