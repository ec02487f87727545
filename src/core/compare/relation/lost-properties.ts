/** What clients could read, and what can never come any more. */

import { isMapping, sameJson } from '../../base/json.ts';
import { memoise } from '../../base/memo.ts';
import { appendPointer } from '../../base/place.ts';
import { compareText, isTextEqual } from '../../schema/equality/equal-pairs.ts';
import { isSimpleObject, isSimpleScalar } from '../../schema/equality/quick-nonempty.ts';
import { derivedBranches, joinSchemas } from '../../schema/model/derived-union.ts';
import type { Keywords, Schema, TextPair } from '../../schema/model/schema.ts';
import { declaredNamesOf } from '../../schema/normalise/declared-names.ts';
import { toDisjuncts } from '../../schema/normalise/flatten.ts';
import type { Dependency, FailurePath, LocalCheck, PairNode } from '../../schema/subschema/pair.ts';
import type { PairGraph } from '../../schema/subschema/pair-graph.ts';
import { freshName } from '../../schema/vocabulary/sample-names.ts';
import { type AnnotationDifference, defaultChanged, formNamesAdded, named, nullableBeside } from './annotation-facts.ts';
import { declaringConjunct } from './declaring-part.ts';
import { pairDisjointBranches } from './disjoint-branches.ts';
import {
  becameEmpty,
  exampleName,
  hasNoItems,
  mayOccur,
  type PossibleProperties,
  possibleProperties,
  propertiesOf,
  schemasAtName,
  unchangedNames,
} from './possible-properties.ts';

/** A property of a pair of schemas that the second lacks. */
export interface LostProperty {
  readonly name: string;
  readonly required: boolean;
  /** The part that declared it and no longer does; undefined where the pair itself is meant. */
  readonly within: TextPair | undefined;
}

/** What a pair of schemas says for itself. */
export interface LocalDifferences {
  readonly lost: readonly LostProperty[];
  /** New members of an open enumeration. */
  readonly members: readonly unknown[];
  /** What changes no set of values. */
  readonly quiet: readonly AnnotationDifference[];
}

/** A property that could be read, and that can never come any more. */
export interface LocatedLoss extends LostProperty {
  readonly pair: LossPair;
}

export type LossPair = PairNode<LocalDifferences>;

/** What is to blame, old and new: the same for the same two, by whatever way they are met. */
export function causeOf({ within, pair }: LocatedLoss): TextPair {
  return within ?? compareText(pair.a, pair.b);
}

/** Stands for all items of a list. */
export const ITEM = '0';

/** How many disjuncts of a schema are looked at. */
const MAX_DISJUNCTS = 64;

const NOTHING_LOST: ReturnType<LocalCheck<LocalDifferences>> = { flaw: undefined, steps: [] };

/** What the second schema of a pair lacks by itself, and in which parts more may be lacking. */
export const checkLostProperties =
  (side: 'request' | 'response'): LocalCheck<LocalDifferences> =>
  (a, b) =>
    // Most pairs differ in a bound or a member, which have no parts that could be lost.
    isSimpleScalar(a) && isSimpleScalar(b) ? NOTHING_LOST : new PairDifferences(a, b, side).found();

/** One pair of schemas, looked at by itself: what is lost at once, and the pairs of parts that are to be looked at next. */
class PairDifferences {
  private readonly lost: LostProperty[] = [];
  private readonly steps: Dependency[] = [];
  private readonly members: readonly unknown[];
  private readonly quiet: AnnotationDifference[];
  private readonly is: readonly Keywords[];

  constructor(
    private readonly a: Schema,
    private readonly b: Schema,
    private readonly side: 'request' | 'response',
  ) {
    this.is = toDisjuncts(b, MAX_DISJUNCTS);
    this.members = newMembers(a, b);
    this.quiet = [...formNamesAdded(a, b), ...nullableBeside(a, b)];
    // Nothing is lost where anything may come.
    if (!admitsAnyNames(b, this.is)) this.look();
  }

  found(): ReturnType<LocalCheck<LocalDifferences>> {
    const flaw = { lost: this.lost, members: this.members, quiet: this.quiet };
    const isFlawed = Object.values(flaw).some((list) => list.length > 0);
    return { flaw: isFlawed ? flaw : undefined, steps: this.steps };
  }

  private look(): void {
    const { a, b } = this;
    const branches = pairDisjointBranches(a, b, this.side);
    const rest = branches?.rest ?? a;
    const was = toDisjuncts(rest, MAX_DISJUNCTS);
    for (const pair of branches?.pairs ?? []) this.steps.push({ pointer: '', ...pair });
    this.declaredProperties(was);
    // What is looked for from here on stands in neither of them.
    if (isSimpleObject(a) && isSimpleObject(b)) return;
    const [could, may] = [rest, b].map((s) => possibleProperties(s, this.side)) as [PossibleProperties, PossibleProperties];
    this.otherProperties(was, could, may);
    this.items(was, could, may);
  }

  private step(key: string | number, old: Iterable<Schema>, now: Iterable<Schema>): void {
    const [x, y] = [joinOf(old), joinOf(now)];
    if (x === undefined || y === undefined || isTextEqual(x, y)) return;
    this.steps.push({ pointer: appendPointer('', key), a: x, b: y });
  }

  private lose(name: string, was: readonly Keywords[]): void {
    const required = was.every((k) => k.required.includes(name));
    this.lost.push({ name, required, within: declaringConjunct(this.a, this.b, name) });
  }

