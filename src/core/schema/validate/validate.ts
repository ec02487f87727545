/** Does a value fit a schema (JSON Schema 2020-12 Validation)? With the place in the value, and what was expected there. */

import { isMapping, type Mapping, sameJson } from '../../base/json.ts';
import { suggest } from '../../base/nearest-word.ts';
import { below } from '../../base/place.ts';
import { spend } from '../../language/limits.ts';
import { metTwin } from '../equality/equal-pairs.ts';
import { isType, listed, noFormWords, typeName, wordsOf } from '../model/json-types.ts';
import { idOf, type Keywords, type Schema, standsAlone, target } from '../model/schema.ts';
import type { Count, Side } from '../model/side.ts';
import { isUnsent } from '../model/side-view.ts';
import { matchesPattern } from '../vocabulary/patterns.ts';
import { counted, excluding } from './one-of.ts';
import { NOTHING } from './scope.ts';
import { type Shared, sharedAs } from './shared-values.ts';
import { scalarMisfits } from './validate-scalars.ts';
import { add, deeper, type Judge, type Misfit, miss, type Seen, WHOLE, weight } from './validation.ts';

/** How deep a value is followed; deeper ones are taken to fit. */
const MAX_DEPTH = 300;

/** Everything that keeps the value out of the schema; nothing when it fits. Cost: size of the value times the schemas on it. */
export function misfits(schema: Schema, value: unknown, side: Side = 'either', count: Count = 'written'): readonly Misfit[] {
  return judged(schema, value, side, count, false);
}

export function fits(schema: Schema, value: unknown, side: Side = 'either', count: Count = 'written'): boolean {
  return judged(schema, value, side, count, true).length === 0;
}

function judged(schema: Schema, value: unknown, side: Side, count: Count, hasty: boolean): readonly Misfit[] {
  const judge: Judge = { side, count, beside: NOTHING, misfits: [], depth: 0, tracks: false, hasty, tried: new WeakMap() };
  look(judge, schema, value, '');
  return judge.misfits;
}

function look(judge: Judge, schema: Schema, value: unknown, at: string): Seen | undefined {
  if (!judge.hasty || judge.tracks || judge.beside !== NOTHING || typeof value !== 'object' || value === null)
    return looked(judge, schema, value, at);
  const kept = sharedAs(value);
  if (kept === undefined) return looked(judge, schema, value, at);
  const { misfits: found } = judge;
  if (found.length > 0) return undefined;
  if (!isFitting(judge, target(schema), value, kept) && found.length === 0) miss(judge, at, '', '');
  return undefined;
}

function isFitting(judge: Judge, schema: Schema, value: object, { of, side, known }: Shared): boolean {
  // A schema takes what its sender sends, and so does one that says the same.
  const sent = judge.count !== 'written' && (side === judge.side || side === 'either');
  if (sent && (schema === of || metTwin(of, schema)?.differs === false)) return true;
  const asked = `${judge.side} ${judge.count}`;
  const row = known.get(asked) ?? new Map<Schema, boolean>();
  known.set(asked, row);
  const before = row.get(schema);
  if (before !== undefined) return before;
  looked(judge, schema, value, '');
  const fitting = judge.misfits.length === 0;
  row.set(schema, fitting);
  return fitting;
}

function looked(judge: Judge, schema: Schema, value: unknown, at: string): Seen | undefined {
  spend(20);
  const k = schema.keywords();
  if (k === true || judge.depth > MAX_DEPTH || (judge.hasty && judge.misfits.length > 0)) return undefined;
  if (k === false) return miss(judge, at, 'false', 'nothing may stand here');
  if (k.types !== undefined && !k.types.some((t) => isType(value, t)))
    miss(judge, at, 'type', `expected ${k.types.map(typeName).join(' or ')}, found ${wordsOf(value)}`);
  if (k.enum !== undefined && !k.enum.some((e) => sameJson(e, value))) {
    const hint = typeof value === 'string' ? nearest(judge, value, k.enum) : '';
    miss(judge, at, 'enum', `expected ${listed(k.enum)}, found ${wordsOf(value)}${hint}`);
  }
  for (const [keyword, message] of scalarMisfits(k, value)) miss(judge, at, keyword, message);
  const together = !standsAlone(k);
  const compound = typeof value === 'object' && value !== null;
  if (!together && !compound) return undefined;
  const tracks = judge.tracks || k.unevaluatedProperties !== undefined || k.unevaluatedItems !== undefined;
  const seen: Seen | undefined = tracks ? { names: new Set(), items: new Set() } : undefined;
  const inner = deeper(judge, NOTHING, false);
  const beside = !together || judge.count === 'written' ? NOTHING : judge.beside.with(k);
  if (together) combined(deeper(judge, beside, tracks), k, value, at, seen);
  if (Array.isArray(value)) listFits(inner, k, value, at, seen);
  if (isMapping(value)) objectFits(inner, k, value, at, seen);
  return seen;
}

