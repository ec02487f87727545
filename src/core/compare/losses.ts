/** What clients could read, and what can never come any more. */
import { isMapping, sameJson } from '../json.ts';
import { below } from '../place.ts';
import { declaredNames } from '../schema/declared.ts';
import { eitherOf } from '../schema/either.ts';
import { flat } from '../schema/flat.ts';
import { type Keywords, type Schema, saysOnly } from '../schema/node.ts';
import { matchesPattern } from '../schema/patterns.ts';
import { sameText, type Twin } from '../schema/same.ts';
import { isUnsent } from '../schema/sides.ts';
import type { Web } from '../schema/web.ts';
import type { Look, Pair, Reached, Step } from '../schema/web-pair.ts';
import { declaredIn } from './declared-in.ts';
import { toldApart } from './loss-forms.ts';

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
}

/** A property that could be read, and that can never come any more. */
export interface Loss extends Lost {
  readonly pair: LossPair;
}

export type LossPair = Pair<Differences>;

/** What is to blame, old and new. */
export function causeOf({ within, pair }: Loss): Twin | LossPair {
  return within ?? pair;
}

/** How many ways through the alternatives of a schema are looked at. */
const MOST_WAYS = 64;

/** What the second schema of a pair lacks by itself, and in which parts more may be lacking. */
export const lossLook =
  (side: 'request' | 'response'): Look<Differences> =>
  (a, b) => {
    const is = flat(b, MOST_WAYS);
    const members = newMembers(a, b);
    // Nothing is lost where anything may come.
    if (isFree(b, is)) return { flaw: members.length > 0 ? { lost: [], members } : undefined, steps: [] };
    const forms = toldApart(a, b, side);
    const rest = forms?.rest ?? a;
    const was = flat(rest, MOST_WAYS);
    const steps: Step[] = (forms?.pairs ?? []).map((pair) => ({ pointer: '', ...pair }));
    const lost: Lost[] = [];
    const may = comesIn(b, side);
    const isObject = is.some((k) => k.types === undefined || k.types.includes('object'));
    for (const [name, schema] of propertiesOf(was, side)) {
      const others = othersOf(is, name, side);
      const [other] = others;
      if (other === undefined) {
        // There may be more ways than were looked at.
        if (isObject && !mayCome(may, name))
          lost.push({ name, required: was.every((k) => k.required.includes(name)), within: declaredIn(a, b, name) });
      } else if (others.length === 1 && !sameText(schema, other)) steps.push({ pointer: below('', name), a: schema, b: other });
    }
    const [x, y] = [listedBy(comesIn(rest, side)), listedBy(may)];
    if (x !== undefined && y !== undefined && !sameText(x, y)) steps.push({ pointer: '/0', a: x, b: y });
    return { flaw: lost.length + members.length > 0 ? { lost, members } : undefined, steps };
  };

/**
 * May anything come? Where a form of an `anyOf` says which other names may come, those that say nothing of that are free to
 * send any, and so is a form of a `oneOf` that declares nothing.
 */
function isFree(schema: Schema, ways: readonly Keywords[]): boolean {
  const { names, patterns, open } = declaredNames([schema]);
  if (open)
    return ways.length >= MOST_WAYS || ways.some((k) => k.additional === undefined && k.unevaluatedProperties === undefined);
  const isBare = (k: Keywords): boolean => k.properties.size === 0 && k.required.length === 0 && k.patternProperties.size === 0;
  const isObject = (k: Keywords): boolean => k.types === undefined || k.types.includes('object');
  return names.size === 0 && patterns.length === 0 && ways.some((k) => isBare(k) && isObject(k) && k.additional === undefined);
}

/** The names that may come by any part or form of a schema. */
interface Coming {
  readonly names: Set<string>;
  readonly patterns: Set<string>;
  /** What lists may hold. */
  readonly items: Set<Schema>;
  /** Others may come too. */
  open: boolean;
}

function mayCome({ names, patterns, open }: Coming, name: string): boolean {
  return open || names.has(name) || [...patterns].some((p) => matchesPattern(p, name) !== false);
}

const coming = { request: new WeakMap<Schema, Coming>(), response: new WeakMap<Schema, Coming>() };

function comesIn(schema: Schema, side: 'request' | 'response'): Coming {
  const known = coming[side].get(schema);
  if (known !== undefined) return known;
  const out: Coming = { names: new Set(), patterns: new Set(), items: new Set(), open: false };
  const seen = new Set([schema]);
  for (const s of seen) {
    const k = s.keywords();
    if (typeof k === 'boolean') continue;
    for (const [name, value] of k.properties) if (!isUnsent(value, side) && !saysOnly(value, false)) out.names.add(name);
    for (const pattern of k.patternProperties.keys()) out.patterns.add(pattern);
    if (k.items !== undefined) out.items.add(k.items);
    for (const more of [k.additional, k.unevaluatedProperties]) if (more !== undefined && !saysOnly(more, false)) out.open = true;
    const parts = [k.ref, ...k.allOf, ...(k.anyOf ?? []), ...(k.oneOf ?? []), k.then, k.else, ...k.dependentSchemas.values()];
    for (const part of parts) if (part !== undefined) seen.add(part);
  }
  // What declares nothing may be anything.
  out.open ||= out.names.size === 0 && out.patterns.size === 0;
  coming[side].set(schema, out);
  return out;
}

/** What lists may hold; any of several where there are several. */
function listedBy({ items }: Coming): Schema | undefined {
  const [first, ...others] = items;
  return first === undefined ? undefined : eitherOf(first, others);
}

/** Those that may come by any way; of a name that several have, the last. */
function propertiesOf(ways: readonly Keywords[], side: 'request' | 'response'): ReadonlyMap<string, Schema> {
  const out = new Map<string, Schema>();
  for (const k of ways) for (const [name, schema] of k.properties) if (!isUnsent(schema, side)) out.set(name, schema);
  return out;
}

/** What is said of a name that may come. */
function othersOf(ways: readonly Keywords[], name: string, side: 'request' | 'response'): readonly Schema[] {
  const out: Schema[] = [];
  for (const k of ways) {
    const schema = k.properties.get(name);
    if (schema !== undefined && !isUnsent(schema, side) && !saysOnly(schema, false)) out.push(schema);
  }
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
function lossesOf(pair: LossPair): readonly Loss[] {
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
