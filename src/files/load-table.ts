/** A route table with everything it includes, as routes. */
import { appendPointer } from '../core/base/place.ts';
import { LimitReached } from '../core/language/limits.ts';
import type { Style } from '../core/paths/pattern.ts';
import { amongType, type NamedTypes, type ParameterType, regexType } from '../core/paths/types.ts';
import type { Entry, FromEntry, IncludeEntry } from '../core/routes/table/entries.ts';
import { type ExpandOptions, expand } from '../core/routes/table/expand.ts';
import type { Flaw, RouteTable } from '../core/routes/table/route.ts';
import { factsFrom } from '../core/routes/table/router-facts.ts';
import { type RouteTableFile, routeTable } from './formats/route-table.ts';
import { type FromReading, nothingRead, readFrom } from './from.ts';
import { InputFailure, type Problem } from './problem.ts';
import { locate, type Source } from './source.ts';
import { besideName, type Sources } from './sources.ts';
import { validate } from './validate.ts';

/** Reads a table and its includes. Fails with all problems of a file; a cycle of includes is one. */
export function loadTable(file: string, sources: Sources, mount = '/'): RouteTable {
  const source = sources.load(file);
  const parsed = validate(source, routeTable as never) as RouteTableFile;
  const style = parsed.style ?? 'brace';
  const types = namedTypes(source, parsed);
  const loaded = new Map<string, Loaded>();
  const reading: Reading = { file, trail: [file], sources, loaded, types: new Set(types.keys()), froms: new Map() };
  const entries = withIncludes(parsed.routes as Entry[], reading);
  const facts = factsFrom(parsed.router ?? {});
  const place = { file, pointer: '' };
  const tables = [source, ...[...loaded.keys()].map((name) => sources.load(name))];
  const written =
    tables.reduce((sum, { text }) => sum + text.length, 0) + [...reading.froms.values()].reduce((sum, { size }) => sum + size, 0);
  const { routes, flaws } = expanded(file, entries, {
    most: LEAST_ROUTES + Math.floor(written / 2),
    style,
    styleIsSaid: parsed.style !== undefined,
    types,
    place,
    mount,
    unmatched: facts.unmatched,
    textPrefix: facts.prefix === 'text',
    groupRoot: facts.groupRoot === 'unknown' ? 'prefix' : facts.groupRoot,
  });
  return {
    service: parsed.service ?? serviceName(file),
    style,
    facts,
    types,
    routes,
    flaws: [...flaws, ...(parsed.sharedNames ? [] : twiceNamed(routes))],
    place,
  };
}

/** A table may stand for so many routes, and for one more with each two characters of its files. */
export const LEAST_ROUTES = 20_000;

function expanded(file: string, entries: readonly Entry[], options: ExpandOptions): ReturnType<typeof expand> {
  try {
    return expand(entries, options);
  } catch (error) {
    if (!(error instanceof LimitReached)) throw error;
    const message = `${error.message}, far more than its files declare; look for tables that are included twice and aliases of groups`;
    throw new InputFailure([{ file, line: 1, column: 1, message }]);
  }
}

type Loaded = NonNullable<IncludeEntry['loaded']>;

interface Reading {
  readonly file: string;
  /** The files that led here, for the error that tells of a cycle. */
  readonly trail: readonly string[];
  readonly sources: Sources;
  /** The names of the types that the table declares. */
  readonly types: ReadonlySet<string>;
  /** What was read of each source, by what its entry says: the same entry may stand in many places. */
  readonly froms: Map<string, FromReading>;
  /** Each table is read once, however often it is included. */
  readonly loaded: Map<string, Loaded>;
}

function withIncludes(entries: readonly Entry[], reading: Reading, pointer = '/routes'): Entry[] {
  return entries.map((entry, i) => {
    const at = appendPointer(pointer, i);
    if (typeof entry === 'string') return entry;
    if ('include' in entry) return { ...entry, loaded: included(entry, at, reading) };
    if ('from' in entry) return { ...entry, loaded: rowsOf(entry, at, reading) };
    if ('within' in entry) return { ...entry, routes: withIncludes(entry.routes, reading, appendPointer(at, 'routes')) };
    if ('below' in entry && entry.below !== undefined)
      return { ...entry, below: withIncludes(entry.below, reading, appendPointer(at, 'below')) };
    return entry;
  });
}

