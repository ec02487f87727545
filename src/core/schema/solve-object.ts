/** Objects that hold some keywords and break others. */
import { example } from '../language/example.ts';
import { intersect } from '../language/language.ts';
import { decide } from '../language/limits.ts';
import { type Declared, declaredNames } from './declared.ts';
import { fits } from './fits.ts';
import type { Keywords, Schema } from './node.ts';
import { matchesPattern, patternLanguage } from './patterns.ts';
import { type Broken, better, type Found, type Literal, NOT_FOUND, type Solver, type Way } from './state.ts';
import { textsOf } from './texts.ts';
import { freshGroup, view } from './ways.ts';

/** How many optional properties are looked at to reach a count. */
const MOST_FILLED = 300;
const FRESH = ['extra', 'other', 'more', 'note', 'x-extra', 'Extra', 'extra1', '7', '_', 'é'];

interface Wanted {
  /** Properties that are there, each with what its value must not be. */
  readonly present: ReadonlyMap<string, readonly Schema[]>;
  readonly absent: ReadonlySet<string>;
  readonly low: number;
  readonly high: number;
}

export function solveObject(way: Way, solver: Solver): Found {
  const declared = declaredOf(way, solver);
  let found: Found = NOT_FOUND;
  for (const wanted of wants(way, declared, solver)) {
    found = better(found, typeof wanted === 'string' ? { kind: 'undecided', why: wanted } : build(way, wanted, declared, solver));
    if (found.kind === 'witness') return found;
  }
  return found;
}

function declaredOf(way: Way, { side }: Solver): ReadonlyMap<number, Declared> {
  const groups = new Map<number, Schema[]>();
  for (const { group, schema } of way.sources) groups.set(group, [...(groups.get(group) ?? []), schema]);
  return new Map(
    [...groups].map(([group, schemas]) => {
      const d = declaredNames(schemas, (s) => view(s, side));
      // Where nothing is declared, anything may be sent.
      return [group, { ...d, open: d.open || (d.names.size === 0 && d.patterns.length === 0) }];
    }),
  );
}

function* wants(way: Way, declared: ReadonlyMap<number, Declared>, solver: Solver): Generator<Wanted | string> {
  const present = new Map<string, readonly Schema[]>(
    [...way.pos.flatMap(({ k }) => k.required), ...way.present].map((name) => [name, []]),
  );
  const first: Wanted = {
    present,
    absent: new Set(way.absent),
    low: Math.max(0, ...way.pos.map(({ k }) => k.minProperties ?? 0)),
    high: Math.min(Infinity, ...way.pos.map(({ k }) => k.maxProperties ?? Infinity)),
  };
  yield* breakAll(way.broken, first, way, declared, solver);
}

/** Depth first, so that the first combination that works ends it. */
function* breakAll(
  broken: readonly Broken[],
  wanted: Wanted,
  way: Way,
  declared: ReadonlyMap<number, Declared>,
  solver: Solver,
): Generator<Wanted | string> {
  const [b, ...rest] = broken;
  if (b === undefined) {
    solver.count();
    yield wanted;
    return;
  }
  for (const option of breakOne(b, wanted, way, solver)) {
    if (typeof option === 'string') yield option;
    else yield* breakAll(rest, option, way, declared, solver);
  }
}

