/** What was asked of a service, for people and as JSON: the routes by their requests, then what is wrong, then what nobody asks for. */

import { routeTitle } from '../core/routes/table/route.ts';
import type { TrafficReport } from '../core/traffic/report.ts';
import type { Undeclared, Unmatched } from '../core/traffic/survey.ts';
import { type Counter, clientsOf, dayOf } from '../core/traffic/tally.ts';
import type { Grid, GridCell } from './formats/page-grids.ts';
import { firstOf } from './recorded.ts';
import { shortened } from './shorten.ts';
import { count, grouped, type Terminal, widthOf, wrap } from './terminal.ts';

export interface TrafficView {
  readonly report: TrafficReport;
  readonly names: readonly string[];
  readonly broken: readonly { readonly why: string; readonly file: string; readonly line: number; readonly count: number }[];
  /** Seconds since 1970. */
  readonly first: number;
  readonly last: number;
  /** Every line of each part. */
  readonly all: boolean;
}

/** So many lines of a part are printed. */
const MOST = 20;

/** The counts first, then the routes, what contradicts, what nobody handles, and what nobody asks for. */
export function trafficText(view: TrafficView, terminal: Terminal): string {
  const { report } = view;
  const parts = [
    headLines(view)
      .map((l) => wrap(l, terminal))
      .join('\n'),
    routesText(view, terminal),
    part('Unexpected answers', report.contradictions, view, terminal, (c) => contradictionLine(c)),
    part('Unmatched requests', report.unmatched, view, terminal, unmatchedLine),
    part('Undeclared names', report.undeclared, view, terminal, undeclaredLine),
    part('Deprecated, still in use', report.deprecated, view, terminal, (d) => [
      d.what,
      `by ${clientsText(d.counter)}${d.sunset === undefined ? '' : `; its sunset is ${d.sunset}`}`,
    ]),
    unusedText(view, terminal),
  ];
  return `${parts.filter((p) => p !== '').join('\n\n')}\n`;
}

/** The lines that could not be read, each kind with the place of its first. */
export function brokenText(broken: TrafficView['broken']): readonly string[] {
  return broken.map((b) => `${count(b.count, 'line')} left out: ${b.why} (${b.file}:${b.line}).`);
}

/** How many requests of when, and what was left out, each a sentence. */
export function headLines({ report, names, broken, first, last }: TrafficView): readonly string[] {
  const { total, outside } = report;
  const span = first === 0 ? '' : `, ${dayOf(first)} to ${dayOf(last)}`;
  const lines = [`${count(total.requests, 'request')} in ${names.join(', ')}${span}.`];
  if (outside.requests > 0) lines.push(`${count(outside.requests, 'request')} not below the --strip path.`);
  lines.push(...brokenText(broken));
  return lines;
}

const WIDTHS = { requests: 10, share: 6, last: 10 };

/** A line for each route that was asked for. */
function routesText({ report, all }: TrafficView, terminal: Terminal): string {
  const { paint, width } = terminal;
  const shown = all ? report.routes : report.routes.slice(0, MOST);
  if (shown.length === 0) return '';
  const titles = shown.map(({ route }) => `${routeTitle(route)} -> ${route.handler}`);
  const statuses = shown.map(({ counter }) => statusesText(counter));
  const statusWidth = Math.min(30, Math.max(8, ...statuses.map(widthOf)));
  const room = width - WIDTHS.requests - WIDTHS.share - WIDTHS.last - statusWidth - 8;
  const first = Math.max(20, Math.min(room, Math.max(5, ...titles.map(widthOf))));
  const [names, states] = [shortened(titles, first), shortened(statuses, statusWidth)];
  const cells = (name: string, requests: string, share: string, status: string, last: string): string =>
    `${name}${' '.repeat(Math.max(0, first - widthOf(name)))}  ${requests.padStart(WIDTHS.requests)}  ${share.padStart(WIDTHS.share)}  ${status.padEnd(statusWidth)}  ${last}`.trimEnd();
  const lines = shown.map(({ counter }, i) => {
    const [title, status] = [titles[i] as string, statuses[i] as string];
    const name = names.get(title) ?? title;
    const share = percent(counter.requests / report.total.requests);
    return cells(name, grouped(counter.requests), share, states.get(status) ?? status, dayOf(counter.last));
  });
  const more = report.routes.length - shown.length;
  return [
    paint.dim(cells('route', 'requests', 'share', 'statuses', 'last')),
    ...lines,
    ...(more === 0 ? [] : [paint.dim(`and ${count(more, 'route')} more (--all)`)]),
  ].join('\n');
}

/** The same for the page. */
export function routesGrid({ report }: TrafficView): Grid {
  const plain = (text: string): GridCell => ({ text, look: '' });
  return {
    title: 'Requests by route',
    of: 'route',
    count: count(report.routes.length, 'route'),
    columns: ['requests', 'share', 'statuses', 'clients', 'last'],
    rows: report.routes.map(({ route, counter }) => ({
      head: `${routeTitle(route)} -> ${route.handler}`,
      cells: [
        grouped(counter.requests),
        percent(counter.requests / report.total.requests),
        statusesText(counter),
        clientsText(counter),
        dayOf(counter.last),
      ].map(plain),
    })),
  };
}

