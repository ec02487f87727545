/** Views of a schema as a pure union or a pure conjunction, and branches that are closed before they are counted. */

import { isMapping } from '../../base/json.ts';
import { KeyedMemo } from '../../base/memo.ts';
import { compareText } from '../equality/equal-pairs.ts';
import { isPlainText } from '../equality/quick-nonempty.ts';
import {
  dereference,
  EMPTY_KEYWORDS,
  FALSE_SCHEMA,
  isBooleanSchema,
  type Keywords,
  type Schema,
  TRUE_SCHEMA,
} from '../model/schema.ts';
import { type DeclaredNames, declaredNamesOf, ownNames, siblingNames } from './declared-names.ts';

export interface Union {
  readonly forms: readonly Schema[];
  /** A value is one of the forms and no other. */
  readonly exclusive: boolean;
  /** What is declared beside the forms. */
  readonly beside: DeclaredNames;
  /** The same as a schema, which says nothing of values; undefined where nothing is declared. */
  readonly declaring: Schema | undefined;
}

const unionCache = new WeakMap<Schema, Union | 'none'>();

/** The forms of a schema that says nothing else of its values. */
export function asUnion(schema: Schema): Union | undefined {
  // Told by the text, of which most need not be read.
  if (isPlainText(schema)) return undefined;
  const known = unionCache.get(schema) ?? toUnion(dereference(schema)) ?? 'none';
  unionCache.set(schema, known);
  return known === 'none' ? undefined : known;
}

function toUnion(schema: Schema): Union | undefined {
  const k = schema.keywords();
  if (typeof k === 'boolean') return undefined;
  const forms = k.oneOf ?? k.anyOf;
  if (forms === undefined || forms.length === 0 || (k.oneOf !== undefined && k.anyOf !== undefined)) return undefined;
  if (!hasOnlyKeywords(k, ['anyOf', 'oneOf', 'properties', 'patternProperties', 'additional'])) return undefined;
  const own = [...k.properties.values(), ...k.patternProperties.values(), ...(k.additional === undefined ? [] : [k.additional])];
  if (own.some((s) => !isBooleanSchema(s, true))) return undefined;
  return { forms, exclusive: k.oneOf !== undefined, beside: ownNames(k), declaring: declaring(schema, k) };
}

function declaring({ place }: Schema, { properties, patternProperties, additional }: Keywords): Schema | undefined {
  if (properties.size + patternProperties.size === 0 && additional === undefined) return undefined;
  const keywords: Keywords = {
    ...EMPTY_KEYWORDS,
    properties,
    patternProperties,
    ...(additional === undefined ? {} : { additional }),
  };
  return { place, raw: undefined, keywords: () => keywords };
}

const conjunctionCache = new WeakMap<Schema, readonly Schema[] | 'none'>();

/** The schemas all of which a value has to fit, where nothing else is said of it. */
export function asConjunction(schema: Schema): readonly Schema[] | undefined {
  if (isPlainText(schema)) return undefined;
  const known = conjunctionCache.get(schema) ?? toConjunction(dereference(schema)) ?? 'none';
  conjunctionCache.set(schema, known);
  return known === 'none' ? undefined : known;
}

function toConjunction(schema: Schema): readonly Schema[] | undefined {
  const k = schema.keywords();
  if (typeof k === 'boolean') return undefined;
  const parts = [...(k.ref === undefined ? [] : [k.ref]), ...k.allOf];
  if (k.allOf.length > 0 && hasOnlyKeywords(k, ['ref', 'allOf'])) return parts;
  // What nothing else looks at depends on all parts together.
  if (k.unevaluatedProperties !== undefined || k.unevaluatedItems !== undefined) return undefined;
  const unions = [...unionConjunct(schema, k, 'anyOf'), ...unionConjunct(schema, k, 'oneOf')];
  if (unions.length === 0 || (unions.length === 1 && asUnion(schema) !== undefined)) return undefined;
  const rest = { ...k, ref: undefined, allOf: [], anyOf: undefined, oneOf: undefined } as unknown as Keywords;
  return hasOnlyKeywords(rest, []) ? [...parts, ...unions] : [withoutUnions(schema, rest), ...parts, ...unions];
}

export interface EmbeddedUnion {
  readonly union: Union;
  /** The union alone, without what stands beside it. */
  readonly alone: Schema;
  readonly beside: readonly Schema[];
}

/** The union that a schema is, or has as its only one beside other parts. */
export function findUnion(schema: Schema): EmbeddedUnion | undefined {
  const whole = asUnion(schema);
  if (whole !== undefined) return { union: whole, alone: schema, beside: [] };
  const parts = asConjunction(schema) ?? [];
  const [alone, ...more] = parts.filter((p) => asUnion(p) !== undefined);
  const union = alone === undefined ? undefined : asUnion(alone);
  if (alone === undefined || union === undefined || more.length > 0) return undefined;
  return { union, alone, beside: parts.filter((p) => p !== alone) };
}

/** The forms of a schema that says something besides, with what is declared beside them. */
function unionConjunct(schema: Schema, k: Keywords, union: 'anyOf' | 'oneOf'): readonly Schema[] {
  const forms = k[union];
  return forms === undefined ? [] : [scopedUnion(schema, union, forms, siblingNames([k], 'consumer'))];
}

