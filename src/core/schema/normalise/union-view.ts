/** Schemas that are unions, or all of their parts, and nothing else, and forms of unions that are closed before they are counted. */
import { isMapping } from '../../base/json.ts';
import { twinOf } from '../equality/equal-pairs.ts';
import { isPlainText } from '../equality/quick-nonempty.ts';
import { ANYTHING, type Keywords, NEVER, NO_KEYWORDS, type Schema, saysOnly, target } from '../model/schema.ts';
import { type Declared, declaredBeside, declaredBy, declaredHere } from './declared-names.ts';

export interface Union {
  readonly forms: readonly Schema[];
  /** A value is one of the forms and no other. */
  readonly exclusive: boolean;
  /** What is declared beside the forms. */
  readonly beside: Declared;
  /** The same as a schema, which says nothing of values; undefined where nothing is declared. */
  readonly declaring: Schema | undefined;
}

const unions = new WeakMap<Schema, Union | 'none'>();

/** The forms of a schema that says nothing else of its values. */
export function unionOf(schema: Schema): Union | undefined {
  // Told by the text, of which most need not be read.
  if (isPlainText(schema)) return undefined;
  const known = unions.get(schema) ?? readUnion(target(schema)) ?? 'none';
  unions.set(schema, known);
  return known === 'none' ? undefined : known;
}

function readUnion(schema: Schema): Union | undefined {
  const k = schema.keywords();
  if (typeof k === 'boolean') return undefined;
  const forms = k.oneOf ?? k.anyOf;
  if (forms === undefined || forms.length === 0 || (k.oneOf !== undefined && k.anyOf !== undefined)) return undefined;
  if (!saysNoMore(k, ['anyOf', 'oneOf', 'properties', 'patternProperties', 'additional'])) return undefined;
  const own = [...k.properties.values(), ...k.patternProperties.values(), ...(k.additional === undefined ? [] : [k.additional])];
  if (own.some((s) => !saysOnly(s, true))) return undefined;
  return { forms, exclusive: k.oneOf !== undefined, beside: declaredHere(k), declaring: declaring(schema, k) };
}

function declaring({ place }: Schema, { properties, patternProperties, additional }: Keywords): Schema | undefined {
  if (properties.size + patternProperties.size === 0 && additional === undefined) return undefined;
  const keywords: Keywords = {
    ...NO_KEYWORDS,
    properties,
    patternProperties,
    ...(additional === undefined ? {} : { additional }),
  };
  return { place, raw: undefined, keywords: () => keywords };
}

const wholes = new WeakMap<Schema, readonly Schema[] | 'none'>();

/** The schemas all of which a value has to fit, where nothing else is said of it. */
export function partsOf(schema: Schema): readonly Schema[] | undefined {
  if (isPlainText(schema)) return undefined;
  const known = wholes.get(schema) ?? readParts(target(schema)) ?? 'none';
  wholes.set(schema, known);
  return known === 'none' ? undefined : known;
}

function readParts(schema: Schema): readonly Schema[] | undefined {
  const k = schema.keywords();
  if (typeof k === 'boolean') return undefined;
  const parts = [...(k.ref === undefined ? [] : [k.ref]), ...k.allOf];
  if (k.allOf.length > 0 && saysNoMore(k, ['ref', 'allOf'])) return parts;
  // What nothing else looks at depends on all parts together.
  if (k.unevaluatedProperties !== undefined || k.unevaluatedItems !== undefined) return undefined;
  const unions = [...aside(schema, k, 'anyOf'), ...aside(schema, k, 'oneOf')];
  if (unions.length === 0 || (unions.length === 1 && unionOf(schema) !== undefined)) return undefined;
  const rest = { ...k, ref: undefined, allOf: [], anyOf: undefined, oneOf: undefined } as unknown as Keywords;
  return saysNoMore(rest, []) ? [...parts, ...unions] : [besideUnions(schema, rest), ...parts, ...unions];
}

export interface Within {
  readonly union: Union;
  /** The union alone, without what stands beside it. */
  readonly alone: Schema;
  readonly beside: readonly Schema[];
}

/** The union that a schema is, or has as its only one beside other parts. */
export function unionWithin(schema: Schema): Within | undefined {
  const whole = unionOf(schema);
  if (whole !== undefined) return { union: whole, alone: schema, beside: [] };
  const parts = partsOf(schema) ?? [];
  const [alone, ...more] = parts.filter((p) => unionOf(p) !== undefined);
  const union = alone === undefined ? undefined : unionOf(alone);
  if (alone === undefined || union === undefined || more.length > 0) return undefined;
  return { union, alone, beside: parts.filter((p) => p !== alone) };
}

/** The forms of a schema that says something besides, with what is declared beside them. */
function aside(schema: Schema, k: Keywords, union: 'anyOf' | 'oneOf'): readonly Schema[] {
  const forms = k[union];
  return forms === undefined ? [] : [formsAlone(schema, union, forms, declaredBeside([k], 'receiver'))];
}

