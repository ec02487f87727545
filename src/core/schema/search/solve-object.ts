/** Objects that hold some keywords and break others. */
import { appendPointer } from '../../base/place.ts';
import { EMPTY_KEYWORDS, isBooleanSchema, type Schema } from '../model/schema.ts';
import type { DeclaredNames } from '../normalise/declared-names.ts';
import { isEvaluated, mayEvaluateMore } from '../normalise/evaluated-names.ts';
import { matchesPattern } from '../vocabulary/patterns.ts';
import { newProducerId } from './branches.ts';
import { candidateNames, namesByProducer } from './candidate-names.ts';
import { allowed, isOverridden, type ObjectPlan, objectPlans } from './object-plans.ts';
import { type Disjunct, EMPTY, joinResults, type Literal, type SearchResult, type Solver } from './problem.ts';

/** Objects of more properties are not written out. */
const MOST_FILLED = 20_000;

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
      defineProperty(out, name, first.get(name));
      continue;
    }
    const found = solver.solve({ pos: valueLiterals(name, way, groups), neg, at: appendPointer(way.at ?? '', name) });
    if (found.kind !== 'witness') return found;
    defineProperty(out, name, found.value);
  }
  return padToMinProperties(out, wanted, way, declared, solver);
}

/** Not by assignment: `__proto__` is a name like any other. */
function defineProperty(out: Record<string, unknown>, name: string, value: unknown): void {
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
    defineProperty(out, name, value);
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
