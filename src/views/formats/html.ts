/** The report as one page: self-contained, readable without its script, and nothing of an input in it is markup. */

import { createHash } from 'node:crypto';
import { Eta } from 'eta';
import { grouped } from '../../core/base/grouped.ts';
import { byLevel, LEVELS } from '../../core/checks/engine/finding.ts';
import { ruleOf } from '../../core/checks/index.ts';
import type { Behind, Choice } from '../../core/routes/follow/gateway.ts';
import { type Route, type RouteTable, routeTitle } from '../../core/routes/table/route.ts';
import { pack } from '../../page/packed.ts';
import type { Item, ItemReport } from '../items.ts';
import { placeText } from '../place-text.ts';
import type { Locate } from '../rendered.ts';
import { count } from '../terminal.ts';
import { drawingOf } from './page-drawing.ts';
import type { Grid } from './page-grids.ts';
import { sidesOf, witnessPieces } from './page-sides.ts';
import { STYLE } from './page-style.ts';
import { PAGE } from './page-template.ts';
import { type RouteNode, routeTree } from './route-tree.ts';

export interface PageService {
  readonly name: string;
  readonly table: RouteTable | undefined;
  readonly versioning?: unknown;
  readonly mount?: string;
  readonly behind?: Behind | undefined;
  readonly tableIsDocument?: boolean;
  /** The files of its documents. */
  readonly documents: readonly string[];
  /** What they hold, and those that they refer to. */
  readonly files: readonly { readonly file: string; readonly value: unknown }[];
}

export interface HtmlReport extends ItemReport {
  readonly title: string;
  readonly services: readonly PageService[];
  readonly grids: readonly Grid[];
  /** What the command is about, before everything else. */
  readonly firstGrids: readonly Grid[];
  /** How a gateway chooses between the services. */
  readonly choice?: Choice | undefined;
  readonly locate: Locate;
  /** The text of a file; undefined where there is none. */
  readonly textOf: (file: string) => string | undefined;
  /** The script of the page, as it was built. */
  readonly script: string;
}

/** A line of a source, quoted. */
interface Quoted {
  readonly number: number;
  /** Before, at and behind what is meant. */
  readonly parts: readonly [string, string, string];
  readonly isHere: boolean;
}

const eta = new Eta({ autoEscape: true, autoTrim: false });

/** The whole page. O(items + routes). */
export function htmlPage(report: HtmlReport): string {
  const { items, services } = report;
  const data = JSON.stringify(
    pack({
      services: services.flatMap((s) => (s.table === undefined ? [] : [askable(s, s.table, report.locate)])),
      choice: report.choice,
    }),
  );
  const levels = levelsByTitle(items);
  return eta.renderString(PAGE, {
    ...report,
    style: STYLE,
    policy: policyOf(report.script, STYLE),
    // Within a script element `<` begins nothing then.
    data: data.replaceAll('<', '\\u003c').replaceAll('\u2028', '\\u2028').replaceAll('\u2029', '\\u2029'),
    counts: LEVELS.map((level) => ({ level, text: count(items.filter((i) => i.level === level).length, level) })),
    worst: items.filter((i) => i.level !== 'note').slice(0, 3),
    causes: causesOf(items, report.textOf),
    trees: services.flatMap(({ name, table }) =>
      table === undefined ? [] : [{ name, nodes: routeTree(table.routes), file: fileOf(table) }],
    ),
    unread: services.filter((s) => s.table !== undefined && !areCarried(s)).map((s) => s.name),
    levelOf: (route: Route) => levels.get(routeTitle(route)),
    methodsOf: (node: RouteNode) => [...new Set(node.routes.flatMap((r) => r.methods))].join(' '),
    placeOf: ({ at }: Item) => (at === undefined ? '' : placeText(at)),
    cut: (text: string) => (text.length > 48 ? `${text.slice(0, 47)}…` : text),
    lineOf: (route: Route, usual: string | undefined) => {
      const { file } = route.place;
      const line = report.locate(route.place)?.line;
      return line === undefined ? file : `${file === usual ? 'line ' : `${file}:`}${line}`;
    },
  });
}

