/** The grid of operations by versions. */

import type { Context } from '../core/checks/engine/context.ts';
import type { Cell, CellStatus, GridRow } from '../core/compare/version-grid.ts';
import { CELL_STATUSES, versionGrid } from '../core/compare/version-grid.ts';
import type { Versions } from '../core/contract/resources/api-versions.ts';
import type { RoutingOutcome } from '../core/routes/follow/outcome.ts';
import { count, type Terminal, widthOf, wrap } from './terminal.ts';

/** The sign tells it without colour too. */
const SIGNS: Readonly<Record<CellStatus, string>> = { new: '+', same: '●', changed: '≈', breaking: '✗', dropped: '–', none: '·' };

const WORDS: Readonly<Record<CellStatus, string>> = {
  new: 'new',
  same: 'as before',
  changed: 'changed',
  breaking: 'breaks clients of the version before',
  dropped: 'dropped',
  none: 'not there',
};

const SHORT = { breaking: 'break clients', dropped: 'dropped', changed: 'changed', new: 'new' } as const;

export interface Editions {
  readonly service: string;
  readonly versions: Versions;
  readonly rows: readonly GridRow[];
  /** Whether anything here names a version. */
  readonly named: boolean;
  /** Whether there is a table that says what requests get. */
  readonly served: boolean;
  readonly today: string | undefined;
}

/** The versions of a service, each operation in each of them. */
export function editionsView(context: Context, openEnumerations: string | undefined): Editions {
  const { service, router } = context;
  const [versions, members] = [context.versions(), context.versioned()];
  return {
    service: service.name,
    versions,
    named: versions.versioning?.selector !== 'path' || members.some((v) => v.by !== 'none'),
    rows: versionGrid(members, versions, router, { openEnumerations, contracts: service.contracts }),
    served: router !== undefined && service.tableIsDocument !== true,
    today: service.today,
  };
}

/** One line for each operation; what breaks is read first because it stands out, the order is the table's. */
export function editionsText(view: Editions, terminal: Terminal): string {
  const { versions, rows, service } = view;
  const { paint } = terminal;
  if (versions.all.length === 0)
    return `${wrap(`${service} has no versions: none is declared under versioning: in elm-gate.yaml, and no path or route names one.`, terminal)}\n`;
  const shown = rows;
  if (shown.length === 0 || !view.named) return `${wrap(`No operation of ${service} names a version.`, terminal)}\n`;
  const titles = versions.all.map((v) => v.id);
  const widths = titles.map(
    (t, i) => Math.max(widthOf(t), ...shown.map((r) => widthOf(cellText(r.cells[i] as Cell, view.today)))) + 2,
  );
  const tails = view.served ? (['no version', 'unknown'] as const) : [];
  const tailWidth = 12;
  const room = terminal.width - widths.reduce((a, b) => a + b, 0) - tails.length * tailWidth - 2;
  const longest = Math.max(9, ...shown.map((r) => widthOf(`${r.method} ${r.path}`)));
  const first = Math.max(16, Math.min(longest, room));
  const head = [
    'operation'.padEnd(first + 2),
    ...titles.map((t, i) => t.padEnd(widths[i] as number)),
    ...tails.map((t) => t.padEnd(tailWidth)),
  ];
  const lines = shown.map((row) => {
    const name = shortened(`${row.method} ${row.path}`, first);
    const cells = row.cells.map((c, i) => {
      const text = cellText(c, view.today);
      return painted(c, text, terminal) + ' '.repeat((widths[i] as number) - widthOf(text));
    });
    const ends = tails.map((t) => {
      const text = outcomeText(t === 'no version' ? row.silent : row.unknown);
      return paint.dim(text.padEnd(tailWidth));
    });
    return `${name}${' '.repeat(first + 2 - widthOf(name))}${cells.join('')}${ends.join('')}`.trimEnd();
  });
  return `${paint.dim(head.join('').trimEnd())}\n${lines.join('\n')}\n\n${wrap(legend(shown, view.today, terminal), terminal)}\n${footer(view, shown.length, terminal)}`;
}

/** `d` for deprecated, with its end. */
function cellText({ standing, endpoint, deprecated, sunset }: Cell, today: string | undefined): string {
  const sign = SIGNS[standing];
  if (endpoint === undefined || !(deprecated || sunset !== undefined)) return sign;
  const over = sunset !== undefined && today !== undefined && sunset < today;
  return `${sign} ${deprecated ? 'd' : ''}${over ? '!' : ''}`.trimEnd();
}

function painted({ standing }: Cell, text: string, { paint }: Terminal): string {
  switch (standing) {
    case 'new':
      return paint.cyan(text);
    case 'same':
      return paint.green(text);
    case 'changed':
      return paint.yellow(text);
    case 'breaking':
      return paint.red(paint.bold(text));
    case 'dropped':
      return paint.bold(paint.magenta(text));
    case 'none':
      return paint.dim(text);
    default:
      return standing satisfies never;
  }
}

