/** What clients could read, and what can never come any more. */
import { isMapping, sameJson } from '../json.ts';
import { example } from '../language/example.ts';
import { below } from '../place.ts';
import { declaredNames, freeName } from '../schema/declared.ts';
import { eitherOf, formsOfEither } from '../schema/either.ts';
import { flat } from '../schema/flat.ts';
import { type Keywords, type Schema, saysOnly } from '../schema/node.ts';
import { matchesPattern, patternLanguage } from '../schema/patterns.ts';
import { sameText, type Twin, twinOf } from '../schema/same.ts';
import { isUnsent } from '../schema/sides.ts';
import type { Web } from '../schema/web.ts';
import type { Look, Pair, Reached, Step } from '../schema/web-pair.ts';
import { declaredIn } from './declared-in.ts';
import { toldApart } from './loss-forms.ts';
import { defaultChanged, formNamesAdded, type Quiet } from './quiet.ts';

/** A property of a pair of schemas that the second lacks. */
export interface Lost {
  readonly name: string;
  readonly required: boolean;
  /** The part that declared it and no longer does; undefined where the pair itself is meant. */
  readonly within: Twin | undefined;
}

/** What a pair of schemas says for itself. */
export interface Differences {
  readonly lost: readonly Lost[];
  /** New members of an open enumeration. */
  readonly members: readonly unknown[];
  /** What changes no set of values. */
  readonly quiet: readonly Quiet[];
}

/** A property that could be read, and that can never come any more. */
export interface Loss extends Lost {
  readonly pair: LossPair;
}

export type LossPair = Pair<Differences>;

/** What is to blame, old and new: the same for the same two, by whatever way they are met. */
export function causeOf({ within, pair }: Loss): Twin {
  return within ?? twinOf(pair.a, pair.b);
}

/** How many ways through the alternatives of a schema are looked at. */
const MOST_WAYS = 64;

/** What the second schema of a pair lacks by itself, and in which parts more may be lacking. */
export const lossLook =
  (side: 'request' | 'response'): Look<Differences> =>
  (a, b) => {
    const is = flat(b, MOST_WAYS);
    const members = newMembers(a, b);
    const quiet: Quiet[] = [...formNamesAdded(a, b)];
    const lost: Lost[] = [];
    const steps: Step[] = [];
    const found = (): ReturnType<Look<Differences>> => ({
      flaw: lost.length + members.length + quiet.length > 0 ? { lost, members, quiet } : undefined,
      steps,
    });
    // Nothing is lost where anything may come.
    if (isFree(b, is)) return found();
    const forms = toldApart(a, b, side);
    const rest = forms?.rest ?? a;
    const was = flat(rest, MOST_WAYS);
    for (const pair of forms?.pairs ?? []) steps.push({ pointer: '', ...pair });
    const [could, may] = [comesIn(rest, side), comesIn(b, side)];
    const step = (key: string | number, old: Iterable<Schema>, now: Iterable<Schema>): void => {
      const [x, y] = [anyOfThese(old), anyOfThese(now)];
      if (x === undefined || y === undefined || sameText(x, y)) return;
      steps.push({ pointer: below('', key), a: x, b: y });
      if (typeof key === 'string') quiet.push(...defaultChanged(key, old, now, is));
    };
    const isObject = is.some(mayBeObject);
    const [said, told] = [propertiesOf(was, side), propertiesOf(is, side)];
    for (const [name, schemas] of said) {
      const others = told.get(name) ?? unnamed(may, name);
      step(name, schemas, others);
      // There may be more ways than were looked at.
      if (others.size === 0 && isObject && !mayCome(may, name))
        lost.push({ name, required: was.every((k) => k.required.includes(name)), within: declaredIn(a, b, name) });
    }
    for (const [name, schemas] of told) if (!said.has(name)) step(name, unnamed(could, name), schemas);
    for (const [pattern, schemas] of could.patterns) {
      const name = nameLike(pattern);
      if (name !== undefined && !said.has(name)) step(name, schemas, told.get(name) ?? unnamed(may, name));
    }
    step(freeName(new Set([...said.keys(), ...told.keys()])), could.others, may.others);
    for (const [n, schemas = []] of could.first.entries()) step(n, schemas, may.first[n] ?? may.items);
    step(Math.max(could.first.length, may.first.length), could.items, may.items);
    return found();
  };

/**
 * May anything come? Where a form of an `anyOf` says which other names may come, those that say nothing of that are free to
 * send any, and so is a form of a `oneOf` that declares nothing.
 */
function isFree(schema: Schema, ways: readonly Keywords[]): boolean {
  const each = formsOfEither(schema);
  // What was put together here says nothing of its forms together.
  if (each !== undefined) return each.some((form) => isFree(form, flat(form, MOST_WAYS)));
  const { names, patterns, open } = declaredNames([schema]);
  if (open)
    return (
      ways.length >= MOST_WAYS ||
      ways.some((k) => mayBeObject(k) && k.additional === undefined && k.unevaluatedProperties === undefined)
    );
  const isBare = (k: Keywords): boolean => k.properties.size === 0 && k.required.length === 0 && k.patternProperties.size === 0;
  return names.size === 0 && patterns.length === 0 && ways.some((k) => isBare(k) && mayBeObject(k) && k.additional === undefined);
}

function mayBeObject({ types }: Keywords): boolean {
  return types === undefined || types.includes('object');
}

