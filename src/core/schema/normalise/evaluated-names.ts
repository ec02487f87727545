/**
 * Which names of an object, and which items of a list, are looked at by the keywords of a schema and by all that it says of
 * the same value, for `unevaluatedProperties` and `unevaluatedItems` (JSON Schema 2020-12 Core, 11.3 and 11.2): some are by
 * what always holds, others by what holds for some values.
 */
import { memoise } from '../../base/memo.ts';
import { isBooleanSchema, type Keywords, type Schema } from '../model/schema.ts';
import { matchesPattern } from '../vocabulary/patterns.ts';

/** A schema that holds. */
export interface Holding {
  readonly schema: Schema;
}

/** What is looked at where a schema holds. */
export interface EvaluatedSet {
  readonly names: Set<string>;
  readonly patterns: Set<string>;
  /** Every name is. */
  all: boolean;
  /** So many first items are, or every item. */
  first: number;
  every: boolean;
  /** Items that one of these holds are. */
  readonly contains: Schema[];
  /** By some of these as well, for some values. */
  readonly branches: ConditionalEvaluation[];
}

interface ConditionalEvaluation {
  readonly schema: Schema;
  readonly inner: EvaluatedSet;
  /** Where it is not known to hold it may hold all the same. */
  readonly kind: 'anyOf' | 'oneOf' | 'known';
  /** It looks at nothing where one of these is so. */
  readonly off: readonly Disabling[];
}

/** A schema that does not hold, or does; or a name that is not there. */
export interface Disabling {
  readonly failing?: Schema;
  readonly holding?: Schema;
  readonly absent?: string;
}

/** One way in which names can be left over. */
export interface UnevaluatedCase {
  readonly isLeft: (name: string) => boolean;
  readonly failing: readonly Schema[];
  readonly holding: readonly Schema[];
  readonly absent: readonly string[];
  /** Patterns that tell names apart. */
  readonly patterns: readonly string[];
}

/** Reads the keywords of a schema as its taker does. */
export type ReadKeywords = (schema: Schema) => Keywords | boolean;

/** More ways than this are not looked at. */
export const MOST_WAYS = 100;

/** Does it look at a name, where these keywords hold? */
export function isEvaluated(k: Keywords, name: string, held: readonly Holding[]): boolean {
  const looks = (l: EvaluatedSet): boolean =>
    evaluates(l, name) || l.branches.some((b) => held.some((h) => h.schema === b.schema) && looks(b.inner));
  return looks(evaluatedByText(k));
}

/** May it look at more names than those that it looks at where these keywords hold? */
export function mayEvaluateMore(k: Keywords, held: readonly Holding[], sent: boolean): boolean {
  return mayEvaluateBeyond(k, held, sent, ({ names, patterns, all }) => all || names.size + patterns.size > 0);
}

/** May something be looked at besides, by what is not known to hold? A sender means one form of several. */
export function mayEvaluateBeyond(
  k: Keywords,
  held: readonly Holding[],
  sent: boolean,
  looks: (looking: EvaluatedSet) => boolean,
): boolean {
  const some = (l: EvaluatedSet): boolean => looks(l) || l.branches.some((b) => some(b.inner));
  const more = ({ branches }: EvaluatedSet): boolean =>
    branches.some(({ schema, inner, kind }) => {
      if (held.some((h) => h.schema === schema)) return more(inner);
      return (kind === 'anyOf' || (kind === 'oneOf' && sent)) && some(inner);
    });
  return more(evaluatedByText(k));
}

export const evaluatedByText = memoise((k: Keywords): EvaluatedSet => evaluatedBy(k, (s) => s.keywords()));

/** Every way in which a name can be left over; undefined where there are too many, or patterns tell. */
export function unevaluatedCases(k: Keywords, read: ReadKeywords): readonly UnevaluatedCase[] | undefined {
  const looking = evaluatedBy(k, read);
  const [names, patterns] = [new Set<string>(), new Set<string>()];
  gather(looking, names, patterns);
  // Of a name that a pattern matches more can be true than of any that is declared.
  if (looking.branches.some((b) => hasPatterns(b.inner))) return undefined;
  const isOther = (name: string): boolean => !names.has(name) && ![...patterns].some((p) => matchesPattern(p, name) === true);
  const out: UnevaluatedCase[] = [];
  const add = (ways: readonly (readonly Disabling[])[], isLeft: (name: string) => boolean): void => {
    for (const way of ways)
      out.push({
        isLeft,
        failing: way.flatMap((o) => o.failing ?? []),
        holding: way.flatMap((o) => o.holding ?? []),
        absent: way.flatMap((o) => o.absent ?? []),
        patterns: [...patterns],
      });
  };
  for (const name of names) {
    const ways = waysToDisable(looking, (l) => evaluates(l, name));
    if (ways === undefined || out.length > MOST_WAYS) return undefined;
    add(ways, (n) => n === name);
  }
  const ways = waysToDisable(looking, ({ all }) => all);
  if (ways === undefined) return undefined;
  add(ways, isOther);
  return out;
}

