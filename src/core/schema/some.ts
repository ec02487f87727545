/** Schemas of which it is seen at once that they hold some value. */
import { isMapping, type Mapping } from '../json.ts';
import type { Schema } from './node.ts';

const known = new WeakMap<Schema, boolean>();

/** Keywords beside which nothing can go wrong that is not looked at here. */
const PLAIN = new Set([
  ...['type', 'nullable', 'properties', 'required', 'additionalProperties', 'items', 'enum'],
  ...['format', 'minLength', 'maxLength', 'minimum', 'maximum', 'maxItems'],
  ...['title', 'description', 'example', 'examples', 'default', 'deprecated', 'externalDocs', 'xml'],
]);

/** So many schemas are looked at for one. */
const MOST = 500;

/**
 * Holds a plain object of plain parts, a list that may be empty, a member of an enumeration, or a value within simple bounds.
 * Where this says no nothing is known. Looks at the text alone, once for each schema that holds some.
 */
export function holdsSome(schema: Schema): boolean {
  return looked(schema, new Set());
}

function looked(schema: Schema, open: Set<Schema>): boolean {
  const done = known.get(schema);
  // What needs itself holds nothing, and what is this large is left to the search.
  if (done !== undefined || open.has(schema) || open.size > MOST) return done === true;
  open.add(schema);
  const next = schema.alone?.();
  const answer = next === undefined ? isPlain(schema, open) : looked(next, open);
  // What fails within a circle need not fail when it is asked from elsewhere.
  if (answer || open.size === 1) known.set(schema, answer);
  return answer;
}

function isPlain(schema: Schema, open: Set<Schema>): boolean {
  const { raw } = schema;
  if (!isMapping(raw) || !isPlainText(schema)) return false;
  const { required } = raw;
  if (raw.enum !== undefined) return holdsMember(raw);
  if (!withinBounds(raw)) return false;
  return !Array.isArray(required) || required.every((name) => holdsPart(schema.part?.(String(name)), open));
}

/** Does it say nothing but what it says of its type, its parts and their bounds? */
export function isPlainText({ raw, dialect }: Schema): boolean {
  if (dialect === undefined || !isMapping(raw)) return false;
  for (const key in raw) if (!PLAIN.has(key) && !key.startsWith('x-')) return false;
  return true;
}

function holdsPart(part: Schema | undefined, open: Set<Schema>): boolean {
  return part !== undefined && looked(part, open);
}

const BOUNDS = ['format', 'minLength', 'maxLength', 'minimum', 'maximum', 'required'];

function holdsMember(raw: Mapping): boolean {
  const members: readonly unknown[] = Array.isArray(raw.enum) ? raw.enum : [];
  return (
    BOUNDS.every((key) => !(key in raw)) && members.some((v) => typeof v !== 'object' && (raw.type ?? typeof v) === typeof v)
  );
}

/** A format may say more than bounds leave. */
function withinBounds(raw: Mapping): boolean {
  const [least, most, low, high] = [raw.minLength, raw.maxLength, raw.minimum, raw.maximum];
  if (raw.format !== undefined) return [least, most, low, high].every((n) => n === undefined);
  const within = (a: unknown, b: unknown): boolean =>
    typeof a !== 'number' || typeof b !== 'number' || Math.ceil(a) <= Math.floor(b);
  return within(least, most) && within(low, high);
}