/** What may come by any part or form of a schema. */
interface Coming {
  readonly names: Set<string>;
  readonly patterns: Map<string, Set<Schema>>;
  /** What all other names may hold. */
  readonly others: Set<Schema>;
  /** What the first items of lists may be, and all others. */
  readonly first: (Set<Schema> | undefined)[];
  readonly items: Set<Schema>;
  /** Other names may come too. */
  open: boolean;
}

function mayCome({ names, patterns, open }: Coming, name: string): boolean {
  return open || names.has(name) || [...patterns.keys()].some((p) => matchesPattern(p, name) !== false);
}

/** What a name may hold that is not declared. */
function unnamed({ patterns, others }: Coming, name: string): ReadonlySet<Schema> {
  const matching = [...patterns].filter(([p]) => matchesPattern(p, name) === true).flatMap(([, schemas]) => [...schemas]);
  return matching.length === 0 ? others : new Set(matching);
}

/** A name that a pattern matches. */
function nameLike(pattern: string): string | undefined {
  const language = patternLanguage(pattern);
  return language === undefined ? undefined : example(language);
}

const coming = { request: new WeakMap<Schema, Coming>(), response: new WeakMap<Schema, Coming>() };

function comesIn(schema: Schema, side: 'request' | 'response'): Coming {
  const known = coming[side].get(schema);
  if (known !== undefined) return known;
  const out: Coming = { names: new Set(), patterns: new Map(), others: new Set(), first: [], items: new Set(), open: false };
  const seen = new Set([schema]);
  for (const s of seen) {
    const k = s.keywords();
    if (typeof k === 'boolean') continue;
    for (const [name, value] of k.properties) if (isComing(value, side)) out.names.add(name);
    for (const [pattern, value] of k.patternProperties)
      out.patterns.set(pattern, (out.patterns.get(pattern) ?? new Set()).add(value));
    k.prefixItems.forEach((value, n) => {
      out.first[n] = (out.first[n] ?? new Set()).add(value);
    });
    if (k.items !== undefined) out.items.add(k.items);
    for (const more of [k.additional, k.unevaluatedProperties])
      if (more !== undefined && !saysOnly(more, false)) out.others.add(more);
    const parts = [k.ref, ...k.allOf, ...(k.anyOf ?? []), ...(k.oneOf ?? []), k.then, k.else, ...k.dependentSchemas.values()];
    for (const part of parts) if (part !== undefined) seen.add(part);
  }
  // What declares nothing may be anything.
  out.open = out.others.size > 0 || (out.names.size === 0 && out.patterns.size === 0);
  coming[side].set(schema, out);
  return out;
}

/** Any of several where there are several. */
function anyOfThese(schemas: Iterable<Schema>): Schema | undefined {
  const [first, ...others] = schemas;
  return first === undefined ? undefined : eitherOf(first, others);
}

function isComing(schema: Schema, side: 'request' | 'response'): boolean {
  return !isUnsent(schema, side) && !saysOnly(schema, false);
}

/** Those that may come by any way. */
function propertiesOf(ways: readonly Keywords[], side: 'request' | 'response'): ReadonlyMap<string, ReadonlySet<Schema>> {
  const out = new Map<string, Set<Schema>>();
  for (const k of ways)
    for (const [name, schema] of k.properties)
      if (isComing(schema, side)) out.set(name, (out.get(name) ?? new Set()).add(schema));
  return out;
}

export type LossWeb = Web<Differences>;

/** Lists of pairs are shared by many roots, and so is what is made of them. */
const made = new WeakMap<readonly LossPair[], readonly Loss[]>();

/** What of the old schema's properties the new one can't send; below what is lost nothing else is told. */
export function losses(web: LossWeb, old: Schema, now: Schema): readonly Loss[] {
  const pairs = web.flaws(web.pair(old, now));
  const known = made.get(pairs);
  if (known !== undefined) return known;
  const list = pairs.flatMap(lossesOf);
  made.set(pairs, list);
  return list;
}

const own = new WeakMap<LossPair, readonly Loss[]>();

/** Of one pair, which many lists hold. */
export function lossesOf(pair: LossPair): readonly Loss[] {
  const known = own.get(pair);
  if (known !== undefined) return known;
  const list = (pair.flaw?.lost ?? []).map((l) => ({ ...l, pair }));
  own.set(pair, list);
  return list;
}

/** The way to what is lost. O(all that is lost on the way). */
export function wayToLoss(web: LossWeb, old: Schema, now: Schema, { pair }: Loss): Reached<Differences> | undefined {
  return web.wayBetween(web.pair(old, now), pair);
}

/** The members of an enumeration that says that others may come: a union with its bare type. */
function openMembers(schema: Schema): readonly unknown[] {
  if (isMapping(schema.raw) && !('anyOf' in schema.raw) && !('oneOf' in schema.raw)) return [];
  const k = schema.keywords();
  if (typeof k === 'boolean') return [];
  const forms = (k.anyOf ?? k.oneOf ?? []).map((s) => s.keywords());
  const bare = forms.some((f) => typeof f === 'object' && f.types !== undefined && f.enum === undefined);
  return bare ? forms.flatMap((f) => (typeof f === 'object' ? (f.enum ?? []) : [])) : [];
}

function newMembers(a: Schema, b: Schema): readonly unknown[] {
  const old = openMembers(a);
  return old.length === 0 ? [] : openMembers(b).filter((v) => !old.some((o) => sameJson(o, v)));
}