  private declaredProperties(was: readonly Keywords[]): void {
    const { a, b, side, is } = this;
    const isObject = is.some(mayBeObject);
    const same = unchangedNames(was, is);
    const [old, now] = [propertiesOf(was, side, same), propertiesOf(is, side, same)];
    const undeclared: string[] = [];
    for (const [name, schemas] of old) {
      const others = schemasAtName(is, name, side);
      const [other, ...more] = others;
      const isGone =
        other === undefined
          ? isObject && !mayOccur(possibleProperties(b, side), name)
          : more.length === 0 && becameEmpty(schemas, other, side);
      if (!isGone && isObject && isSaidOpen(is) && !is.some((k) => k.properties.has(name))) undeclared.push(name);
      if (isGone) this.lose(name, was);
      else {
        this.step(name, schemas, others);
        if (now.has(name)) this.quiet.push(...defaultChanged(name, was, is));
      }
    }
    const added = [...now.keys()].filter((name) => !old.has(name));
    for (const name of added) this.step(name, schemasAtName(was, name, side), schemasAtName(is, name, side));
    const optional = added.filter((name) => !is.some((k) => k.required.includes(name)));
    this.quiet.push(
      ...named('undeclared', undeclared, a, b),
      ...(isSimpleObject(a) && isSimpleObject(b) && isOpen(was) ? named('declared', optional, a, b) : []),
    );
  }

  private otherProperties(was: readonly Keywords[], could: PossibleProperties, may: PossibleProperties): void {
    const { is, side } = this;
    for (const [pattern, schemas] of could.patterns) {
      const name = exampleName(pattern);
      if (name !== undefined && !was.some((k) => k.properties.has(name))) this.step(name, schemas, schemasAtName(is, name, side));
    }
    if (could.others.size > 0 && may.others.size > 0)
      this.step(freshName(new Set([...was, ...is].flatMap((k) => [...k.properties.keys()]))), could.others, may.others);
  }

  private items(was: readonly Keywords[], could: PossibleProperties, may: PossibleProperties): void {
    const { is, side } = this;
    if (hasNoItems(is, side) && !hasNoItems(was, side) && could.items.size + could.first.length > 0) {
      this.lose(ITEM, was);
      return;
    }
    for (const [n, schemas = []] of could.first.entries()) this.step(n, schemas, may.first[n] ?? may.items);
    this.step(Math.max(could.first.length, may.first.length), could.items, may.items);
  }
}

/**
 * May anything come? Where a form of an `anyOf` says which other names may come, those that say nothing of that are free to
 * send any, and so is a form of a `oneOf` that declares nothing.
 */
function admitsAnyNames(schema: Schema, ways: readonly Keywords[]): boolean {
  if (isSimpleObject(schema) && ways.every((k) => k.properties.size > 0)) return false;
  const each = derivedBranches(schema);
  // What was put together here says nothing of its forms together.
  if (each !== undefined) return each.some((form) => admitsAnyNames(form, toDisjuncts(form, MAX_DISJUNCTS)));
  const { names, patterns, allowsOthers } = declaredNamesOf(schema);
  if (allowsOthers)
    return (
      ways.length >= MAX_DISJUNCTS ||
      ways.some((k) => mayBeObject(k) && k.additional === undefined && k.unevaluatedProperties === undefined)
    );
  const isBare = (k: Keywords): boolean => k.properties.size === 0 && k.required.length === 0 && k.patternProperties.size === 0;
  return names.size === 0 && patterns.length === 0 && ways.some((k) => isBare(k) && mayBeObject(k) && k.additional === undefined);
}

/** Objects that declare some properties, beside which anything may stand. */
function isOpen(ways: readonly Keywords[]): boolean {
  const free = ({ additional, unevaluatedProperties }: Keywords): boolean =>
    (additional === undefined || additional.keywords() === true) && unevaluatedProperties === undefined;
  return ways.length > 0 && ways.every((k) => k.properties.size > 0 && mayBeObject(k) && free(k));
}

/** It says that anything may come beside what is declared. */
function isSaidOpen(ways: readonly Keywords[]): boolean {
  return ways.length > 0 && ways.every((k) => k.additional?.keywords() === true);
}

function mayBeObject({ types }: Keywords): boolean {
  return types === undefined || types.includes('object');
}

/** Any of several where there are several. */
function joinOf(schemas: Iterable<Schema>): Schema | undefined {
  const [first, ...others] = schemas;
  return first === undefined ? undefined : joinSchemas(first, others);
}

export type LossGraph = PairGraph<LocalDifferences>;

/** Lists of pairs are shared by many roots, and so is what is made of them. */
const lossesCache = new WeakMap<readonly LossPair[], readonly LocatedLoss[]>();

/** What of the old schema's properties the new one can't send; below what is lost nothing else is told. */
export function losses(web: LossGraph, old: Schema, now: Schema): readonly LocatedLoss[] {
  const pairs = web.failuresBelow(web.nodeFor(old, now));
  const known = lossesCache.get(pairs);
  if (known !== undefined) return known;
  const list = pairs.flatMap(lossesOf);
  lossesCache.set(pairs, list);
  return list;
}

/** Of one pair, which many lists hold. */
export const lossesOf = memoise((pair: LossPair): readonly LocatedLoss[] => {
  const list = (pair.localFailure?.lost ?? []).map((l) => ({ ...l, pair }));
  return list;
});

/** What is lost, for a sentence; `value` leads to it. */
export function lossWords({ name, pair }: LocatedLoss, value: string): string {
  const isItem = name === ITEM && !toDisjuncts(pair.a, MAX_DISJUNCTS).some((k) => k.properties.has(name));
  return isItem ? `what ${value.slice(0, -ITEM.length - 1) || 'the list'} holds` : name;
}

/** The way to what is lost. O(all that is lost on the way). */
export function pathToLoss(
  web: LossGraph,
  old: Schema,
  now: Schema,
  { pair }: LocatedLoss,
): FailurePath<LocalDifferences> | undefined {
  return web.shortestPath(web.nodeFor(old, now), pair);
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
