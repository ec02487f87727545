/** Which properties a message can contain (over-approximation), and which schemas have no value. */
import { example } from '../../language/example.ts';
import { compareText, textEqualProperties } from '../../schema/equality/equal-pairs.ts';
import { isObviouslyInhabited } from '../../schema/equality/quick-nonempty.ts';
import { dereference, isBooleanSchema, type Keywords, type Schema } from '../../schema/model/schema.ts';
import type { Side } from '../../schema/model/side.ts';
import { isExcludedFrom } from '../../schema/model/side-view.ts';
import { findInhabitant } from '../../schema/search/witness.ts';
import { matchesPattern, patternLanguage } from '../../schema/vocabulary/patterns.ts';
import { SAMPLE_NAMES } from '../../schema/vocabulary/sample-names.ts';

/** What may come by any part or form of a schema. */
export interface PossibleProperties {
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

export function mayOccur({ names, patterns, open }: PossibleProperties, name: string): boolean {
  return open || names.has(name) || [...patterns.keys()].some((p) => matchesPattern(p, name) !== false);
}

/** What a name may hold by any of these ways, whether it is declared or not. */
export function schemasAtName(ways: readonly Keywords[], name: string, side: 'request' | 'response'): ReadonlySet<Schema> {
  const out = new Set<Schema>();
  for (const k of ways) {
    const own = k.properties.get(name);
    const matching = own === undefined ? [...k.patternProperties].filter(([p]) => matchesPattern(p, name) === true) : [];
    const all = own === undefined ? matching.map(([, s]) => s) : [own];
    const rest = k.additional ?? k.unevaluatedProperties;
    if (all.length === 0 && rest !== undefined) all.push(rest);
    for (const schema of all) if (canBeSent(schema, side)) out.add(schema);
  }
  return out;
}

/** A name that a pattern matches, one that people would give where there is one. */
export function exampleName(pattern: string): string | undefined {
  const language = patternLanguage(pattern);
  return language === undefined ? undefined : example(language, SAMPLE_NAMES);
}

const coming = { request: new WeakMap<Schema, PossibleProperties>(), response: new WeakMap<Schema, PossibleProperties>() };

export function possibleProperties(schema: Schema, side: 'request' | 'response'): PossibleProperties {
  const known = coming[side].get(schema);
  if (known !== undefined) return known;
  const out: PossibleProperties = {
    names: new Set(),
    patterns: new Map(),
    others: new Set(),
    first: [],
    items: new Set(),
    open: false,
  };
  const seen = new Set([schema]);
  let isShut = false;
  for (const s of seen) {
    const k = s.keywords();
    if (typeof k === 'boolean') continue;
    for (const [name, value] of k.properties) if (canBeSent(value, side)) out.names.add(name);
    for (const [pattern, value] of k.patternProperties)
      out.patterns.set(pattern, (out.patterns.get(pattern) ?? new Set()).add(value));
    k.prefixItems.forEach((value, n) => {
      out.first[n] = (out.first[n] ?? new Set()).add(value);
    });
    if (k.items !== undefined) out.items.add(k.items);
    for (const more of [k.additional, k.unevaluatedProperties]) {
      if (more === undefined) continue;
      if (isBooleanSchema(more, false)) isShut = true;
      else out.others.add(more);
    }
    const parts = [k.ref, ...k.allOf, ...(k.anyOf ?? []), ...(k.oneOf ?? []), k.then, k.else, ...k.dependentSchemas.values()];
    for (const part of parts) if (part !== undefined) seen.add(part);
  }
  // What declares nothing may be anything, unless it says otherwise.
  out.open = out.others.size > 0 || (out.names.size === 0 && out.patterns.size === 0 && !isShut);
  coming[side].set(schema, out);
  return out;
}

function canBeSent(schema: Schema, side: 'request' | 'response'): boolean {
  return !isExcludedFrom(schema, side) && !isBooleanSchema(schema, false);
}

const never: Readonly<Record<Side, WeakMap<Schema, boolean>>> = {
  request: new WeakMap(),
  response: new WeakMap(),
  either: new WeakMap(),
};

/** Is there no value at all that it holds? Most often it is seen at once that there is one. */
export function isEmptySchema(schema: Schema, side: Side): boolean {
  if (isObviouslyInhabited(schema)) return false;
  const answer = never[side].get(schema) ?? findInhabitant(schema, side).kind === 'none';
  never[side].set(schema, answer);
  return answer;
}

/** Could something stand there, and nothing can any more? */
export function becameEmpty(old: ReadonlySet<Schema>, now: Schema, side: 'request' | 'response'): boolean {
  // Most are as they were, or lead to something that is not: what became of that is told there.
  for (const s of old) {
    const twin = compareText(dereference(s), dereference(now));
    if (!twin.differs || twin.differingChildren !== undefined) return false;
  }
  return isEmptySchema(now, side) && ![...old].every((s) => isEmptySchema(s, side));
}

/** Are all lists empty, where there may be lists? */
export function hasNoItems(ways: readonly Keywords[], side: 'request' | 'response'): boolean {
  const lists = ways.filter((k) => k.types === undefined || k.types.includes('array'));
  return (
    lists.length > 0 &&
    lists.every(
      (k) =>
        k.maxItems === 0 ||
        (k.prefixItems.length === 0 &&
          k.items !== undefined &&
          (isBooleanSchema(k.items, false) || isEmptySchema(k.items, side))),
    )
  );
}

/** Those that may come by any way, but for some. */
export function propertiesOf(
  ways: readonly Keywords[],
  side: 'request' | 'response',
  but: ReadonlySet<string>,
): ReadonlyMap<string, ReadonlySet<Schema>> {
  const out = new Map<string, Set<Schema>>();
  for (const k of ways)
    for (const [name, schema] of k.properties)
      if (!but.has(name) && canBeSent(schema, side)) out.set(name, (out.get(name) ?? new Set()).add(schema));
  return out;
}

const NONE: ReadonlySet<string> = new Set();

/** Names of which the same is said, where there is one way: most of them, which need no closer look. */
export function unchangedNames([was, ...others]: readonly Keywords[], [is, ...more]: readonly Keywords[]): ReadonlySet<string> {
  return was === undefined || is === undefined || others.length + more.length > 0 ? NONE : textEqualProperties(was, is);
}
