/** Objects that hold some keywords and break others. */
import { appendPointer } from '../../base/place.ts';
import { isTextEqual } from '../equality/equal-pairs.ts';
import { EMPTY_KEYWORDS, isBooleanSchema, type Keywords, type Schema, TRUE_SCHEMA } from '../model/schema.ts';
import { type DeclaredNames, isBranchNamesSchema } from '../normalise/declared-names.ts';
import { isEvaluated, mayEvaluateMore } from '../normalise/evaluated-names.ts';
import { isValid } from '../validate/validate.ts';
import { matchesPattern } from '../vocabulary/patterns.ts';
import { newProducerId } from './branches.ts';
import { candidateNames, namesByProducer } from './candidate-names.ts';
import {
  type Disjunct,
  EMPTY,
  joinResults,
  type Literal,
  type Satisfied,
  type SearchResult,
  type Solver,
  type Violated,
} from './problem.ts';

/** Objects of more properties are not written out. */
const MOST_FILLED = 20_000;

interface ObjectPlan {
  /** Properties that are there, each with what its value must not be. */
  readonly present: ReadonlyMap<string, readonly Schema[]>;
  readonly absent: ReadonlySet<string>;
  readonly low: number;
  readonly high: number;
}

export function solveObject(way: Disjunct, solver: Solver): SearchResult {
  const declared = namesByProducer(way, solver);
  let found: SearchResult = EMPTY;
  for (const wanted of objectPlans(way, declared, solver)) {
    found = joinResults(
      found,
      typeof wanted === 'string' ? { kind: 'undecided', why: wanted } : build(way, wanted, declared, solver),
    );
    if (found.kind === 'witness') return found;
  }
  // More may be looked at than what always is.
  const isUnsure = way.pos.some(
    ({ k }) => k.unevaluatedProperties !== undefined && mayEvaluateMore(k, way.pos, way.declarers.length > 0),
  );
  return found.kind === 'none' && isUnsure ? { kind: 'undecided', why: 'unevaluatedProperties' } : found;
}

function* objectPlans(
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
    else for (const name of names) if (wanted(name)) yield put(name, neg);
  };
  const put = (name: string, neg?: Schema): ObjectPlan => ({
    ...w,
    present: new Map([...w.present, [name, [...(w.present.get(name) ?? []), ...(neg === undefined ? [] : [neg])]]]),
  });
  switch (keyword) {
    case 'required':
      for (const name of k.required) if (!w.present.has(name)) yield { ...w, absent: new Set([...w.absent, name]) };
      return;
    case 'properties':
      for (const [name, schema] of k.properties) if (mayBreak(name, schema, way)) yield put(name, schema);
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
      for (const [name, others] of k.dependentRequired) {
        for (const other of others)
          if (!w.present.has(other) && other !== name) yield { ...put(name), absent: new Set([...w.absent, other]) };
      }
      return;
    case 'unevaluatedProperties':
      // There were too many ways to tell what else looks at names.
      if (unevaluatedName === undefined) yield 'unevaluatedProperties';
      else {
        const patternProperties = new Map(unevaluatedName.patterns.map((p) => [p, TRUE_SCHEMA]));
        yield* named(unevaluatedName.isLeft, k.unevaluatedProperties as Schema, { ...k, patternProperties });
      }
      return;
    case 'enum':
      yield w;
      return;
    default:
      return;
  }
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
function isOverridden({ schema, k, producerId: group }: Satisfied, name: string, { pos }: Disjunct): boolean {
  if (!k.properties.has(name) || !isBranchNamesSchema(schema)) return false;
  return pos.some((h) => h.producerId === group && h.k.properties.has(name) && !isBranchNamesSchema(h.schema));
}

function isDeclared(k: Keywords, name: string): boolean {
  return k.properties.has(name) || [...k.patternProperties.keys()].some((p) => matchesPattern(p, name) === true);
}

function build(way: Disjunct, wanted: ObjectPlan, declared: ReadonlyMap<number, DeclaredNames>, solver: Solver): SearchResult {
  const present = new Map(wanted.present);
  if (!addDependentRequired(present, way)) return EMPTY;
  if ([...present.keys()].some((name) => wanted.absent.has(name) || !allowed(name, way, declared))) return EMPTY;
  if (present.size > wanted.high || wanted.low > wanted.high) return EMPTY;
  const out: Record<string, unknown> = {};
  const groups = new Map<number, number>();
  // What must not be is seldom to be had, and ends most ways before anything else is looked for.
  const first = new Map<string, unknown>();
  for (const [name, neg] of present) {
    if (neg.length === 0) continue;
    const found = solver.solve({ pos: valueLiterals(name, way, groups), neg, at: appendPointer(way.at ?? '', name) });
    if (found.kind !== 'witness') return found;
    first.set(name, found.value);
  }
  for (const [name, neg] of present) {
    if (neg.length > 0) {
      put(out, name, first.get(name));
      continue;
    }
    const found = solver.solve({ pos: valueLiterals(name, way, groups), neg, at: appendPointer(way.at ?? '', name) });
    if (found.kind !== 'witness') return found;
    put(out, name, found.value);
  }
  return padToMinProperties(out, wanted, way, declared, solver);
}

