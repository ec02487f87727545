/** From what a table says - groups, resources, included tables - to its routes, in the order in which they are declared. */

import { appendPointer, type Place } from '../../base/place.ts';
import { LimitReached } from '../../language/limits.ts';
import type { Part, PatternResult, Piece, Shape, Style } from '../../paths/pattern.ts';
import { parsePattern } from '../../paths/styles.ts';
import type { NamedTypes } from '../../paths/types.ts';
import { commonOf, conditionsOf, wantsOf } from './common.ts';
import type { Common, Entry, FromEntry, GroupEntry, IncludeEntry, ResourceEntry, RouteEntry } from './entries.ts';
import { joinPaths, withBothSlashes } from './join-paths.ts';
import { type OtherStyle, styleFlaws } from './other-styles.ts';
import {
  ANY_METHOD,
  bareRoute,
  type Conditions,
  type CrudStep,
  type Flaw,
  type Origin,
  type Route,
  routeTitle,
  STEPS,
} from './route.ts';
import { otherStyle, type RouteLine, readRouteLine } from './route-line.ts';

const NOTHING_SAID: Common = {};

interface Context {
  readonly style: Style;
  readonly types: NamedTypes;
  readonly prefix: string;
  readonly names: string;
  readonly handlers: string;
  readonly common: Common;
  readonly conditions: Conditions;
  readonly origin: Origin;
  readonly file: string;
  /** What groups do that do not say so themselves, and how their prefix is compared. */
  readonly unmatched: string;
  readonly textPrefix: boolean;
  readonly groupRoot: GroupRoot;
}

/** What `/` inside a group means. */
export type GroupRoot = 'prefix' | 'slash' | 'both';

interface Expansion {
  readonly routes: Route[];
  readonly flaws: Flaw[];
  /** Paths that look like another style than the one in which they are read. */
  readonly otherStyles: OtherStyle[];
  readonly patterns: Map<NamedTypes, Map<string, PatternResult>>;
  readonly most: number;
}

export interface ExpandOptions {
  readonly style: Style;
  readonly types: NamedTypes;
  readonly place: Place;
  /** The table names its style, rather than leaving it to the default. */
  readonly styleIsSaid?: boolean;
  /** Where a gateway puts the service. */
  readonly mount?: string;
  /** What groups do that do not say so themselves: `end` ends the search behind their prefix. */
  readonly unmatched?: string;
  /** Prefixes are compared as text: `/v1` fits `/v10` too. */
  readonly textPrefix?: boolean;
  /** The prefix by default. */
  readonly groupRoot?: GroupRoot;
  /** How many routes the entries may stand for. */
  readonly most?: number;
}

/**
 * Expands the entries of a table. Patterns that can't be read become flaws and their routes are left out. Throws
 * `LimitReached` as soon as there are more routes than `most`: includes and aliases multiply.
 */
export function expand(entries: readonly Entry[], options: ExpandOptions): Expansion {
  const { style, types, place, mount = '/', unmatched = 'continue', textPrefix = false, groupRoot = 'prefix' } = options;
  const out: Expansion = {
    routes: [],
    flaws: [],
    otherStyles: [],
    patterns: new Map(),
    most: options.most ?? Number.POSITIVE_INFINITY,
  };
  const prefix = mount === '/' ? '' : mount;
  const origin = { groups: [], within: [] };
  const context: Context = {
    style,
    types,
    prefix,
    names: '',
    handlers: '',
    common: {},
    conditions: {},
    origin,
    file: place.file,
    unmatched,
    textPrefix,
    groupRoot,
  };
  expandAll(entries, appendPointer(place.pointer, 'routes'), context, out);
  out.flaws.push(...styleFlaws(out.routes, out.otherStyles, style, options.styleIsSaid === true));
  return out;
}

function expandAll(entries: readonly Entry[], pointer: string, context: Context, out: Expansion): void {
  entries.forEach((entry, i) => {
    const at = appendPointer(pointer, i);
    if (typeof entry === 'string') expandShort(entry, at, context, out);
    else if ('route' in entry) expandRoute(entry, at, context, out);
    else if ('resource' in entry) expandResource(entry, at, context, out);
    else if ('include' in entry) expandInclude(entry, at, context, out);
    else if ('from' in entry) expandFrom(entry, at, context, out);
    else expandGroup(entry, at, context, out);
  });
}