/** Other schemas that are said of the same value. */
function combined(judge: Judge, k: Keywords, value: unknown, at: string, seen: Seen | undefined): void {
  if (k.ref !== undefined) add(seen, look(judge, k.ref, value, at));
  if (isMapping(value))
    for (const [name, schema] of k.dependentSchemas) if (Object.hasOwn(value, name)) add(seen, look(judge, schema, value, at));
  for (const all of k.allOf) add(seen, look(judge, all, value, at));
  if (k.anyOf !== undefined) some(judge, k.anyOf, value, at, seen, 'anyOf');
  if (k.oneOf !== undefined) some(judge, k.oneOf, value, at, seen, 'oneOf');
  if (k.not !== undefined && attempt(excluding(judge), k.not, value).ok)
    miss(judge, at, 'not', `expected anything but what is forbidden here, found ${wordsOf(value)}`);
  if (k.if !== undefined) {
    const test = attempt(judge, k.if, value);
    if (test.ok) add(seen, test.seen);
    const branch = test.ok ? k.then : k.else;
    // What a condition takes, and nobody who means it sends.
    if (!test.ok && judge.count === 'sent' && attempt(excluding(judge), k.if, value).ok)
      miss(judge, at, 'if', `expected what is meant by the condition here or is none of it, found ${wordsOf(value)}`);
    if (branch !== undefined) add(seen, look(judge, branch, value, at));
  }
}

/** What may be meant instead, among what is text and not there; nobody reads it where one misfit is enough. */
function nearest(judge: Judge, found: string, among: Iterable<unknown>, there: Mapping = {}): string {
  if (judge.hasty) return '';
  const texts = [...among].filter((text): text is string => typeof text === 'string' && !Object.hasOwn(there, text));
  const near = suggest(found, texts);
  return near === undefined ? '' : `; did you mean ${JSON.stringify(near)}?`;
}

function some(
  judge: Judge,
  members: readonly Schema[],
  value: unknown,
  at: string,
  seen: Seen | undefined,
  keyword: 'anyOf' | 'oneOf',
): void {
  const tries = members.map((m) => attempt(judge, m, value));
  const fitting =
    keyword === 'anyOf' || judge.count === 'written' ? tries.filter((t) => t.ok) : counted(judge, members, tries, value, attempt);
  for (const t of fitting) add(seen, t.seen);
  if (fitting.length === 1 || (fitting.length > 1 && keyword === 'anyOf')) return;
  if (fitting.length > 1) {
    miss(judge, at, keyword, `expected exactly one of ${members.length} forms, and ${fitting.length} fit`);
    return;
  }
  // The member that the value came nearest to says most.
  const [best] = tries.filter((t) => t.misfits.length > 0).sort((a, b) => weight(a.misfits) - weight(b.misfits));
  if (best !== undefined && weight(best.misfits) < WHOLE)
    judge.misfits.push(...best.misfits.map((m) => ({ ...m, pointer: at + m.pointer })));
  else miss(judge, at, keyword, noFormWords(members.length, value));
}

function attempt(
  judge: Judge,
  schema: Schema,
  value: unknown,
): { ok: boolean; seen: Seen | undefined; misfits: readonly Misfit[] } {
  const own: Judge = { ...judge, misfits: [] };
  if (!judge.hasty || judge.tracks || judge.count === 'written' || typeof value !== 'object' || value === null) {
    const seen = look(own, schema, value, '');
    return { ok: own.misfits.length === 0, seen, misfits: own.misfits };
  }
  // Forms within forms are asked about again and again, as who sends them means them and as who receives them takes them.
  const row = judge.tried.get(value) ?? new Map<string, boolean>();
  judge.tried.set(value, row);
  const asked = `${judge.count} ${judge.beside.id} ${idOf(schema)}`;
  const known = row.get(asked);
  if (known === undefined) look(own, schema, value, '');
  const ok = known ?? own.misfits.length === 0;
  row.set(asked, ok);
  return { ok, seen: undefined, misfits: own.misfits };
}

