/** Plans of objects: which properties are there, so that some keywords hold and others are broken. */
import { isTextEqual } from '../equality/equal-pairs.ts';
import { isBooleanSchema, type Keywords, type Schema, TRUE_SCHEMA } from '../model/schema.ts';
import { type DeclaredNames, isBranchNamesSchema } from '../normalise/declared-names.ts';
import { isValid } from '../validate/validate.ts';
import { matchesPattern } from '../vocabulary/patterns.ts';
import { candidateNames } from './candidate-names.ts';
import type { Disjunct, Satisfied, Solver, Violated } from './problem.ts';

/** Which properties an object has, and how many. */
export interface ObjectPlan {
  /** Properties that are there, each with what its value must not be. */
  readonly present: ReadonlyMap<string, readonly Schema[]>;
  readonly absent: ReadonlySet<string>;
  readonly low: number;
  readonly high: number;
}

/** Every plan that holds what has to hold and breaks what has to break; a keyword where it could not be told. */
export function* objectPlans(
  way: Disjunct,
  declared: ReadonlyMap<number, DeclaredNames>,
  solver: Solver,
): Generator<ObjectPlan | string> {
  const present = new Map<string, readonly Schema[]>(
    [...way.pos.flatMap(({ k }) => k.required), ...way.present].map((name) => [name, []]),
  );
  const first: ObjectPlan = {
    present,
    absent: new Set(way.absent),
    low: Math.max(0, ...way.pos.map(({ k }) => k.minProperties ?? 0)),
    high: Math.min(Infinity, ...way.pos.map(({ k }) => k.maxProperties ?? Infinity)),
  };
  // What can be broken in the fewest ways first: where one can't be broken at all nothing has to be combined.
  const options = way.broken.map((b) => ({ b, n: countViolations(b, first, way, declared) })).sort((x, y) => x.n - y.n);
  if (options[0]?.n === 0) return;
  const broken = options.map((o) => o.b);
  yield* breakAll(broken, first, way, declared, solver);
}

function countViolations(b: Violated, wanted: ObjectPlan, way: Disjunct, declared: ReadonlyMap<number, DeclaredNames>): number {
  let n = 0;
  for (const option of breakOne(b, wanted, way, declared))
    if (typeof option === 'string' || isFeasible(option, wanted, way, declared)) n += 1;
  return n;
}

/** Depth first, so that the first combination that works ends it. */
function* breakAll(
  broken: readonly Violated[],
  wanted: ObjectPlan,
  way: Disjunct,
  declared: ReadonlyMap<number, DeclaredNames>,
  solver: Solver,
): Generator<ObjectPlan | string> {
  solver.count();
  const [b, ...rest] = broken;
  if (b === undefined) {
    yield wanted;
    return;
  }
  for (const option of breakOne(b, wanted, way, declared)) {
    if (typeof option === 'string') yield option;
    else if (isFeasible(option, wanted, way, declared)) yield* breakAll(rest, option, way, declared, solver);
  }
}

/** Is what was added to a wish no contradiction? */
function isFeasible(
  wanted: ObjectPlan,
  before: ObjectPlan,
  way: Disjunct,
  declared: ReadonlyMap<number, DeclaredNames>,
): boolean {
  const { present, absent } = wanted;
  if (absent !== before.absent) for (const name of absent) if (present.has(name)) return false;
  if (present !== before.present)
    for (const name of present.keys())
      if (!before.present.has(name) && (absent.has(name) || !allowed(name, way, declared))) return false;
  return present.size <= wanted.high && wanted.low <= wanted.high;
}