function expandShort(entry: string, at: string, context: Context, out: Expansion): void {
  const line = readRouteLine(entry, context.style);
  addRoute({ ...line, text: entry, name: undefined, entry: NOTHING_SAID, summary: undefined }, at, context, out);
}

function expandRoute(entry: RouteEntry, at: string, context: Context, out: Expansion): void {
  const line = readRouteLine(entry.route, context.style);
  const { handler, name, summary } = entry;
  addRoute({ ...line, text: entry.route, handler, name, entry, summary }, at, context, out);
}

function expandGroup(entry: GroupEntry, at: string, context: Context, out: Expansion): void {
  const next = inner(context, entry, entry.within, at);
  expandAll(entry.routes, appendPointer(at, 'routes'), next, out);
  if ((entry.unmatched ?? context.unmatched) === 'end') addEnd(next, at, context, out);
}

/** A group that ends the search: whatever stands below its prefix and found no route goes no further. */
function addEnd(group: Context, at: string, { textPrefix }: Context, out: Expansion): void {
  const parsed = patternOf(group.prefix, group, out);
  if (!parsed.ok) return;
  const tail: Part = { kind: 'tail', name: 'rest', takes: 'all' };
  const shapes = parsed.pattern.shapes.map((shape): Shape => {
    const last = shape[shape.length - 1] as Piece;
    if (!textPrefix) return [...shape, { kind: 'span', parts: [tail] }];
    return [...shape.slice(0, -1), { kind: 'span', parts: [...last.parts, { ...tail, takes: 'below' }] }];
  });
  const path = `${group.prefix}${textPrefix ? '' : '/'}*`;
  const place = { file: group.file, pointer: at };
  const pattern = { style: parsed.pattern.style, text: parsed.pattern.text, shapes };
  out.routes.push({
    ...bareRoute({ index: out.routes.length, methods: ['ANY'], path, pattern, handler: `the end of ${group.prefix}`, place }),
    isBarrier: true,
  });
}

function expandInclude(entry: IncludeEntry, at: string, context: Context, out: Expansion): void {
  if (entry.loaded === undefined) return;
  const { file, style, types, entries } = entry.loaded;
  const next = inner(context, entry, entry.within ?? '', at);
  expandAll(entries, '/routes', { ...next, file, style, types, origin: { ...next.origin, include: file } }, out);
}

/** Rows of a source, each with the place of its line. */
function expandFrom(entry: FromEntry, at: string, context: Context, out: Expansion): void {
  if (entry.loaded === undefined) return;
  const { style, rows } = entry.loaded;
  const next = inner(context, entry, entry.within ?? '', at);
  for (const { methods, path, handler, name, host, place } of rows) {
    const origin = { ...next.origin, from: place.file, ...(methods === undefined ? { methodsUnknown: true } : {}) };
    const own = host === undefined ? NOTHING_SAID : { host };
    const declared = { methods: methods ?? [ANY_METHOD], path, handler, name, problems: [], entry: own, summary: undefined };
    addRoute({ ...declared, text: path }, at, { ...next, style, origin, file: place.file }, out, place);
  }
}

function inner(
  context: Context,
  entry: Common & { names?: string | undefined; handlers?: string | undefined },
  within: string,
  at?: string,
): Context {
  const common = { ...context.common, ...commonOf(entry) };
  return {
    ...context,
    prefix: joinPaths(context.prefix, within, context.style),
    names: context.names + (entry.names ?? ''),
    handlers: context.handlers + (entry.handlers ?? ''),
    common,
    conditions: conditionsOf(common),
    origin: {
      ...context.origin,
      groups: within === '' ? context.origin.groups : [...context.origin.groups, within],
      within: at === undefined ? context.origin.within : [...context.origin.within, `${context.file}#${at}`],
    },
  };
}

