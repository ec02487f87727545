/** From the schemas of all editions to one set of keywords. A schema is read when it is asked for, and once. */
import { isMapping, kindOf, type Mapping } from '../../base/json.ts';
import { appendPointer, type Place } from '../../base/place.ts';
import {
  dereference,
  EMPTY_KEYWORDS,
  type Keywords,
  type Likeness,
  newId,
  type Schema,
  type SchemaPair,
} from '../../schema/model/schema.ts';
import {
  type At,
  addFlaw,
  child,
  listAt,
  lookup,
  membersAt,
  placeOf,
  type Reader,
  referencePairs,
} from '../document/document.ts';
import { reportMisspeltKeywords } from '../document/near-keys.ts';
import { breakCycles, type CyclicSchema, type Unrolling } from './cycles.ts';
import { isNumeric, numbersOf } from './number-keywords.ts';
import { discriminatorOf, requiredOf, textAt, typesOf } from './simple-keywords.ts';
import { likeness } from './text-likeness.ts';

/** The schema at a place; undefined where nothing stands. The same place gives the same node, cycles included. */
export function schemaAt(reader: Reader, at: At): Schema | undefined {
  if (at.value === undefined) return undefined;
  // A mapping is told by itself; an alias to one is the same schema.
  const key = isMapping(at.value) ? at.value : `${at.file}#${at.pointer}`;
  const known = reader.nodes.get(key);
  if (known !== undefined) return known;
  const made = new ReadSchema(reader, at);
  reader.nodes.set(key, made);
  return made;
}

/** A class, because a document has tens of thousands of these, and most are never asked what they say. */
class ReadSchema implements CyclicSchema, ReadFrom {
  readonly id = newId();
  readonly raw: unknown;
  readonly dialect: string;
  twins: Schema['twins'] = undefined;
  circle: CyclicSchema['circle'];
  private leads: { readonly to: Schema | undefined } | undefined = undefined;
  private written: Keywords | boolean | undefined = undefined;
  private read: Keywords | boolean | undefined = undefined;

  constructor(
    readonly reader: Reader,
    readonly at: At,
    readonly turn?: Unrolling,
  ) {
    this.raw = at.value;
    this.dialect = reader.dialect;
    this.circle = turn?.first.circle;
  }

  get place(): Place {
    return placeOf(this.at);
  }

  unrolledAfter(passed: Unrolling['passed']): Schema {
    return new ReadSchema(this.reader, this.at, { first: this, passed });
  }

  own(): Keywords | boolean {
    this.written ??= this.turn?.first.own() ?? keywordsAt(this.reader, this.at);
    return this.written;
  }

  keywords(): Keywords | boolean {
    this.read ??= breakCycles(this);
    return this.read;
  }

  part(name?: string): Schema | undefined {
    if (typeof this.read === 'object' && name !== undefined) return this.read.properties.get(name);
    return schemaAt(this.reader, name === undefined ? child(this.at, 'items') : child(child(this.at, 'properties'), name));
  }

  alone(): Schema | undefined {
    this.leads ??= { to: soleReferenceAt(this.reader, this.at) };
    return this.leads.to;
  }

  like(other: Schema): Likeness | undefined {
    if (!(other instanceof ReadSchema)) return undefined;
    if (this.dialect !== other.dialect) return 'unlike';
    return likeness(this.raw, other.raw, (a, b, keys) => bothAt(this, a, other, b, keys));
  }
}

/** What stands behind these keys of two texts that are the same; the same references lead to the same two. */
function bothAt(a: ReadFrom, x: Mapping, b: ReadFrom, y: Mapping, keys: readonly (string | number)[]): SchemaPair {
  const [from, to] = [soleReferenceIn(a.reader, x), soleReferenceIn(b.reader, y)];
  if (from === undefined || to === undefined)
    return { a: schemaAt(a.reader, atKeys(a.at, x, keys)) as Schema, b: schemaAt(b.reader, atKeys(b.at, y, keys)) as Schema };
  const row = referencePairs(a.reader, a.at.file, b.reader, b.at.file);
  const reference = from === to ? from : `${from}\n${to}`;
  const known = row.get(reference);
  if (known !== undefined) return known;
  const found = { a: dereferencedAt(a.reader, atKeys(a.at, x, keys)), b: dereferencedAt(b.reader, atKeys(b.at, y, keys)) };
  // Where it leads nowhere it stands for itself, which is another schema at each place.
  if (found.a.raw !== x && found.b.raw !== y) row.set(reference, found);
  return found;
}