function listFits(judge: Judge, k: Keywords, value: readonly unknown[], at: string, seen: Seen | undefined): void {
  const found = `, found ${value.length}`;
  if (k.minItems !== undefined && value.length < k.minItems)
    miss(judge, at, 'minItems', `expected ${k.minItems} items or more${found}`);
  if (k.maxItems !== undefined && value.length > k.maxItems)
    miss(judge, at, 'maxItems', `expected ${k.maxItems} items or fewer${found}`);
  if (k.uniqueItems) {
    const twice = value.findIndex((v, i) => value.slice(0, i).some((w) => sameJson(v, w)));
    if (twice >= 0)
      miss(judge, below(at, twice), 'uniqueItems', `expected every item once, found ${wordsOf(value[twice])} again`);
  }
  value.forEach((item, i) => {
    const schema = k.prefixItems[i] ?? k.items;
    if (schema === undefined) return;
    seen?.items.add(i);
    look(judge, schema, item, below(at, i));
  });
  if (k.contains !== undefined) {
    const matching = value.flatMap((item, i) => (attempt(judge, k.contains as Schema, item).ok ? [i] : []));
    for (const i of matching) seen?.items.add(i);
    const least = k.minContains ?? 1;
    if (matching.length < least)
      miss(
        judge,
        at,
        'contains',
        `expected ${least} ${least === 1 ? 'item' : 'items'} or more of one kind, found ${matching.length}`,
      );
    const { maxContains: most } = k;
    const could = most === undefined ? [] : value.filter((item) => attempt(excluding(judge), k.contains as Schema, item).ok);
    if (most !== undefined && could.length > most)
      miss(judge, at, 'maxContains', `expected ${most} items or fewer of one kind, found ${could.length}`);
  }
  if (k.unevaluatedItems !== undefined) {
    value.forEach((item, i) => {
      if (seen?.items.has(i) !== true) look(judge, k.unevaluatedItems as Schema, item, below(at, i));
      seen?.items.add(i);
    });
  }
}

function objectFits(judge: Judge, k: Keywords, value: Mapping, at: string, seen: Seen | undefined): void {
  const names = Object.keys(value);
  if (k.minProperties !== undefined && names.length < k.minProperties)
    miss(judge, at, 'minProperties', `expected ${k.minProperties} properties or more, found ${names.length}`);
  if (k.maxProperties !== undefined && names.length > k.maxProperties)
    miss(judge, at, 'maxProperties', `expected ${k.maxProperties} properties or fewer, found ${names.length}`);
  for (const name of k.required) {
    if (!Object.hasOwn(value, name) && isSent(k, name, judge.side)) {
      const near = judge.hasty
        ? undefined
        : suggest(
            name,
            names.filter((n) => !k.properties.has(n)),
          );
      miss(
        judge,
        at,
        'required',
        `the property "${name}" is missing${near === undefined ? '' : `; "${near}" may be meant for it`}`,
        name,
      );
    }
  }
  for (const name of names) property(judge, k, value, name, at, seen);
  for (const [name, wanted] of k.dependentRequired) {
    if (!Object.hasOwn(value, name)) continue;
    for (const other of wanted)
      if (!Object.hasOwn(value, other))
        miss(judge, at, 'dependentRequired', `the property "${other}" is missing, which "${name}" needs`);
  }
  if (k.unevaluatedProperties !== undefined) {
    for (const name of names) {
      if (seen?.names.has(name) !== true) look(judge, k.unevaluatedProperties, value[name], below(at, name));
      seen?.names.add(name);
    }
  }
}

export function property(judge: Judge, k: Keywords, value: Mapping, name: string, at: string, seen: Seen | undefined): void {
  // Where one misfit is enough nobody asks for its place.
  const pointer = judge.hasty ? at : below(at, name);
  if (k.propertyNames !== undefined && !attempt(judge, k.propertyNames, name).ok)
    miss(judge, pointer, 'propertyNames', `the name "${name}" is not one of those that are allowed`);
  const written = k.properties.get(name);
  const unsent = judge.count !== 'written' && written !== undefined && isUnsent(written, judge.side);
  if (unsent && judge.count === 'sent') miss(judge, pointer, 'readOnly', `the property "${name}" is not sent in this direction`);
  // To a taker it is as if it were not declared.
  const own = unsent ? undefined : written;
  let matched = own !== undefined;
  if (own !== undefined) {
    seen?.names.add(name);
    look(judge, own, value[name], pointer);
  }
  for (const [pattern, schema] of k.patternProperties) {
    if (matchesPattern(pattern, name) !== true) continue;
    matched = true;
    seen?.names.add(name);
    look(judge, schema, value[name], pointer);
  }
  if (matched || k.additional === undefined) return;
  if (judge.count !== 'written' && isUnsent(k.additional, judge.side)) {
    if (judge.count === 'sent') miss(judge, pointer, 'readOnly', `the property "${name}" is not sent in this direction`);
    return;
  }
  seen?.names.add(name);
  if (k.additional.keywords() === false) {
    const hint = nearest(judge, name, k.properties.keys(), value);
    miss(judge, pointer, 'additionalProperties', `the property "${name}" is not declared, and no others are allowed${hint}`);
  } else look(judge, k.additional, value[name], pointer);
}

/** A property that this side never sends is not missing. */
function isSent(k: Keywords, name: string, side: Side): boolean {
  const property = k.properties.get(name);
  return property === undefined || !isUnsent(property, side);
}