/** `= 2` where a version answers, its status otherwise. */
function outcomeText(following: RoutingOutcome | undefined): string {
  if (following === undefined) return '';
  if (following.leaf !== undefined && following.status === null)
    return following.version?.kind === 'version' ? `= ${following.version.id}` : 'taken';
  return String(following.status ?? following.outcome);
}

function legend(rows: readonly GridRow[], today: string | undefined, terminal: Terminal): string {
  const used = CELL_STATUSES.filter((s) => rows.some((r) => r.cells.some((c) => c.standing === s)));
  const parts = used.map((s) => `${painted({ standing: s } as Cell, SIGNS[s], terminal)} ${WORDS[s]}`);
  const cells = rows.flatMap((r) => r.cells);
  if (cells.some((c) => c.deprecated && c.endpoint !== undefined)) parts.push('d deprecated');
  const over = ({ endpoint, sunset }: Cell): boolean => endpoint !== undefined && sunset !== undefined && sunset < (today ?? '');
  if (cells.some(over)) parts.push('! its sunset has passed');
  return parts.join('   ');
}

function footer({ versions, service, served, today, rows }: Editions, shown: number, terminal: Terminal): string {
  const { paint } = terminal;
  const lines: string[] = [];
  if (served)
    lines.push('no version: what a request gets that names none; unknown: what one gets that names an unknown version.');
  for (const v of versions.all) {
    const since = typeof v.deprecated === 'string' ? ` from ${v.deprecated} on` : '';
    const told = [
      (v.deprecated ?? false) === false ? '' : `deprecated${since}`,
      v.sunset === undefined ? '' : `and ends on ${v.sunset}`,
    ].filter((t) => t !== '');
    if (told.length === 0) continue;
    const over = v.sunset !== undefined && today !== undefined && v.sunset < today ? paint.red(' (which has passed)') : '';
    lines.push(`Version ${v.id} is ${told.join(' ')}${over}.`);
  }
  const { versioning } = versions;
  if (versions.assumed)
    lines.push('The versions were read out of paths and routes; declare them under versioning: in elm-gate.yaml.');
  else if (versioning?.default !== undefined)
    lines.push(`Version ${versioning.default} is the default (versioning: in elm-gate.yaml).`);
  const last = Math.max(...rows.map((r) => r.cells.findLastIndex((c) => c.standing === 'breaking')));
  const [a, b] = [versions.all[last - 1], versions.all[last]];
  const next = a !== undefined && b !== undefined ? ` "elm-gate compare ${a.id} ${b.id}" shows what breaks, and for whom.` : '';
  const tell = (['breaking', 'dropped', 'changed', 'new'] as const).flatMap((s) => {
    const n = rows.filter((r) => r.cells.some((c) => c.standing === s)).length;
    return n === 0 ? [] : [`${n} ${SHORT[s]}`];
  });
  const sums = tell.length === 0 ? '' : `: ${tell.join(', ')}`;
  lines.push(`${count(shown, 'operation')} of ${service} in ${count(versions.all.length, 'version')}${sums}.${next}`);
  return `${lines.map((l) => wrap(l, terminal)).join('\n')}\n`;
}

function shortened(text: string, room: number): string {
  return widthOf(text) <= room ? text : `${text.slice(0, room - 1)}…`;
}

/** The grid as JSON. */
export function editionsJson({ service, versions, rows }: Editions): object {
  const outcome = (f: RoutingOutcome | undefined): object | null =>
    f === undefined
      ? null
      : {
          request: { method: f.request.method, target: f.request.target, headers: f.request.headers },
          outcome: f.outcome,
          status: f.status,
          handler: f.leaf?.route.handler ?? null,
          version: f.version?.kind === 'version' ? { id: f.version.id, default: f.version.byDefault } : null,
        };
  return {
    service,
    selector:
      versions.versioning === undefined
        ? null
        : { selector: versions.versioning.selector, name: versions.versioning.name || null },
    versions: versions.all.map(({ id, deprecated, sunset }) => ({
      id,
      deprecated: deprecated ?? false,
      sunset: sunset ?? null,
      default: versions.versioning?.default === id,
      assumed: versions.assumed,
    })),
    operations: rows.map((row) => ({
      method: row.method,
      path: row.path,
      versions: Object.fromEntries(
        row.cells.map((c, i) => [
          versions.all[i]?.id ?? '',
          {
            standing: c.standing,
            path: c.endpoint?.path.text ?? null,
            handler: c.endpoint?.route?.handler ?? null,
            documented: c.endpoint?.operation !== undefined,
            deprecated: c.deprecated && c.endpoint !== undefined,
            sunset: c.endpoint === undefined ? null : (c.sunset ?? null),
          },
        ]),
      ),
      none: outcome(row.silent),
      unknown: outcome(row.unknown),
    })),
  };
}