function* breakOne({ k, keyword }: Broken, w: Wanted, way: Way, solver: Solver): Generator<Wanted | string> {
  const put = (name: string, neg?: Schema): Wanted => ({
    ...w,
    present: new Map([...w.present, [name, [...(w.present.get(name) ?? []), ...(neg === undefined ? [] : [neg])]]]),
  });
  switch (keyword) {
    case 'required':
      for (const name of k.required) if (!w.present.has(name)) yield { ...w, absent: new Set([...w.absent, name]) };
      return;
    case 'properties':
      for (const [name, schema] of k.properties) yield put(name, schema);
      return;
    case 'minProperties':
      yield { ...w, high: Math.min(w.high, (k.minProperties as number) - 1) };
      return;
    case 'maxProperties':
      yield { ...w, low: Math.max(w.low, (k.maxProperties as number) + 1) };
      return;
    case 'additional':
      for (const name of namesOutside(k, way)) yield put(name, k.additional as Schema);
      return;
    case 'patternProperties':
      for (const [pattern, schema] of k.patternProperties) {
        for (const name of namesMatching(pattern, way, k)) yield put(name, schema);
        if (patternLanguage(pattern) === undefined) yield 'patternProperties';
      }
      return;
    case 'propertyNames':
      for (const name of candidates(way, k)) if (!fits(k.propertyNames as Schema, name)) yield put(name);
      yield* outsideOf(k.propertyNames as Schema, put);
      return;
    case 'dependentRequired':
      for (const [name, others] of k.dependentRequired) {
        for (const other of others)
          if (!w.present.has(other) && other !== name) yield { ...put(name), absent: new Set([...w.absent, other]) };
      }
      return;
    case 'unevaluatedProperties':
      if (
        k.anyOf !== undefined ||
        k.oneOf !== undefined ||
        k.if !== undefined ||
        k.dependentSchemas.size > 0 ||
        k.ref !== undefined ||
        k.allOf.length > 0
      )
        yield 'unevaluatedProperties';
      else for (const name of namesOutside(k, way)) yield put(name, k.unevaluatedProperties as Schema);
      return;
    case 'enum':
      yield w;
      return;
    default:
      return void solver;
  }
}

/** Names that the schemas of this way know, and some that nobody does. */
function candidates(way: Way, also: Keywords): readonly string[] {
  const names = new Set<string>();
  for (const { k } of [...way.pos, ...way.broken, { k: also }]) {
    for (const name of k.properties.keys()) names.add(name);
    for (const name of k.required) names.add(name);
    for (const pattern of k.patternProperties.keys()) for (const name of examplesOf(pattern)) names.add(name);
    if (k.propertyNames !== undefined) for (const name of nameExamples(k.propertyNames)) names.add(name);
  }
  return [...names, ...FRESH];
}

function examplesOf(pattern: string): readonly string[] {
  const language = patternLanguage(pattern);
  const text = language === undefined ? undefined : example(language);
  return text === undefined ? [] : [text];
}

function nameExamples(schema: Schema): readonly string[] {
  const texts = decide(() => textsOf(schema, ','));
  const text = texts.decided && texts.value.decided ? example(texts.value.value) : undefined;
  return text === undefined ? [] : [text];
}

function* outsideOf(schema: Schema, put: (name: string) => Wanted): Generator<Wanted | string> {
  const k = schema.keywords();
  if (typeof k !== 'boolean' && k.pattern !== undefined && patternLanguage(k.pattern) === undefined) yield 'propertyNames';
  void put;
}

/** Names to which `additionalProperties` of these keywords speaks. */
function namesOutside(k: Keywords, way: Way): readonly string[] {
  return candidates(way, k).filter(
    (name) => !k.properties.has(name) && ![...k.patternProperties.keys()].some((p) => matchesPattern(p, name) === true),
  );
}

function namesMatching(pattern: string, way: Way, k: Keywords): readonly string[] {
  const own = patternLanguage(pattern);
  const shared = way.pos
    .flatMap(({ k: other }) => [...other.patternProperties.keys()])
    .flatMap((p) => {
      const language = patternLanguage(p);
      const both = own === undefined || language === undefined ? undefined : decide(() => example(intersect(own, language)));
      return both?.decided === true && both.value !== undefined ? [both.value] : [];
    });
  return [...new Set([...shared, ...candidates(way, k)])].filter((name) => matchesPattern(pattern, name) === true);
}

