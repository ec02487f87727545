/** Schemas that are unions, or all of their parts, and nothing else, and forms of unions that are closed before they are counted. */
import { declaredNames } from './declared.ts';
import type { Side } from './fits.ts';
import { ANYTHING, type Keywords, NEVER, NO_KEYWORDS, type Schema, target } from './node.ts';
import { twinOf } from './same.ts';
import { isUnsent } from './sides.ts';

export interface Union {
  readonly forms: readonly Schema[];
  /** A value is one of the forms and no other. */
  readonly exclusive: boolean;
}

const unions = new WeakMap<Schema, Union | 'none'>();

/** The forms of a schema that says nothing else of its values. */
export function unionOf(schema: Schema): Union | undefined {
  const known = unions.get(schema) ?? readUnion(target(schema)) ?? 'none';
  unions.set(schema, known);
  return known === 'none' ? undefined : known;
}

function readUnion(schema: Schema): Union | undefined {
  const k = schema.keywords();
  if (typeof k === 'boolean') return undefined;
  const forms = k.oneOf ?? k.anyOf;
  if (forms === undefined || forms.length === 0 || (k.oneOf !== undefined && k.anyOf !== undefined)) return undefined;
  return saysNoMore(k, ['anyOf', 'oneOf']) ? { forms, exclusive: k.oneOf !== undefined } : undefined;
}

const wholes = new WeakMap<Schema, readonly Schema[] | 'none'>();

/** The schemas all of which a value has to fit, where nothing else is said of it. */
export function partsOf(schema: Schema): readonly Schema[] | undefined {
  const known = wholes.get(schema) ?? readParts(target(schema)) ?? 'none';
  wholes.set(schema, known);
  return known === 'none' ? undefined : known;
}

function readParts(schema: Schema): readonly Schema[] | undefined {
  const k = schema.keywords();
  if (typeof k === 'boolean' || k.allOf.length === 0 || !saysNoMore(k, ['ref', 'allOf'])) return undefined;
  return [...(k.ref === undefined ? [] : [k.ref]), ...k.allOf];
}

/** What changes nothing that a schema holds by itself; what is read-only is asked of a property as a whole. */
const SILENT: ReadonlySet<string> = new Set(['default', 'examples', 'discriminator', 'readOnly', 'writeOnly']);

function saysNoMore(k: Keywords, than: readonly string[]): boolean {
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
export function closedForm(form: Schema, beside: ReadonlySet<string>): Schema {
  const own = declaredNames([form]);
  if (own.open || (own.names.size === 0 && own.patterns.length === 0)) return form;
  const names = [...new Set([...own.names, ...beside])].sort();
  const row = closedForms.get(form) ?? new Map<string, Schema>();
  closedForms.set(form, row);
  const key = names.join('\n');
  const known = row.get(key) ?? closed(form, names, own.patterns);
  row.set(key, known);
  return known;
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

/** Plainly no value can be both, each closed: what one needs the other does not declare. */
export function closedApart(a: Schema, b: Schema, beside: ReadonlySet<string>, side: Side): boolean {
  const [x, y] = [needs(a, side), needs(b, side)];
  if (x === undefined || y === undefined) return false;
  return [...x.needed, ...y.needed].some((n) => !beside.has(n) && !(x.names.has(n) && y.names.has(n)));
}

/** What an object needs and declares, where it is closed when it is counted, and can be nothing but an object. */
function needs(
  schema: Schema,
  side: Side,
): { readonly needed: readonly string[]; readonly names: ReadonlySet<string> } | undefined {
  const k = target(schema).keywords();
  if (typeof k === 'boolean' || k.types?.some((t) => t !== 'object') !== false) return undefined;
  const own = declaredNames([schema]);
  if (own.open || own.patterns.length > 0 || own.names.size === 0) return undefined;
  const unsent = (name: string): boolean => {
    const property = k.properties.get(name);
    return property !== undefined && isUnsent(property, side);
  };
  return { needed: k.required.filter((n) => !unsent(n)), names: own.names };
}