const alone = new WeakSet<Schema>();

/** Are these forms by themselves, whatever stands beside them told? */
export function isAlone(schema: Schema): boolean {
  return alone.has(schema);
}

/** Forms by themselves, with what is declared beside them. */
export function formsAlone(schema: Schema, union: 'anyOf' | 'oneOf', forms: readonly Schema[], beside: Declared): Schema {
  const { names, patterns, open } = beside;
  const keywords: Keywords = {
    ...NO_KEYWORDS,
    properties: new Map([...names].map((name) => [name, ANYTHING])),
    patternProperties: new Map(patterns.map((pattern) => [pattern, ANYTHING])),
    ...(open ? { additional: ANYTHING } : {}),
    [union]: forms,
  };
  const raw = { [union]: forms.map((f) => f.raw), beside: [...names].sort(), patterns: [...patterns].sort(), open };
  const made: Schema = { place: schema.place, raw, keywords: () => keywords };
  alone.add(made);
  // What is declared beside the forms stands in another part.
  unions.set(made, { forms, exclusive: union === 'oneOf', beside, declaring: undefined });
  return made;
}

/** What a schema says besides its references, parts and forms. */
function besideUnions(schema: Schema, keywords: Keywords): Schema {
  const raw = isMapping(schema.raw) ? Object.entries(schema.raw).filter(([key]) => !COMBINED.has(key)) : [];
  const { place, dialect } = schema;
  return { place, raw: Object.fromEntries(raw), ...(dialect === undefined ? {} : { dialect }), keywords: () => keywords };
}

const COMBINED: ReadonlySet<string> = new Set(['$ref', '$dynamicRef', 'allOf', 'anyOf', 'oneOf']);

/** What changes nothing that a schema holds by itself; what is read-only is asked of a property as a whole. */
const SILENT: ReadonlySet<string> = new Set(['default', 'examples', 'discriminator', 'readOnly', 'writeOnly']);

export function saysNoMore(k: Keywords, than: readonly string[]): boolean {
  return Object.entries(k).every(([key, value]) => SILENT.has(key) || than.includes(key) || !saysSomething(value));
}

function saysSomething(value: unknown): boolean {
  if (Array.isArray(value)) return value.length > 0;
  return value instanceof Map ? value.size > 0 : value !== undefined && value !== false;
}

/** The forms that were closed. */
const bases = new WeakMap<Schema, Schema>();
const closedForms = new WeakMap<Schema, Map<string, Schema>>();

/**
 * A form that holds no other names than those that it or what stands beside it declares; the form itself where it says
 * something of all names, or of none.
 */
export function closedForm(form: Schema, beside: Declared): Schema {
  const own = declaredBy(form);
  if (own.open || beside.open || (own.names.size === 0 && own.patterns.length === 0)) return form;
  const names = [...new Set([...own.names, ...beside.names])].sort();
  const patterns = [...new Set([...own.patterns, ...beside.patterns])].sort();
  const row = closedForms.get(form) ?? new Map<string, Schema>();
  closedForms.set(form, row);
  const key = [...names, '', ...patterns].join('\n');
  const known = row.get(key) ?? closed(form, names, patterns);
  row.set(key, known);
  return known;
}

const openForms = new WeakMap<Schema, Schema>();

/** A form as a sender means it, for whom names that nobody declares never come, but where anything may come beside it. */
export function meantForm(form: Schema, beside: Declared): Schema {
  if (!beside.open) return closedForm(form, beside);
  const keywords: Keywords = { ...NO_KEYWORDS, additional: ANYTHING, allOf: [form] };
  const made: Schema = openForms.get(form) ?? { place: form.place, raw: { open: form.raw }, keywords: () => keywords };
  openForms.set(form, made);
  return made;
}

function closed(form: Schema, names: readonly string[], patterns: readonly string[]): Schema {
  const keywords: Keywords = {
    ...NO_KEYWORDS,
    properties: new Map(names.map((name) => [name, ANYTHING])),
    patternProperties: new Map(patterns.map((pattern) => [pattern, ANYTHING])),
    additional: NEVER,
    allOf: [form],
  };
  const made: Schema = { place: form.place, raw: { closed: names, patterns, allOf: [form.raw] }, keywords: () => keywords };
  bases.set(made, form);
  return made;
}

/**
 * Are two forms written the same, whatever changed behind the references of their parts? Then they exclude others as they
 * did: what such a change does is told where it stands, and not of every union that it can be reached through.
 */
export function sameForm(x: Schema, y: Schema): boolean {
  const twin = twinOf(target(bases.get(x) ?? x), target(bases.get(y) ?? y));
  return !twin.differs || twin.parts !== undefined;
}
