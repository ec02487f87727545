/** The effective route table for people, and as JSON. */
import { stringify } from 'csv-stringify/sync';
import { resourceOf } from '../core/routes/table/resource-name.ts';
import type { Route, RouteTable } from '../core/routes/table/route.ts';
import { markdownText } from './markdown.ts';
import type { Locate } from './rendered.ts';
import { shortened } from './shorten.ts';
import { count, type Terminal, widthOf, wrap } from './terminal.ts';
import { bounded } from './visible.ts';

export interface TableView {
  readonly table: RouteTable;
  readonly routes: readonly Route[];
  /** When the router tries a route, from 1. */
  readonly order: (route: Route) => number;
  readonly locate: Locate;
  /** How the order comes about, where the router facts of the table do not say it. */
  readonly orderText?: string;
  /** What the checks say of a route, the most serious level. */
  readonly mark: (route: Route) => 'error' | 'warning' | 'note' | undefined;
}

interface Column {
  readonly title: string;
  readonly text: (route: Route, view: TableView) => string;
  /** The narrowest it may be squeezed to; columns without one keep their width. */
  readonly least?: number;
}

const COLUMNS: readonly Column[] = [
  { title: '', text: (r, v) => ({ error: '!', warning: '?', note: '.', none: '' })[v.mark(r) ?? 'none'] },
  { title: '#', text: (r, v) => String(v.order(r)) },
  { title: 'method', text: (r) => r.methods.join('|') },
  { title: 'path', text: (r) => r.path, least: 44 },
  { title: 'handler', text: (r) => r.handler, least: 20 },
  { title: 'name', text: (r) => r.name ?? '', least: 8 },
  { title: 'version', text: (r) => r.conditions.version?.join(' ') ?? '' },
  { title: 'from', text: (r, v) => originText(r, v), least: 17 },
];

/** The columns that give way first when the terminal is narrow. */
const GIVE_WAY = ['name', 'from', 'version'] as const;

/** The most characters of a cell, however wide the terminal is. */
const MOST_CELL = 400;

/** Grouped by resource in declared order; columns that would be empty are left out. */
export function tableText(view: TableView, terminal: Terminal): string {
  const { paint } = terminal;
  const rows = groups(view.routes);
  const cells = new Map(view.routes.map((r) => [r, COLUMNS.map((c) => bounded(c.text(r, view), MOST_CELL))]));
  const all = COLUMNS.map((column, at) => ({ column, at, width: widthAt(column, at, cells) }));
  const columns = fitting(all, terminal);
  if (terminal.cuts) squeeze(columns, terminal.width);
  const short = columns.map(({ column, at, width }) =>
    shortened([column.title, ...view.routes.map((r) => (cells.get(r) as readonly string[])[at] as string)], width),
  );
  const line = (texts: readonly string[], paintAt: (text: string, column: Column) => string): string =>
    columns
      .map(({ column, width }, k) => {
        const text = short[k]?.get(texts[k] as string) as string;
        const end = k === columns.length - 1 ? '' : ' '.repeat(width - widthOf(text) + 2);
        return paintAt(text, column) + end;
      })
      .join('')
      .trimEnd();
  const lines = [
    line(
      columns.map((c) => c.column.title),
      (text) => (text === '' ? '' : paint.dim(text)),
    ),
  ];
  rows.forEach((group, i) => {
    if (i > 0) lines.push('');
    for (const route of group) {
      const own = cells.get(route) as readonly string[];
      const mark = view.mark(route);
      lines.push(
        line(
          columns.map((c) => own[c.at] as string),
          (text, column) => (text === '' ? '' : painted(column, text, mark, view.table.style, terminal)),
        ),
      );
    }
  });
  return `${lines.join('\n')}\n\n${wrap(summary(view), terminal)}\n`;
}

const ORDER: Partial<Record<string, string>> = {
  'most-specific': 'the most specific route wins',
  'last-declared': 'the last declared wins',
};

function summary(view: TableView): string {
  const { facts } = view.table;
  const marks = view.routes.some((r) => view.mark(r) !== undefined)
    ? ' Marked: ! error, ? warning, . note; "elm-gate check" tells more.'
    : '';
  const order = ORDER[facts.precedence] ?? 'the first declared wins';
  const assumed = facts.assumed.has('precedence') ? ' (assumed; set precedence under router:)' : '';
  const blind = view.routes.filter((r) => r.origin.methodsUnknown === true).length;
  const unknown =
    blind === 0
      ? ''
      : ` ANY stands for unknown methods ${blind === 1 ? 'of 1 route, whose' : `of ${blind} routes, whose`} source does not say them.`;
  return `${count(view.routes.length, 'route')} of ${view.table.service}; ${view.orderText ?? order + assumed}.${unknown}${marks}`;
}

interface Fitted {
  readonly column: Column;
  /** Its place among all columns. */
  readonly at: number;
  /** How wide it is drawn. */
  width: number;
}

