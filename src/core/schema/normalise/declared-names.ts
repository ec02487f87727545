/** The names that schemas declare for one value, through references and all parts that speak of the same value. */

import { isMapping } from '../../base/json.ts';
import { memoise } from '../../base/memo.ts';
import { joinSchemas } from '../model/derived-union.ts';
import {
  EMPTY_KEYWORDS,
  hasNoInPlaceApplicators,
  idOf,
  isBooleanSchema,
  type Keywords,
  type Schema,
  TRUE_SCHEMA,
} from '../model/schema.ts';
import type { MessageEnd } from '../model/side.ts';
import { matchesPattern } from '../vocabulary/patterns.ts';

export interface DeclaredNames {
  readonly names: ReadonlySet<string>;
  readonly patterns: readonly string[];
  /** Something is said of all other names. */
  readonly allowsOthers: boolean;
}

/** Forms of a `oneOf` are left aside: which of them is meant decides what they declare. */
export function collectDeclaredNames(
  schemas: readonly Schema[],
  keywords: (schema: Schema) => Keywords | boolean = (s) => s.keywords(),
  end: MessageEnd = 'producer',
): DeclaredNames {
  const out = { names: new Set<string>(), patterns: [] as string[], allowsOthers: false };
  const seen = new Set<Schema>(schemas);
  for (const schema of seen) {
    const k = keywords(schema);
    if (typeof k === 'boolean') continue;
    const { names, patterns, allowsOthers } = ownNames(k);
    for (const name of names) out.names.add(name);
    out.patterns.push(...patterns);
    out.allowsOthers ||= allowsOthers;
    for (const part of inPlaceSubschemas(k, end)) seen.add(part);
  }
  return out;
}

/** What keywords declare by themselves. */
export function ownNames({
  properties,
  required,
  patternProperties,
  additional,
  unevaluatedProperties,
}: Keywords): DeclaredNames {
  // `additionalProperties: false` allows no other names.
  const open = [additional, unevaluatedProperties].some((rest) => rest !== undefined && !isBooleanSchema(rest, false));
  return { names: new Set([...properties.keys(), ...required]), patterns: [...patternProperties.keys()], allowsOthers: open };
}

/** The names that one schema declares. Found once. */
export const declaredNamesOf = memoise((schema: Schema): DeclaredNames => collectDeclaredNames([schema]));

/** All that speaks of the same value, but for the forms of a `oneOf`. */
function inPlaceSubschemas(k: Keywords, end: MessageEnd): readonly Schema[] {
  if (hasNoInPlaceApplicators(k)) return [];
  const parts = [
    k.ref,
    ...k.allOf,
    ...(end === 'producer' ? (k.anyOf ?? []) : []),
    k.then,
    k.else,
    k.if,
    ...k.dependentSchemas.values(),
  ];
  return parts.filter((part) => part !== undefined);
}

const branchNamesCache = new WeakMap<Schema, Map<string, Schema | 'nothing'>>();

/**
 * What a form and others that a value may be too declare together: who sends the one may send what the others declare, as
 * one of them declares it. Undefined where there is nothing. Found once.
 */
export function namesOfOtherBranches(form: Schema, others: readonly Schema[]): Schema | undefined {
  if (others.length === 0) return undefined;
  const row = branchNamesCache.get(form) ?? new Map<string, Schema | 'nothing'>();
  branchNamesCache.set(form, row);
  const key = others.map(idOf).join(' ');
  const known = row.get(key) ?? buildBranchNames([form, ...others]) ?? 'nothing';
  row.set(key, known);
  return known === 'nothing' ? undefined : known;
}

function buildBranchNames(forms: readonly Schema[]): Schema | undefined {
  const values = new Map<string, Schema[]>();
  const {
    names,
    patterns,
    allowsOthers: open,
  } = collectDeclaredNames(forms, (schema) => {
    const k = schema.keywords();
    if (typeof k === 'object') for (const [name, value] of k.properties) values.set(name, [...(values.get(name) ?? []), value]);
    return k;
  });
  const [first] = forms;
  if (first === undefined) return undefined;
  const said = unconditionalNames(first);
  const others = [...names].filter((name) => !said.has(name));
  if (others.length === 0 && patterns.length === 0 && !open) return undefined;
  const some = ([one, ...more]: readonly Schema[]): Schema => (one === undefined ? TRUE_SCHEMA : joinSchemas(one, more));
  const keywords: Keywords = {
    ...EMPTY_KEYWORDS,
    properties: new Map(others.map((name) => [name, some(values.get(name) ?? [])])),
    patternProperties: new Map(patterns.map((pattern) => [pattern, TRUE_SCHEMA])),
    ...(open ? { additional: TRUE_SCHEMA } : {}),
  };
  shared.add(keywords);
  return { place: first.place, raw: undefined, keywords: () => keywords };
}

const shared = new WeakSet<Keywords>();

/** Is this what forms declare together, and none of them by itself? */
export function isBranchNames(keywords: Keywords): boolean {
  return shared.has(keywords);
}

/** The same of a schema: what it says of a name holds only where nothing else declares that. */
export function isBranchNamesSchema(schema: Schema): boolean {
  if (schema.raw !== undefined) return false;
  const k = schema.keywords();
  return typeof k === 'object' && isBranchNames(k);
}

/** The properties of which a schema says something, whichever of its forms is meant. */
function unconditionalNames(schema: Schema): ReadonlySet<string> {
  const seen = new Set([schema]);
  const names = new Set<string>();
  for (const s of seen) {
    const k = s.keywords();
    if (typeof k === 'boolean') continue;
    for (const part of [...(k.ref === undefined ? [] : [k.ref]), ...k.allOf]) seen.add(part);
    for (const name of k.properties.keys()) names.add(name);
  }
  return names;
}

/** Is every name of a value declared by the schema or beside it? */
export function isWithinDeclared(schema: Schema, value: unknown, beside: () => DeclaredNames): boolean {
  if (!isMapping(value)) return true;
  const own = declaredNamesOf(schema);
  if (own.allowsOthers || (own.names.size === 0 && own.patterns.length === 0)) return true;
  return Object.keys(value).every((n) => isDeclared(own, n) || isDeclared(beside(), n));
}

function isDeclared({ names, patterns, allowsOthers }: DeclaredNames, name: string): boolean {
  return allowsOthers || names.has(name) || patterns.some((p) => matchesPattern(p, name) === true);
}

/** What the keywords beside a `oneOf` declare. */
export function siblingNames(keywords: readonly Keywords[], end: MessageEnd): DeclaredNames {
  return joinDeclared(keywords.flatMap((k) => [ownNames(k), collectDeclaredNames(inPlaceSubschemas(k, end), undefined, end)]));
}

/** All of them. */
export function joinDeclared(list: readonly DeclaredNames[]): DeclaredNames {
  return {
    names: new Set(list.flatMap((d) => [...d.names])),
    patterns: [...new Set(list.flatMap((d) => d.patterns))],
    allowsOthers: list.some((d) => d.allowsOthers),
  };
}