interface ReadFrom {
  readonly reader: Reader;
  readonly at: At;
}

function atKeys({ file, pointer }: At, value: unknown, keys: readonly (string | number)[]): At {
  return { value, file, pointer: pointer + appendPointer('', ...keys) };
}

/** Where a chain of references ends: what a reference leads to says whether it is sent at all. */
function dereferencedAt(reader: Reader, at: At): Schema {
  return dereference(soleReferenceAt(reader, at) ?? (schemaAt(reader, at) as Schema));
}

/** What a reference leads to that stands alone. */
function soleReferenceAt(reader: Reader, at: At): Schema | undefined {
  const reference = soleReferenceIn(reader, at.value);
  const found = reference === undefined ? undefined : lookup(reader, reference, at);
  return found === undefined ? undefined : schemaAt(reader, found);
}

/** A reference beside which nothing counts. */
function soleReferenceIn(reader: Reader, value: unknown): string | undefined {
  if (!isMapping(value) || typeof value.$ref !== 'string') return undefined;
  return reader.dialect === '3.1' && Object.keys(value).length > 1 ? undefined : value.$ref;
}

function keywordsAt(reader: Reader, at: At): Keywords | boolean {
  const { value } = at;
  if (typeof value === 'boolean') return value;
  if (!isMapping(value)) {
    addFlaw(reader, at, `expected a schema, found ${kindOf(value)}`);
    return true;
  }
  const reference = value.$ref ?? (reader.dialect === '3.1' ? value.$dynamicRef : undefined);
  if (typeof reference === 'string') {
    const found = lookup(reader, reference, at);
    const ref = found === undefined ? undefined : schemaAt(reader, found);
    // Beside $ref nothing counts before 3.1 (3.0.3, Reference Object).
    if (reader.dialect !== '3.1') return ref === undefined ? true : { ...EMPTY_KEYWORDS, ref };
    return { ...plainKeywords(reader, at as At<Mapping>), ...(ref === undefined ? {} : { ref }) };
  }
  return plainKeywords(reader, at as At<Mapping>);
}

/** Keywords that are one schema each, by their names in the document. */
const SINGLE = {
  additionalProperties: 'additional',
  propertyNames: 'propertyNames',
  contains: 'contains',
  unevaluatedProperties: 'unevaluatedProperties',
  unevaluatedItems: 'unevaluatedItems',
  not: 'not',
  if: 'if',
  // biome-ignore lint/suspicious/noThenProperty: the keyword of JSON Schema
  then: 'then',
  else: 'else',
} as const;

type Writable = { -readonly [K in keyof Keywords]: Keywords[K] };

/** Only what is written is looked at: there are many schemas, and most say little. */
function plainKeywords(reader: Reader, at: At<Mapping>): Keywords {
  reportMisspeltKeywords(reader, at);
  const { value } = at;
  const out: Writable = { ...EMPTY_KEYWORDS };
  const put = <K extends keyof Keywords>(key: K, made: Keywords[K] | undefined): void => {
    if (made !== undefined) out[key] = made;
  };
  if ('type' in value) put('types', typesOf(reader, at));
  if (Array.isArray(value.enum)) out.enum = value.enum;
  if ('const' in value && reader.dialect === '3.1') out.enum = [value.const];
  const rare = uncommonKeywords(value);
  if (rare.numbers) Object.assign(out, numbersOf(reader, at));
  if ('pattern' in value) put('pattern', textAt(reader, at, 'pattern'));
  if ('format' in value) put('format', textAt(reader, at, 'format'));
  if ('properties' in value) out.properties = schemasAt(reader, child(at, 'properties'), 'a mapping of properties');
  if ('required' in value) out.required = requiredOf(reader, at);
  if ('patternProperties' in value)
    out.patternProperties = schemasAt(reader, child(at, 'patternProperties'), 'a mapping of patterns');
  if ('dependentRequired' in value || 'dependentSchemas' in value) Object.assign(out, dependentOf(reader, at));
  if ('items' in value || 'prefixItems' in value) Object.assign(out, itemsOf(reader, at));
  for (const name of rare.single) put(SINGLE[name], schemaAt(reader, child(at, name)));
  if ('allOf' in value) out.allOf = schemaList(reader, child(at, 'allOf'), onceEach) ?? [];
  if ('anyOf' in value) put('anyOf', schemaList(reader, child(at, 'anyOf')));
  if ('oneOf' in value) put('oneOf', schemaList(reader, child(at, 'oneOf')));
  if (value.uniqueItems === true) out.uniqueItems = true;
  if (value.readOnly === true) out.readOnly = true;
  if (value.writeOnly === true) out.writeOnly = true;
  if ('default' in value) out.default = { value: value.default };
  if ('example' in value) out.examples = [value.example];
  if (Array.isArray(value.examples)) out.examples = [...out.examples, ...value.examples];
  if ('discriminator' in value) put('discriminator', discriminatorOf(value));
  return out;
}