/** The rows of a source; a source of which nothing was understood is a problem of the entry. */
function rowsOf(entry: FromEntry, at: string, { file, sources, types, froms }: Reading): FromReading {
  const problem = (message: string): never => {
    const position = locate(sources.load(file), [at]).get(at);
    throw new InputFailure([{ file, ...position, message: `${entry.from}: ${message}` }]);
  };
  if (entry.from === '-') problem('a table reads no standard input; "elm-gate import -" copies what comes from there');
  const { within: _, names: __, handlers: ___, ...said } = entry;
  const key = JSON.stringify([file, said]);
  const reading = froms.get(key) ?? readFrom(entry, file, sources, types);
  froms.set(key, reading);
  return reading.rows.length > 0 ? reading : problem(nothingRead(reading));
}

function included(entry: IncludeEntry, at: string, reading: Reading): Loaded {
  const { file, trail, sources } = reading;
  const target = besideName(file, entry.include);
  const problem = (message: string): never => {
    const position = locate(sources.load(file), [at]).get(at);
    throw new InputFailure([{ file, ...position, message }]);
  };
  if (trail.includes(target))
    problem(
      trail.at(-1) === target
        ? 'the table includes itself; take this include out'
        : `the tables include each other in a circle: ${[...trail, target].join(' -> ')}; take one of the includes out`,
    );
  const known = reading.loaded.get(target);
  if (known !== undefined) return known;
  if (!sources.exists(target)) problem(`includes ${entry.include}, and there is no file ${target}; check the name`);
  const source = sources.load(target);
  const parsed = validate(source, routeTable as never) as RouteTableFile;
  const style: Style = parsed.style ?? 'brace';
  const types = namedTypes(source, parsed);
  const next = { ...reading, file: target, trail: [...trail, target], types: new Set(types.keys()) };
  const made: Loaded = { file: target, style, types, entries: withIncludes(parsed.routes as Entry[], next) };
  reading.loaded.set(target, made);
  return made;
}

/** The types that a table names itself; a regular expression that can't be used is a problem of the file. */
function namedTypes(source: Source, parsed: RouteTableFile): NamedTypes {
  const types = new Map<string, ParameterType>();
  const problems: { pointer: string; message: string }[] = [];
  for (const [name, definition] of Object.entries(parsed.types ?? {})) {
    if ('among' in definition) {
      types.set(name, amongType(name, definition.among));
      continue;
    }
    const result = regexType(name, definition.pattern, definition.example === undefined ? [] : [definition.example]);
    if (result.ok) types.set(name, result.type);
    else
      problems.push({ pointer: appendPointer('/types', name), message: `the type "${name}" can't be used: ${result.message}` });
  }
  if (problems.length > 0) {
    const places = locate(
      source,
      problems.map((p) => p.pointer),
    );
    throw new InputFailure(problems.map((p): Problem => ({ file: source.file, ...places.get(p.pointer), message: p.message })));
  }
  return types;
}

/** Names that two routes share; those that a resource expands to are told apart by their step. */
function twiceNamed(routes: RouteTable['routes']): Flaw[] {
  const first = new Map<string, RouteTable['routes'][number]>();
  return routes.flatMap((route): Flaw[] => {
    if (route.name === undefined) return [];
    const known = first.get(route.name);
    if (known === undefined) {
      first.set(route.name, route);
      return [];
    }
    const title = `${route.methods.join('|')} ${route.path}`;
    const error = { message: `the route name "${route.name}" is taken`, start: 0, end: route.path.length };
    return [
      {
        kind: 'twice-named',
        route: title,
        pattern: route.path,
        error,
        place: route.place,
        other: { what: `${known.methods.join('|')} ${known.path}`, place: known.place },
      },
    ];
  });
}

function serviceName(file: string): string {
  return file.replace(/^.*\//u, '').replace(/\.(?:routes\.)?(?:ya?ml|json)$/u, '');
}