/** Not by assignment: `__proto__` is a name like any other. */
function put(out: Record<string, unknown>, name: string, value: unknown): void {
  Object.defineProperty(out, name, { value, enumerable: true, configurable: true, writable: true });
}

/** Adds what the present properties need, until nothing is missing. */
function addDependentRequired(present: Map<string, readonly Schema[]>, way: Disjunct): boolean {
  for (const [name] of present) {
    for (const { k } of way.pos)
      for (const other of k.dependentRequired.get(name) ?? []) if (!present.has(other)) present.set(other, []);
  }
  return present.size < 10_000;
}

function allowed(name: string, way: Disjunct, declared: ReadonlyMap<number, DeclaredNames>): boolean {
  for (const d of declared.values())
    if (!d.allowsOthers && !d.names.has(name) && !d.patterns.some((p) => matchesPattern(p, name) === true)) return false;
  return way.pos.every(({ k }) => k.propertyNames === undefined || isValid(k.propertyNames, name));
}

/** What the value of a property has to be. */
function valueLiterals(name: string, way: Disjunct, groups: Map<number, number>): readonly Literal[] {
  return way.pos.flatMap((held): Literal[] => {
    const { k, producerId: group, isExclusiveBranch: counted } = held;
    if (isOverridden(held, name, way)) return [];
    const own = k.properties.get(name);
    const matching = [...k.patternProperties].filter(([p]) => matchesPattern(p, name) === true).map(([, s]) => s);
    const all = [...(own === undefined ? [] : [own]), ...matching];
    if (all.length === 0 && k.additional !== undefined) all.push(k.additional);
    if (all.length === 0 && k.unevaluatedProperties !== undefined && !isEvaluated(k, name, way.pos))
      all.push(k.unevaluatedProperties);
    if (all.length === 0 || group === 0) return all.map((schema) => ({ schema, producerId: 0, isExclusiveBranch: counted }));
    const inner = groups.get(group) ?? newProducerId();
    groups.set(group, inner);
    const saying = all.filter((schema) => !isBooleanSchema(schema, true));
    return (saying.length === 0 ? all.slice(0, 1) : saying).map((schema) => ({
      schema,
      producerId: inner,
      isExclusiveBranch: counted,
    }));
  });
}

/** Adds properties until there are enough, by one more name of each class as long as one of them may be there. */
function padToMinProperties(
  out: Record<string, unknown>,
  wanted: ObjectPlan,
  way: Disjunct,
  declared: ReadonlyMap<number, DeclaredNames>,
  solver: Solver,
): SearchResult {
  if (wanted.low > MOST_FILLED) return { kind: 'undecided', why: 'minProperties' };
  const tried = new Set([...Object.keys(out), ...wanted.absent]);
  let failed: SearchResult = EMPTY;
  let size = Object.keys(out).length;
  const enough = (): boolean => size >= wanted.low;
  const keep = (name: string, value: unknown): void => {
    put(out, name, value);
    size += 1;
  };
  for (let added = true; added && !enough(); ) {
    added = false;
    solver.count();
    const names = candidateNames(way, EMPTY_KEYWORDS, declared, tried);
    for (const name of names?.filter((n) => !tried.has(n)) ?? []) {
      if (enough()) break;
      tried.add(name);
      if (!allowed(name, way, declared)) continue;
      const needy = way.pos.some(({ k }) => k.dependentRequired.has(name));
      const found = needy
        ? UNFILLED
        : solver.solve({ pos: valueLiterals(name, way, new Map()), neg: [], at: appendPointer(way.at ?? '', name) });
      if (found.kind !== 'witness') failed = joinResults(failed, found);
      else {
        keep(name, found.value);
        added = true;
        // What holds of one name holds of all that nothing tells apart from it.
        for (const more of needy ? [] : similarNames(name, way)) {
          if (enough() || tried.has(more) || !allowed(more, way, declared)) break;
          tried.add(more);
          keep(more, found.value);
        }
      }
    }
    if (names === undefined) failed = UNFILLED;
  }
  return enough() ? { kind: 'witness', value: out } : failed;
}

/** The name with numbers behind it, in digits or in letters, as long as the same is said of them. */
function* similarNames(name: string, { pos }: Disjunct): Generator<string> {
  const isDeclared = (n: string): boolean => pos.some(({ k }) => k.properties.has(n) || k.dependentRequired.has(n));
  const patterns = [...new Set(pos.flatMap(({ k }) => [...k.patternProperties.keys()]))];
  if (isDeclared(name)) return;
  for (const inLetters of [false, true]) {
    for (let i = 2; ; i++) {
      const more = name + (inLetters ? toLetters(i) : i);
      if (isDeclared(more) || patterns.some((p) => matchesPattern(p, more) !== matchesPattern(p, name))) break;
      yield more;
    }
  }
}

function toLetters(count: number): string {
  return count < 26 ? String.fromCharCode(97 + count) : toLetters(Math.floor(count / 26) - 1) + toLetters(count % 26);
}

const UNFILLED: SearchResult = { kind: 'undecided', why: 'minProperties' };
