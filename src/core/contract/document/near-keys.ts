/** Keys that are nearly one that means something. */
import type { Mapping } from '../../base/json.ts';
import { suggest } from '../../base/nearest-word.ts';
import { type At, addFlaw, child, type Reader } from './document.ts';

/** Keywords that are whole numbers of 0 or more, and those that are any number. */
export const COUNTS = [
  'minLength',
  'maxLength',
  'minItems',
  'maxItems',
  'minProperties',
  'maxProperties',
  'minContains',
  'maxContains',
] as const;
export const BOUNDS = ['minimum', 'maximum', 'exclusiveMinimum', 'exclusiveMaximum', 'multipleOf'] as const;

const SCHEMA_KEYS = [
  '$ref',
  '$id',
  '$anchor',
  '$dynamicRef',
  '$dynamicAnchor',
  '$defs',
  '$comment',
  '$schema',
  'type',
  'enum',
  'const',
  'title',
  'description',
  'format',
  'pattern',
  'properties',
  'required',
  'additionalProperties',
  'patternProperties',
  'propertyNames',
  'dependentRequired',
  'dependentSchemas',
  'items',
  'prefixItems',
  'additionalItems',
  'contains',
  'uniqueItems',
  'unevaluatedProperties',
  'unevaluatedItems',
  'allOf',
  'anyOf',
  'oneOf',
  'not',
  'if',
  'then',
  'else',
  'readOnly',
  'writeOnly',
  'default',
  'example',
  'examples',
  'deprecated',
  'nullable',
  'discriminator',
  'xml',
  'externalDocs',
  'contentEncoding',
  'contentMediaType',
  'contentSchema',
  'definitions',
  'dependencies',
  'id',
  'collectionFormat',
  'allowEmptyValue',
  'name',
  'in',
  'style',
  'explode',
  ...COUNTS,
  ...BOUNDS,
] as const;
const KNOWN_KEYS: ReadonlySet<string> = new Set(SCHEMA_KEYS);

export function reportMisspeltKeywords(reader: Reader, at: At<Mapping>): void {
  reportNearMisses(reader, at, SCHEMA_KEYS, KNOWN_KEYS);
}

/** Notes keys that are nearly one of the known ones; all other unknown keys are left alone. */
export function reportNearMisses(reader: Reader, at: At<Mapping>, keys: readonly string[], known: ReadonlySet<string>): void {
  for (const key of Object.keys(at.value)) {
    if (known.has(key) || key.startsWith('x-')) continue;
    const near = misspelt(key, keys);
    if (near !== undefined && !(near in at.value))
      addFlaw(reader, child(at, key), `"${key}" means nothing here; did you mean "${near}"?`, 'misspelt');
  }
}

/** Nearer than a likeness: another case, or one or two letters of a longer word. */
function misspelt(key: string, known: readonly string[]): string | undefined {
  const near = suggest(key, known);
  if (near === undefined || Math.abs(near.length - key.length) > 2 || key.length < 4) return undefined;
  const letters = (text: string): string => [...text.toLowerCase()].sort().join('');
  const [a, b] = [letters(key), letters(near)];
  const shared = [...new Set(a)].filter((c) => b.includes(c)).length;
  return shared >= new Set(b).size - 1 ? near : undefined;
}
