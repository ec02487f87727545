/**
 * Schemas that lead back to themselves while they speak of one value: a base that lists its forms, each of which takes all
 * of the base. The standard leaves open what that means (JSON Schema Core 2020-12, 9.4.1); people mean what is left when
 * the way back is taken out.
 */

import { isMapping } from '../../base/json.ts';
import { stronglyConnectedComponents } from '../../base/strong-components.ts';
import { hasNoInPlaceApplicators, idOf, type Keywords, type Schema } from '../../schema/model/schema.ts';

/** A schema of a document, as it is written and as it is read on the way round a circle. */
export interface CyclicSchema extends Schema {
  /** As it is written, with its circles. */
  readonly own: () => Keywords | boolean;
  /** Undefined where it is read first. */
  readonly turn?: Unrolling | undefined;
  /** The same schema as it is read after these. */
  readonly unrolledAfter: (passed: readonly PathStep[]) => Schema;
  /** Found once. */
  circle: Cycle | undefined;
}

/** The schema as it is read first, and what was read of its circle before it is read now. */
export interface Unrolling {
  readonly first: CyclicSchema;
  readonly passed: readonly PathStep[];
}

/** A schema on the way, and whether there was nothing but forms since. */
interface PathStep {
  readonly by: CyclicSchema;
  readonly formsOnly: boolean;
}

/** Schemas that lead to each other, about the same value. */
export interface Cycle {
  readonly members: ReadonlySet<Schema>;
  /** How many of its schemas were read after others. */
  readings: number;
}

/**
 * At most this many unrollings per member of a cycle: a base and its forms take two, forms that all list each other as
 * many as there are ways. What is left then adds nothing.
 */
const MOST_READINGS = 20;

const NONE: readonly CyclicSchema[] = [];
const NO_CIRCLE: Cycle = { members: new Set(), readings: 0 };

/** What a schema says where no way leads back. Circles are found once for all that are in them. */
export function breakCycles(schema: CyclicSchema): Keywords | boolean {
  const own = schema.own();
  if (typeof own === 'boolean' || hasNoInPlaceApplicators(own) || schema.alone?.() !== undefined) return own;
  const circle = cycleOf(schema);
  return circle.members.size === 0 ? own : withoutBackEdges(schema, own, circle);
}

function cycleOf(schema: CyclicSchema): Cycle {
  if (schema.circle !== undefined) return schema.circle;
  const next = sameValue(schema);
  // Most lead to nothing that leads further.
  if (next.every((s) => s !== schema && (s.circle !== undefined || sameValue(s).length === 0))) schema.circle = NO_CIRCLE;
  for (const members of stronglyConnectedComponents<CyclicSchema>(schema, sameValue, (s) => s.circle !== undefined)) {
    const [one] = members as readonly [CyclicSchema];
    const isCircle = members.length > 1 || sameValue(one).includes(one);
    const circle = isCircle ? { members: new Set<Schema>(members), readings: 0 } : NO_CIRCLE;
    for (const member of members) member.circle = circle;
  }
  return schema.circle ?? NO_CIRCLE;
}

const COMBINING = ['$ref', '$dynamicRef', 'allOf', 'anyOf', 'oneOf', 'not', 'if', 'dependentSchemas'];

/** What speaks of the same value, as it is written. Most speak alone, which their text tells, and need not be read for it. */
function sameValue(schema: CyclicSchema): readonly CyclicSchema[] {
  const { raw } = schema;
  if (isMapping(raw) && !COMBINING.some((key) => key in raw)) return NONE;
  const own = schema.own();
  if (typeof own === 'boolean' || hasNoInPlaceApplicators(own)) return [];
  const { ref, allOf, anyOf = [], oneOf = [], not, if: test, then, else: other, dependentSchemas } = own;
  const all = [ref, ...allOf, ...anyOf, ...oneOf, not, test, then, other, ...dependentSchemas.values()];
  return all.flatMap((s) => (s === undefined ? [] : [endOf(s)])).filter(isCircling);
}

/** Past all references beside which nothing counts; `target` would ask what schemas say while that is being found out. */
function endOf(schema: Schema): Schema {
  const seen = new Set([schema]);
  for (const s of seen) {
    const next = s.alone?.();
    if (next === undefined) return s;
    seen.add(next);
  }
  return schema;
}

function isCircling(schema: Schema): schema is CyclicSchema {
  return 'circle' in schema;
}

const unrollCache = new WeakMap<CyclicSchema, Map<string, Schema>>();

/** The same node for the same that was passed, in whatever order; undefined where there are too many. */
function unroll(schema: CyclicSchema, passed: readonly PathStep[], circle: Cycle): Schema | undefined {
  const row = unrollCache.get(schema) ?? new Map<string, Schema>();
  unrollCache.set(schema, row);
  const key = passed
    .map((p) => `${idOf(p.by)}${p.formsOnly ? '|' : '&'}`)
    .sort()
    .join();
  const known = row.get(key);
  if (known !== undefined || circle.readings >= MOST_READINGS * circle.members.size) return known;
  circle.readings += 1;
  const made = schema.unrolledAfter(passed);
  row.set(key, made);
  return made;
}

/** What becomes of a part: it stays as it is or is read from here; it holds as soon as all else does; or it adds no value. */
type Part = Schema | 'holds' | 'adds nothing';

function withoutBackEdges(schema: CyclicSchema, own: Keywords, circle: Cycle): Keywords {
  const before = schema.turn?.passed ?? [];
  const partOf = (written: Schema, isForm: boolean): Part => {
    const to = endOf(written);
    if (!circle.members.has(to) || !isCircling(to)) return written;
    const since = before.map(({ by, formsOnly }) => ({ by, formsOnly: formsOnly && isForm }));
    const passed = [...since, { by: schema.turn?.first ?? schema, formsOnly: isForm }];
    const back = passed.find((p) => p.by === to);
    if (back !== undefined) return back.formsOnly ? 'adds nothing' : 'holds';
    return unroll(to, passed, circle) ?? (isForm ? 'adds nothing' : 'holds');
  };
  const part = (written: Schema | undefined): Schema | undefined => {
    const made = written === undefined ? undefined : partOf(written, false);
    return typeof made === 'string' ? undefined : made;
  };
  const forms = (written: readonly Schema[] | undefined): readonly Schema[] | undefined => {
    // Where one of them holds, the others need not be read.
    if (written?.some((s) => before.some((p) => p.by === endOf(s) && !p.formsOnly))) return undefined;
    const left = (written ?? []).map((s) => partOf(s, true)).filter((s) => typeof s !== 'string');
    return left.length === 0 ? undefined : left;
  };
  const test = part(own.if);
  return {
    ...own,
    ref: part(own.ref),
    allOf: own.allOf.flatMap((s) => part(s) ?? []),
    anyOf: forms(own.anyOf),
    oneOf: forms(own.oneOf),
    not: part(own.not),
    if: test,
    // biome-ignore lint/suspicious/noThenProperty: the keyword of JSON Schema
    then: test === undefined ? test : part(own.then),
    else: test === undefined ? test : part(own.else),
    dependentSchemas: new Map([...own.dependentSchemas].flatMap(([name, s]) => pairOf(name, part(s)))),
  } as Keywords;
}

function pairOf(name: string, schema: Schema | undefined): readonly (readonly [string, Schema])[] {
  return schema === undefined ? [] : [[name, schema]];
}