/** What few schemas say, in one walk over what is written. */
function uncommonKeywords(value: Mapping): { readonly numbers: boolean; readonly single: readonly (keyof typeof SINGLE)[] } {
  const single: (keyof typeof SINGLE)[] = [];
  let numbers = false;
  for (const key in value) {
    if (isNumeric(key)) numbers = true;
    else if (Object.hasOwn(SINGLE, key)) single.push(key as keyof typeof SINGLE);
  }
  return { numbers, single };
}

function schemasAt(reader: Reader, at: At, what: string): ReadonlyMap<string, Schema> {
  if (at.value === undefined) return EMPTY_KEYWORDS.properties;
  if (!isMapping(at.value)) {
    addFlaw(reader, at, `expected ${what}, found ${kindOf(at.value)}`);
    return EMPTY_KEYWORDS.properties;
  }
  const out = new Map<string, Schema>();
  for (const key of Object.keys(at.value)) {
    const schema = schemaAt(reader, child(at, key));
    if (schema !== undefined) out.set(key, schema);
  }
  return out;
}

/** Without references that were there before: what is said twice holds once. */
function onceEach(items: readonly At[]): readonly At[] {
  const seen = new Set<string>();
  return items.filter(({ value }) => {
    if (!isMapping(value) || typeof value.$ref !== 'string') return true;
    const isAlone = Object.keys(value).every(
      (key) => key === '$ref' || key === 'description' || key === 'summary' || key === 'title',
    );
    const isNew = !isAlone || !seen.has(value.$ref);
    if (isAlone) seen.add(value.$ref);
    return isNew;
  });
}

function schemaList(
  reader: Reader,
  at: At,
  of: (items: readonly At[]) => readonly At[] = (items) => items,
): readonly Schema[] | undefined {
  if (at.value === undefined) return undefined;
  return of(listAt(reader, at, 'a list of schemas')).flatMap((item) => schemaAt(reader, item) ?? []);
}

function dependentOf(reader: Reader, at: At<Mapping>): Partial<Keywords> {
  const names = new Map<string, readonly string[]>();
  for (const [name, item] of membersAt(reader, child(at, 'dependentRequired'), 'a mapping of property names')) {
    names.set(
      name,
      listAt(reader, item, 'a list of property names').flatMap((i) => (typeof i.value === 'string' ? [i.value] : [])),
    );
  }
  const schemas = schemasAt(reader, child(at, 'dependentSchemas'), 'a mapping of schemas');
  return { ...(names.size > 0 ? { dependentRequired: names } : {}), ...(schemas.size > 0 ? { dependentSchemas: schemas } : {}) };
}

function itemsOf(reader: Reader, at: At<Mapping>): Partial<Keywords> {
  const { items, prefixItems } = at.value;
  if (Array.isArray(items)) {
    // A list of items was a tuple before 2020-12.
    const list = schemaList(reader, child(at, 'items')) ?? [];
    const rest = schemaAt(reader, child(at, 'additionalItems'));
    return { prefixItems: list, ...(rest === undefined ? {} : { items: rest }) };
  }
  const rest = schemaAt(reader, child(at, 'items'));
  const list = prefixItems === undefined ? [] : (schemaList(reader, child(at, 'prefixItems')) ?? []);
  return { ...(rest === undefined ? {} : { items: rest }), ...(list.length > 0 ? { prefixItems: list } : {}) };
}