function widthAt({ title }: Column, at: number, cells: ReadonlyMap<Route, readonly string[]>): number {
  let width = 0;
  for (const own of cells.values()) width = Math.max(width, widthOf(own[at] as string));
  return width === 0 ? 0 : Math.max(width, widthOf(title));
}

/** What of a path is a parameter, by style. */
const PARAMETERS: Readonly<Record<RouteTable['style'], RegExp>> = {
  brace: /\{(?:[^{}]|\{[^{}]*\})*\}/gu,
  colon: /:\w+(?:\([^)]*\))?|\*\w*/gu,
  parens: /[:*]\w+/gu,
  angle: /<[^<>]*>/gu,
  bracket: /\[+[^[\]]*\]+/gu,
  regex: /\(\?P?<[^)]*\)/gu,
};

function painted(
  column: Column,
  text: string,
  mark: string | undefined,
  style: RouteTable['style'],
  { paint }: Terminal,
): string {
  switch (column.title) {
    case '':
      return mark === 'error' ? paint.red(text) : paint.yellow(text);
    case 'method':
      return paint.cyan(text);
    case 'path':
      return text.replace(PARAMETERS[style], (p) => paint.magenta(p));
    case 'handler':
      return paint.bold(text);
    default:
      return paint.dim(text);
  }
}

/** The columns that hold anything, as many as the width allows. */
function fitting(all: readonly Fitted[], { width, cuts }: Terminal): readonly Fitted[] {
  let columns = all.filter((c) => c.width > 0);
  if (!cuts) return columns;
  const needed = (): number => columns.reduce((n, c) => n + 2 + Math.min(c.column.least ?? 999, c.width), 0);
  for (const title of GIVE_WAY) if (needed() > width) columns = columns.filter((c) => c.column.title !== title);
  return columns;
}

/** Takes from the widest squeezable column until all fit: first down to what reads well, then to what can be read. */
function squeeze(columns: readonly Fitted[], width: number): void {
  let over = columns.reduce((n, c) => n + c.width + 2, -2) - width;
  for (const share of [1, 0.6])
    for (; over > 0; over--) {
      const spare = ({ column: { least }, width: own }: Fitted): number =>
        least === undefined ? 0 : Math.max(0, own - least * share);
      const widest = columns.reduce((a, b) => (spare(b) > spare(a) ? b : a));
      if (spare(widest) < 1) break;
      widest.width -= 1;
    }
}

/** Neighbours whose paths start with the same literal segments belong together. */
function groups(routes: readonly Route[]): readonly (readonly Route[])[] {
  const out: Route[][] = [];
  let last: string | undefined;
  for (const route of routes) {
    const key = resourceOf(route);
    if (key === last) (out[out.length - 1] as Route[]).push(route);
    else out.push([route]);
    last = key;
  }
  return out;
}

function originText(route: Route, { locate, table }: TableView): string {
  const { line } = locate(route.place) ?? {};
  const file = route.place.file === table.place.file ? 'line ' : `${route.place.file}:`;
  const how = route.origin.resource === undefined ? '' : ', resource';
  return `${file}${line ?? '?'}${how}`;
}

/** Titles and cells without the marks, columns that would be empty left out. */
function cells(view: TableView): { titles: readonly string[]; rows: readonly (readonly string[])[] } {
  const columns = COLUMNS.filter((c) => c.title !== '' && view.routes.some((r) => c.text(r, view) !== ''));
  return {
    titles: columns.map((c) => (c.title === '#' ? 'order' : c.title)),
    rows: view.routes.map((r) => columns.map((c) => c.text(r, view))),
  };
}

/** The routes as comma-separated values, a header line first (RFC 4180). */
export function tableCsv(view: TableView): string {
  const { titles, rows } = cells(view);
  // A cell that starts like a formula is text to a spreadsheet too.
  return stringify([titles, ...rows], { escape_formulas: true });
}

/** The routes as a table of a Markdown page. */
export function tableMarkdown(view: TableView): string {
  const { titles, rows } = cells(view);
  const line = (texts: readonly string[]): string => `| ${texts.join(' | ')} |`;
  return `## ${markdownText(view.table.service)}\n\n${[line(titles), line(titles.map(() => '---')), ...rows.map((r) => line(r.map(markdownText)))].join('\n')}\n`;
}

/** The routes as JSON. */
export function tableJson({ table, routes, order, locate }: TableView): object {
  const { service, style, facts } = table;
  return {
    service,
    style,
    precedence: { value: facts.precedence, assumed: facts.assumed.has('precedence') },
    routes: routes.map((r) => ({
      order: order(r),
      methods: r.methods,
      path: r.path,
      handler: r.handler,
      name: r.name ?? null,
      ...r.conditions,
      deprecated: r.deprecated ?? null,
      sunset: r.sunset ?? null,
      at: { file: r.place.file, ...locate(r.place), pointer: r.place.pointer },
      from: { groups: r.origin.groups, resource: r.origin.resource ?? null, include: r.origin.include ?? null },
    })),
  };
}