const scopedUnions = new WeakSet<Schema>();

/** Are these forms by themselves, whatever stands beside them told? */
export function isScopedUnion(schema: Schema): boolean {
  return scopedUnions.has(schema);
}

/** Forms by themselves, with what is declared beside them. */
export function scopedUnion(schema: Schema, union: 'anyOf' | 'oneOf', forms: readonly Schema[], beside: DeclaredNames): Schema {
  const { names, patterns, allowsOthers } = beside;
  const keywords: Keywords = {
    ...EMPTY_KEYWORDS,
    properties: new Map([...names].map((name) => [name, TRUE_SCHEMA])),
    patternProperties: new Map(patterns.map((pattern) => [pattern, TRUE_SCHEMA])),
    ...(allowsOthers ? { additional: TRUE_SCHEMA } : {}),
    [union]: forms,
  };
  const raw = { [union]: forms.map((f) => f.raw), beside: [...names].sort(), patterns: [...patterns].sort(), open: allowsOthers };
  const made: Schema = { place: schema.place, raw, keywords: () => keywords };
  scopedUnions.add(made);
  // What is declared beside the forms stands in another part.
  unionCache.set(made, { forms, exclusive: union === 'oneOf', beside, declaring: undefined });
  return made;
}

/** What a schema says besides its references, parts and forms. */
function withoutUnions(schema: Schema, keywords: Keywords): Schema {
  const raw = isMapping(schema.raw) ? Object.entries(schema.raw).filter(([key]) => !IN_PLACE.has(key)) : [];
  const { place, dialect } = schema;
  return { place, raw: Object.fromEntries(raw), ...(dialect === undefined ? {} : { dialect }), keywords: () => keywords };
}

const IN_PLACE: ReadonlySet<string> = new Set(['$ref', '$dynamicRef', 'allOf', 'anyOf', 'oneOf']);

/** What changes nothing that a schema holds by itself; what is read-only is asked of a property as a whole. */
const ANNOTATIONS: ReadonlySet<string> = new Set(['default', 'examples', 'discriminator', 'readOnly', 'writeOnly']);

export function hasOnlyKeywords(k: Keywords, than: readonly string[]): boolean {
  return Object.entries(k).every(([key, value]) => ANNOTATIONS.has(key) || than.includes(key) || !isPresent(value));
}

function isPresent(value: unknown): boolean {
  if (Array.isArray(value)) return value.length > 0;
  return value instanceof Map ? value.size > 0 : value !== undefined && value !== false;
}

/** The forms that were closed. */
const unclosedBranch = new WeakMap<Schema, Schema>();
const closedBranchCache = new KeyedMemo<Schema, string, Schema>();

/**
 * A form that holds no other names than those that it or what stands beside it declares; the form itself where it says
 * something of all names, or of none.
 */
export function closeBranch(form: Schema, beside: DeclaredNames): Schema {
  const own = declaredNamesOf(form);
  if (own.allowsOthers || beside.allowsOthers || (own.names.size === 0 && own.patterns.length === 0)) return form;
  const names = [...new Set([...own.names, ...beside.names])].sort();
  const patterns = [...new Set([...own.patterns, ...beside.patterns])].sort();
  const key = [...names, '', ...patterns].join('\n');
  return closedBranchCache.remember(form, key, () => closed(form, names, patterns));
}

const openBranchCache = new WeakMap<Schema, Schema>();

/** A form as a sender means it, for whom names that nobody declares never come, but where anything may come beside it. */
export function producerBranch(form: Schema, beside: DeclaredNames): Schema {
  if (!beside.allowsOthers) return closeBranch(form, beside);
  const keywords: Keywords = { ...EMPTY_KEYWORDS, additional: TRUE_SCHEMA, allOf: [form] };
  const made: Schema = openBranchCache.get(form) ?? { place: form.place, raw: { open: form.raw }, keywords: () => keywords };
  openBranchCache.set(form, made);
  return made;
}

function closed(form: Schema, names: readonly string[], patterns: readonly string[]): Schema {
  const keywords: Keywords = {
    ...EMPTY_KEYWORDS,
    properties: new Map(names.map((name) => [name, TRUE_SCHEMA])),
    patternProperties: new Map(patterns.map((pattern) => [pattern, TRUE_SCHEMA])),
    additional: FALSE_SCHEMA,
    allOf: [form],
  };
  const made: Schema = { place: form.place, raw: { closed: names, patterns, allOf: [form.raw] }, keywords: () => keywords };
  unclosedBranch.set(made, form);
  return made;
}

/**
 * Are two forms written the same, whatever changed behind the references of their parts? Then they exclude others as they
 * did: what such a change does is told where it stands, and not of every union that it can be reached through.
 */
export function isSameBranchText(x: Schema, y: Schema): boolean {
  const twin = compareText(dereference(unclosedBranch.get(x) ?? x), dereference(unclosedBranch.get(y) ?? y));
  return !twin.differs || twin.differingChildren !== undefined;
}