/** A part with a line for each of its members: how many requests, what, and why. */
function part<T extends { readonly counter: Counter }>(
  title: string,
  members: readonly T[],
  { all }: TrafficView,
  terminal: Terminal,
  line: (member: T) => readonly [what: string, why: string],
): string {
  if (members.length === 0) return '';
  const { paint } = terminal;
  const shown = all ? members : members.slice(0, MOST);
  const lines = shown.map((m) => {
    const [what, why] = line(m);
    const head = `${grouped(m.counter.requests).padStart(8)}  `;
    return wrap(`${paint.bold(what)}${why === '' ? '' : `  ${why}`}`, terminal, head, ' '.repeat(10));
  });
  const more = members.length - shown.length;
  return [
    paint.bold(`${title}: ${grouped(sum(members))}`),
    ...lines,
    ...(more === 0 ? [] : [paint.dim(`          and ${more} more (--all)`)]),
  ].join('\n');
}

function contradictionLine(c: TrafficReport['contradictions'][number]): readonly [string, string] {
  const why =
    c.explainedBy.length === 0 ? '' : `; explained by ${c.explainedBy.join('; by ')} (set it under router: in the table)`;
  return [c.what, `expected to be ${c.expected}, but was ${c.came}${why}`];
}

function unmatchedLine({ method, shape, expected, near, difference, counter }: Unmatched): readonly [string, string] {
  const came = statusesText(counter);
  const nearest = near === undefined ? '' : `; nearest: ${routeTitle(near.route)} -> ${near.route.handler} (${difference})`;
  return [`${method} ${shape}`, `expected ${expected}${came === '' ? '' : `, answered ${came}`}${nearest}`];
}

function undeclaredLine({ what, in: at, name, counter }: Undeclared): readonly [string, string] {
  return [what, `${at} ${name}, by ${clientsText(counter)}`];
}

/** What nobody asks for, each kind on lines of its own. */
function unusedText({ report, all }: TrafficView, terminal: Terminal): string {
  const { routes, operations, parameters, types } = report.unused;
  const { paint } = terminal;
  const list = (title: string, texts: readonly string[]): string => {
    if (texts.length === 0) return '';
    const shown = all ? texts : texts.slice(0, MOST);
    const more = texts.length - shown.length;
    const lines = [...shown, ...(more === 0 ? [] : [`and ${more} more (--all)`])];
    return [paint.bold(`${title}: ${texts.length}`), ...lines.map((l) => wrap(l, terminal, '  ', '    '))].join('\n');
  };
  return [
    list(
      'Unused routes',
      routes.map((r) => `${routeTitle(r)} -> ${r.handler}`),
    ),
    list('Unused documented operations', operations),
    list(
      'Unused parameters',
      parameters.map((p) => `${p.operation}: ${p.in} ${p.name}`),
    ),
    list(
      'Unused media types',
      (types ?? []).map((t) => `${t.operation}: ${t.type} (${t.side})`),
    ),
  ]
    .filter((t) => t !== '')
    .join('\n\n');
}

/** `200 4,100, 304 110`, the most frequent first. */
export function statusesText({ statuses }: Counter): string {
  const sorted = [...statuses].sort((a, b) => b[1] - a[1]);
  return (
    sorted.length === 1 ? sorted.map(([status]) => `${status}`) : sorted.map(([status, n]) => `${status} ${grouped(n)}`)
  ).join(', ');
}

/** The three clients that ask most. */
export function clientsText(counter: Pick<Counter, 'clients'>): string {
  return firstOf(clientsOf(counter));
}

function percent(share: number): string {
  return share > 0 && share < 0.001 ? '<0.1%' : `${(share * 100).toFixed(1)}%`;
}

function sum(members: readonly { readonly counter: Counter }[]): number {
  return members.reduce((all, m) => all + m.counter.requests, 0);
}

/** A counter for programs. */
export function counterJson({ requests, statuses, clients, last }: Counter): object {
  return {
    requests,
    statuses: Object.fromEntries([...statuses].map(([status, n]) => [String(status), n])),
    clients: Object.fromEntries([...clients].sort((a, b) => b[1] - a[1])),
    last: dayOf(last) || null,
  };
}

/** The same for programs. */
export function trafficJson({ report, names, broken, first, last }: TrafficView): object {
  const { total, outside, routes, unmatched, contradictions, undeclared, deprecated, unused } = report;
  return {
    files: names,
    from: dayOf(first) || null,
    to: dayOf(last) || null,
    broken,
    total: counterJson(total),
    outside: outside.requests,
    routes: routes.map(({ service, route, counter }) => ({
      service,
      methods: route.methods,
      path: route.path,
      handler: route.handler,
      ...counterJson(counter),
    })),
    contradictions: contradictions.map(({ what, expected, came, explainedBy, counter }) => ({
      ...{ what, expected, came, explainedBy },
      ...counterJson(counter),
    })),
    unmatched: unmatched.map(({ method, shape, expected, near, counter }) => ({
      ...{ method, shape, expected },
      nearest: near === undefined ? null : { handler: near.route.handler, path: near.route.path, cause: near.cause },
      ...counterJson(counter),
    })),
    undeclared: undeclared.map(({ what, in: at, name, counter }) => ({ operation: what, in: at, name, ...counterJson(counter) })),
    deprecated: deprecated.map(({ what, sunset, counter }) => ({ what, sunset: sunset ?? null, ...counterJson(counter) })),
    unused: {
      routes: unused.routes.map((r) => ({ methods: r.methods, path: r.path, handler: r.handler })),
      operations: unused.operations,
      parameters: unused.parameters,
      types: unused.types ?? null,
    },
  };
}