function* breakOne(
  { k, keyword, unevaluatedName }: Violated,
  w: ObjectPlan,
  way: Disjunct,
  declared: ReadonlyMap<number, DeclaredNames>,
): Generator<ObjectPlan | string> {
  const named = function* (wanted: (name: string) => boolean, neg?: Schema, also = k): Generator<ObjectPlan | string> {
    const names = candidateNames(way, also, declared, [...w.present.keys(), ...w.absent]);
    if (names === undefined) yield keyword;
    else for (const name of names) if (wanted(name)) yield withProperty(w, name, neg);
  };
  switch (keyword) {
    case 'required':
      for (const name of k.required) if (!w.present.has(name)) yield { ...w, absent: new Set([...w.absent, name]) };
      return;
    case 'properties':
      for (const [name, schema] of k.properties) if (mayBreak(name, schema, way)) yield withProperty(w, name, schema);
      return;
    case 'minProperties':
      yield { ...w, high: Math.min(w.high, (k.minProperties as number) - 1) };
      return;
    case 'maxProperties':
      yield { ...w, low: Math.max(w.low, (k.maxProperties as number) + 1) };
      return;
    case 'additional':
      yield* named((name) => !isDeclared(k, name), k.additional as Schema);
      return;
    case 'patternProperties':
      for (const [pattern, schema] of k.patternProperties) yield* named((name) => matchesPattern(pattern, name) === true, schema);
      return;
    case 'propertyNames':
      yield* named((name) => !isValid(k.propertyNames as Schema, name));
      return;
    case 'dependentRequired':
      yield* withoutDependents(k, w);
      return;
    case 'unevaluatedProperties':
      // There were too many ways to tell what else looks at names.
      if (unevaluatedName === undefined) yield 'unevaluatedProperties';
      else yield* named(unevaluatedName.isLeft, k.unevaluatedProperties as Schema, withPatterns(k, unevaluatedName.patterns));
      return;
    case 'enum':
      yield w;
      return;
    default:
      return;
  }
}

function* withoutDependents(k: Keywords, w: ObjectPlan): Generator<ObjectPlan> {
  for (const [name, others] of k.dependentRequired) {
    for (const other of others)
      if (!w.present.has(other) && other !== name) yield { ...withProperty(w, name), absent: new Set([...w.absent, other]) };
  }
}

/** The plan with one more property, whose value is not to be valid under `neg`. */
function withProperty(plan: ObjectPlan, name: string, neg?: Schema): ObjectPlan {
  const known = plan.present.get(name) ?? [];
  return { ...plan, present: new Map([...plan.present, [name, neg === undefined ? known : [...known, neg]]]) };
}

function withPatterns(k: Keywords, patterns: readonly string[]): Keywords {
  return { ...k, patternProperties: new Map(patterns.map((p) => [p, TRUE_SCHEMA])) };
}

/** Not where the same is said of the property anyway. */
function mayBreak(name: string, schema: Schema, way: Disjunct): boolean {
  if (isBooleanSchema(schema, true)) return false;
  return !way.pos.some((held) => {
    const own = isOverridden(held, name, way) ? undefined : held.k.properties.get(name);
    return own !== undefined && isTextEqual(own, schema);
  });
}

/** What other forms declare is meant where nothing else declares it. */
export function isOverridden({ schema, k, producerId: group }: Satisfied, name: string, { pos }: Disjunct): boolean {
  if (!k.properties.has(name) || !isBranchNamesSchema(schema)) return false;
  return pos.some((h) => h.producerId === group && h.k.properties.has(name) && !isBranchNamesSchema(h.schema));
}

function isDeclared(k: Keywords, name: string): boolean {
  return k.properties.has(name) || [...k.patternProperties.keys()].some((p) => matchesPattern(p, name) === true);
}

/** May a property of this name be there? */
export function allowed(name: string, way: Disjunct, declared: ReadonlyMap<number, DeclaredNames>): boolean {
  for (const d of declared.values())
    if (!d.allowsOthers && !d.names.has(name) && !d.patterns.some((p) => matchesPattern(p, name) === true)) return false;
  return way.pos.every(({ k }) => k.propertyNames === undefined || isValid(k.propertyNames, name));
}