function expandResource(entry: ResourceEntry, at: string, context: Context, out: Expansion): void {
  const word =
    entry.resource
      .split('/')
      .filter((s) => s !== '' && !/[{}:<[]/u.test(s))
      .pop() ?? 'resource';
  const item = entry.item ?? `{${singular(word)}Id}`;
  const handler = entry.handler ?? word;
  const serves = new Set<CrudStep>(entry.serves ?? STEPS);
  const methods = { list: 'GET', create: 'POST', read: 'GET', replace: 'PUT', modify: 'PATCH', delete: 'DELETE' } as const;
  for (const step of STEPS.filter((s) => serves.has(s))) {
    const path = step === 'list' || step === 'create' ? entry.resource : joinPaths(entry.resource, item, context.style);
    const name = `${entry.name ?? word}.${step}`;
    const origin: Origin = { ...context.origin, resource: { base: entry.resource, step } };
    addRoute(
      {
        text: path,
        methods: [methods[step]],
        path,
        handler: `${handler}.${step}`,
        problems: [],
        name,
        entry,
        summary: undefined,
      },
      at,
      { ...context, origin },
      out,
    );
  }
  const itemPath = joinPaths(entry.resource, item, context.style);
  expandAll(entry.below ?? [], appendPointer(at, 'below'), inner(context, commonOf(entry), itemPath), out);
}

interface Declared extends RouteLine {
  /** As it is written. */
  readonly text: string;
  readonly name: string | undefined;
  readonly summary: string | undefined;
  readonly entry: Common;
}

function addRoute(
  declared: Declared,
  at: string,
  context: Context,
  out: Expansion,
  place: Place = { file: context.file, pointer: at },
): void {
  const { methods } = declared;
  if (out.routes.length + out.flaws.length >= out.most)
    throw new LimitReached(`the table stands for more than ${out.most} routes`);
  for (const message of declared.problems)
    out.flaws.push({ kind: 'line', route: declared.text.trim(), pattern: '', error: { message, start: 0, end: 0 }, place });
  if (declared.path === '') return;
  const isRoot = declared.path === '/' && context.origin.within.length > 0 && context.prefix !== '/' && context.style !== 'regex';
  const joined = joinPaths(context.prefix, declared.path, context.style);
  const path = isRoot && context.groupRoot === 'slash' ? `${joined}/` : joined;
  const other = otherStyle(declared.path, context.style);
  if (other !== undefined) out.otherStyles.push({ style: other, route: routeTitle({ methods, path }), pattern: path, place });
  // Read as text it would be another route, of which nothing true could be said.
  if (other !== undefined) return;
  const parsed = patternOf(path, context, out);
  if (!parsed.ok) {
    out.flaws.push({ kind: 'unreadable', route: routeTitle({ methods, path }), pattern: path, error: parsed.error, place });
    return;
  }
  for (const error of parsed.flaws)
    out.flaws.push({ kind: 'pattern', route: routeTitle({ methods, path }), pattern: path, error, place });
  const own = declared.entry === NOTHING_SAID ? undefined : { ...context.common, ...commonOf(declared.entry) };
  const common = own ?? context.common;
  out.routes.push({
    index: out.routes.length,
    methods,
    path,
    pattern: isRoot && context.groupRoot === 'both' ? withBothSlashes(parsed.pattern) : parsed.pattern,
    handler: declared.handler === '' ? routeTitle({ methods, path }) : context.handlers + declared.handler,
    name: declared.name === undefined ? undefined : context.names + declared.name,
    conditions: own === undefined ? context.conditions : conditionsOf(own),
    deprecated: common.deprecated,
    sunset: common.sunset,
    summary: declared.summary,
    origin: context.origin,
    handlerTypes: wantsOf(common, context.types, place, routeTitle({ methods, path }), out.flaws),
    isBarrier: false,
    place,
  });
}

/** Copies of a path are read once for all its methods. */
function patternOf(path: string, { style, types }: Context, out: Expansion): PatternResult {
  const known = out.patterns.get(types) ?? new Map<string, PatternResult>();
  out.patterns.set(types, known);
  const key = `${style} ${path}`;
  const parsed = known.get(key) ?? parsePattern(path, style, types);
  known.set(key, parsed);
  return parsed;
}

/** `passages` -> `passage`; good enough for the name of a parameter that nobody wrote. */
function singular(word: string): string {
  if (word.endsWith('ies')) return `${word.slice(0, -3)}y`;
  return word.endsWith('s') && !word.endsWith('ss') ? word.slice(0, -1) : word;
}