/** The file that all routes stand in, where there is one. */
function fileOf({ routes }: RouteTable): string | undefined {
  const files = new Set(routes.map((r) => r.place.file));
  return files.size === 1 ? [...files][0] : undefined;
}

/** Characters: the documents of a service are part of the page up to so much. */
const MOST_DOCUMENTS = 250_000;

function areCarried({ files }: PageService): boolean {
  return JSON.stringify(files).length <= MOST_DOCUMENTS;
}

/** What the page needs of a table to follow requests: of a place the file and the line. */
function askable(service: PageService, table: RouteTable, locate: Locate): object {
  const routes = table.routes.map(({ origin: _, ...route }) => ({
    ...route,
    place: { file: route.place.file, pointer: '', ...locate(route.place) },
  }));
  const carried = areCarried(service) ? {} : { documents: [], files: [] };
  return { ...service, ...carried, table: { ...table, routes, flaws: [] } };
}

/** Nothing is loaded, and only what stands in the page is run. */
function policyOf(script: string, style: string): string {
  const hash = (text: string): string => `'sha256-${createHash('sha256').update(text).digest('base64')}'`;
  return `default-src 'none'; script-src ${hash(script)}; style-src ${hash(style)}; base-uri 'none'; form-action 'none'`;
}

/** So many findings of one cause are drawn: the others look the same. */
const MOST_DRAWN = 5;

function causesOf(items: readonly Item[], textOf: HtmlReport['textOf']): readonly object[] {
  return [...grouped(items, (i) => `${i.level} ${i.rule}`)]
    .sort(([a], [b]) => byLevel(a, b))
    .map((list) => {
      const [first] = list;
      const { what = first.what ?? '', why = '' } = ruleOf(first.rule)?.meta ?? {};
      return {
        rule: first.rule,
        level: first.level,
        what,
        why,
        items: list.map((item, i) => ({
          ...item,
          quote: quoteOf(item, textOf),
          drawing: i < MOST_DRAWN ? drawingOf(item) : undefined,
          body: item.change === undefined ? [] : witnessPieces(item.change.change),
          sides: item.change === undefined ? undefined : sidesOf(item.change.old, item.change.now),
        })),
      };
    });
}

/** So many lines before and behind are quoted, and so much of each. */
const AROUND = 1;
const MAX_LINE = 160;

/** The lines around the place, what is meant marked from its column on. */
function quoteOf({ at }: Item, textOf: HtmlReport['textOf']): readonly Quoted[] {
  const text = at?.line === undefined ? undefined : textOf(at.file);
  if (at?.line === undefined || text === undefined) return [];
  const lines = linesAround(text, at.line);
  return lines.map(({ number, line }): Quoted => {
    const isHere = number === at.line;
    const start = isHere ? Math.max(0, (at.column ?? 1) - 1) : 0;
    // A long line is shown from a little before what is meant.
    const from = Math.max(0, start - MAX_LINE / 4);
    const shown = line.slice(from, from + MAX_LINE);
    const [before, rest] = [shown.slice(0, start - from), shown.slice(start - from)];
    const marked = isHere ? (/^(?:"[^"]*"|[^\s,]+(?: [^\s,#]+)*)/u.exec(rest)?.[0] ?? rest) : '';
    return { number, parts: [before, marked, rest.slice(marked.length)], isHere };
  });
}

function linesAround(text: string, line: number): readonly { readonly number: number; readonly line: string }[] {
  const lines = text.split(/\r?\n/u);
  const from = Math.max(1, line - AROUND);
  return lines.slice(from - 1, line + AROUND).map((l, i) => ({ number: from + i, line: l }));
}

/** The most serious level of what was found on each route, by its title. */
function levelsByTitle(items: readonly Item[]): ReadonlyMap<string, Item['level']> {
  const mildestFirst = [...items].sort((a, b) => byLevel(b, a));
  return new Map(
    mildestFirst.flatMap(({ at, level }) => (at === undefined ? [] : [[at.what.split(' -> ')[0] as string, level]])),
  );
}