/** What has to be so that none of it looks at a name; no way where something always does. */
function waysToDisable(
  looking: EvaluatedSet,
  looks: (looking: EvaluatedSet) => boolean,
): readonly (readonly Disabling[])[] | undefined {
  if (looks(looking)) return [];
  let ways: readonly (readonly Disabling[])[] = [[]];
  for (const branch of looking.branches) {
    const inner = waysToDisable(branch.inner, looks);
    if (inner === undefined) return undefined;
    // Nothing that it leads to looks at the name anyway.
    if (inner.some((w) => w.length === 0)) continue;
    const options = [...branch.off.map((o) => [o]), ...inner];
    ways = ways.flatMap((w) => options.map((o) => [...w, ...o]));
    if (ways.length > MOST_WAYS) return undefined;
  }
  return ways;
}

function evaluates({ names, patterns, all }: EvaluatedSet, name: string): boolean {
  return all || names.has(name) || [...patterns].some((p) => matchesPattern(p, name) === true);
}

function hasPatterns({ patterns, branches }: EvaluatedSet): boolean {
  return patterns.size > 0 || branches.some((b) => hasPatterns(b.inner));
}

function gather({ names, patterns, branches }: EvaluatedSet, allNames: Set<string>, allPatterns: Set<string>): void {
  for (const name of names) allNames.add(name);
  for (const pattern of patterns) allPatterns.add(pattern);
  for (const { inner } of branches) gather(inner, allNames, allPatterns);
}

/** Without its own `unevaluatedProperties` and `unevaluatedItems`. */
export function evaluatedBy(k: Keywords, read: ReadKeywords): EvaluatedSet {
  const out = nothing();
  out.all = k.additional !== undefined;
  addKeywords(out, k, read, new Set());
  return out;
}

function nothing(): EvaluatedSet {
  return { names: new Set(), patterns: new Set(), all: false, first: 0, every: false, contains: [], branches: [] };
}

function addKeywords(out: EvaluatedSet, k: Keywords, read: ReadKeywords, trail: ReadonlySet<Schema>): void {
  for (const name of k.properties.keys()) out.names.add(name);
  for (const pattern of k.patternProperties.keys()) out.patterns.add(pattern);
  out.first = Math.max(out.first, k.prefixItems.length);
  if (k.items !== undefined) out.every = true;
  if (k.contains !== undefined) out.contains.push(k.contains);
  for (const part of [k.ref, ...k.allOf]) if (part !== undefined) addSubschema(out, part, read, trail);
  const branch = (schema: Schema | undefined, off: readonly Disabling[], kind: ConditionalEvaluation['kind'] = 'known'): void => {
    if (schema === undefined || isBooleanSchema(schema, true)) return;
    const inner = nothing();
    addSubschema(inner, schema, read, trail);
    out.branches.push({ schema, inner, off, kind });
  };
  for (const form of k.anyOf ?? []) branch(form, [{ failing: form }], 'anyOf');
  for (const form of k.oneOf ?? []) branch(form, [{ failing: form }], 'oneOf');
  if (k.if !== undefined) {
    branch(k.if, [{ failing: k.if }]);
    branch(k.then, [{ failing: k.if }]);
    branch(k.else, [{ holding: k.if }]);
  }
  for (const [name, schema] of k.dependentSchemas) branch(schema, [{ absent: name }]);
}

/** All that a schema looks at where it holds. */
function addSubschema(out: EvaluatedSet, schema: Schema, read: ReadKeywords, trail: ReadonlySet<Schema>): void {
  if (trail.has(schema)) return;
  const k = read(schema);
  if (typeof k === 'boolean') return;
  if (k.additional !== undefined || k.unevaluatedProperties !== undefined) out.all = true;
  if (k.unevaluatedItems !== undefined) out.every = true;
  addKeywords(out, k, read, new Set([...trail, schema]));
}