function build(way: Way, wanted: Wanted, declared: ReadonlyMap<number, Declared>, solver: Solver): Found {
  const present = new Map(wanted.present);
  if (!complete(present, way)) return NOT_FOUND;
  if ([...present.keys()].some((name) => wanted.absent.has(name) || !allowed(name, way, declared))) return NOT_FOUND;
  if (present.size > wanted.high || wanted.low > wanted.high) return NOT_FOUND;
  const out: Record<string, unknown> = {};
  const groups = new Map<number, number>();
  for (const [name, neg] of present) {
    const found = solver.solve({ pos: valueLiterals(name, way, declared, groups), neg });
    if (found.kind !== 'witness') return found;
    put(out, name, found.value);
  }
  return fill(out, wanted, way, declared, solver);
}

/** Not by assignment: `__proto__` is a name like any other. */
function put(out: Record<string, unknown>, name: string, value: unknown): void {
  Object.defineProperty(out, name, { value, enumerable: true, configurable: true, writable: true });
}

/** Adds what the present properties need, until nothing is missing. */
function complete(present: Map<string, readonly Schema[]>, way: Way): boolean {
  for (const [name] of present) {
    for (const { k } of way.pos)
      for (const other of k.dependentRequired.get(name) ?? []) if (!present.has(other)) present.set(other, []);
  }
  return present.size < 10_000;
}

function allowed(name: string, way: Way, declared: ReadonlyMap<number, Declared>): boolean {
  for (const d of declared.values())
    if (!d.open && !d.names.has(name) && !d.patterns.some((p) => matchesPattern(p, name) === true)) return false;
  return way.pos.every(({ k }) => k.propertyNames === undefined || fits(k.propertyNames, name));
}

/** What the value of a property has to be. */
function valueLiterals(
  name: string,
  way: Way,
  declared: ReadonlyMap<number, Declared>,
  groups: Map<number, number>,
): readonly Literal[] {
  return way.pos.flatMap(({ k, group }): Literal[] => {
    const own = k.properties.get(name);
    const matching = [...k.patternProperties].filter(([p]) => matchesPattern(p, name) === true).map(([, s]) => s);
    const all = [...(own === undefined ? [] : [own]), ...matching];
    if (all.length === 0 && k.additional !== undefined) all.push(k.additional);
    const d = declared.get(group);
    if (all.length === 0 && k.unevaluatedProperties !== undefined && d?.names.has(name) !== true)
      all.push(k.unevaluatedProperties);
    if (all.length === 0 || group === 0) return all.map((schema) => ({ schema, group: 0 }));
    const inner = groups.get(group) ?? freshGroup();
    groups.set(group, inner);
    return all.map((schema) => ({ schema, group: inner }));
  });
}

function fill(
  out: Record<string, unknown>,
  wanted: Wanted,
  way: Way,
  declared: ReadonlyMap<number, Declared>,
  solver: Solver,
): Found {
  let undecided: Found | undefined;
  const names = [
    ...new Set([
      ...way.pos.flatMap(({ k }) => [...k.properties.keys()]),
      ...FRESH,
      ...Array.from({ length: Math.min(MOST_FILLED, wanted.low) }, (_, i) => `extra${i}`),
    ]),
  ];
  for (const name of names) {
    if (Object.keys(out).length >= wanted.low) break;
    if (name in out || wanted.absent.has(name) || !allowed(name, way, declared)) continue;
    if (way.pos.some(({ k }) => k.dependentRequired.has(name))) continue;
    const found = solver.solve({ pos: valueLiterals(name, way, declared, new Map()), neg: [] });
    if (found.kind === 'witness') put(out, name, found.value);
    else if (found.kind === 'undecided') undecided = found;
  }
  if (Object.keys(out).length >= wanted.low) return { kind: 'witness', value: out };
  const open = [...declared.values()].every((d) => d.open || d.patterns.length > 0);
  // With names of one's own choosing there may be more than were tried.
  const free =
    open &&
    way.pos.some(({ k }) => k.patternProperties.size > 0 || k.propertyNames !== undefined || k.dependentRequired.size > 0);
  return undecided ?? (free ? { kind: 'undecided', why: 'minProperties' } : NOT_FOUND);
}
