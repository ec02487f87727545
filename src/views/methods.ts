/** The grid of resources by methods, and the life of one resource. */

import type { Context } from '../core/checks/engine/context.ts';
import type { Cell, Row, Stage, State } from '../core/checks/engine/grid.ts';
import { STEPS } from '../core/contract/resources/resources.ts';
import { placeText } from './place-text.ts';
import type { Rendered } from './rendered.ts';
import { count, type Terminal, widthOf, wrap } from './terminal.ts';

/** The sign tells it without colour too. */
const SIGNS: Readonly<Record<State, string>> = { both: '●', served: '◐', documented: '○', missing: '✗', taken: '→', none: '·' };

const LEGEND: readonly (readonly [State, string])[] = [
  ['both', 'served and documented'],
  ['served', 'served only'],
  ['documented', 'documented only'],
  ['missing', 'missing by policy'],
  ['taken', 'handled by another route'],
  ['none', 'not expected'],
];

/** One line for each resource. */
export function gridText(service: Context['service'], rows: readonly Row[], terminal: Terminal): string {
  const { paint } = terminal;
  const columns = STEPS.filter((s) => rows.some((r) => r.cells[s].state !== 'none'));
  const widths = columns.map((c) => Math.max(c.length, 4) + 2);
  const room = terminal.width - widths.reduce((a, b) => a + b, 0) - 2;
  const others = rows.some((r) => r.others.length > 0);
  const longest = Math.max(8, ...rows.map((r) => widthOf(r.resource.path.text)));
  const first = Math.max(16, Math.min(longest, others ? room - (longest > room - 16 ? 9 : 16) : room));
  const names = labelsOf(
    rows.map((r) => r.resource.path.text),
    first,
  );
  const head = [
    'resource'.padEnd(first + 2),
    ...columns.map((c, i) => c.padEnd(widths[i] as number)),
    others ? 'others' : '',
  ].join('');
  const lines = rows.map((row, i) => {
    const [name, above] = names[i] as Label;
    const cells = columns.map((c, i) => painted(row.cells[c], terminal) + ' '.repeat((widths[i] as number) - 1));
    const more = othersOf(row, terminal.width - first - 2 - widths.reduce((a, b) => a + b, 0));
    const line = `${name}${' '.repeat(first + 2 - widthOf(name))}${cells.join('')}${paint.dim(more)}`.trimEnd();
    return above === '' ? line : `${brokenPath(above, terminal.width)}\n${line}`;
  });
  const used = LEGEND.filter(([state]) => rows.some((r) => STEPS.some((s) => r.cells[s].state === state)));
  const alone = service.contracts.length === 0;
  const legend = used
    .map(([state, words]) => `${sign(state, terminal)} ${alone && state === 'both' ? 'served' : words}`)
    .join('   ');
  const documented = alone ? ' No document was named or found.' : '';
  const full = [...rows].sort((a, b) => b.resource.members.length - a.resource.members.length)[0];
  const next = full === undefined ? '' : ` "elm-gate methods ${full.resource.path.text}" shows the life of one.`;
  return `${paint.dim(head.trimEnd())}\n${lines.join('\n')}\n\n${wrap(legend, terminal)}\n${wrap(`${count(rows.length, 'resource')} of ${service.name}.${documented}${next}`, terminal)}\n`;
}

function sign(state: State, { paint }: Terminal): string {
  const text = SIGNS[state];
  switch (state) {
    case 'both':
      return paint.green(text);
    case 'served':
    case 'documented':
      return paint.yellow(text);
    case 'missing':
    case 'taken':
      return paint.red(paint.bold(text));
    default:
      return paint.dim(text);
  }
}

function painted({ state }: Cell, terminal: Terminal): string {
  return sign(state, terminal);
}

function othersOf({ others, resource }: Row, room: number): string {
  const base = resource.path.text;
  const names = others.map(
    (e) => `${e.method} ${e.path.text.startsWith(`${base}/`) ? e.path.text.slice(base.length) : e.path.text}`,
  );
  const all = names.join(', ');
  if (widthOf(all) <= room) return all;
  return names.length === 0 || room < 4 ? '' : `${count(names.length, 'other')}`;
}

/** A path on lines that fit, broken at slashes. */
function brokenPath(path: string, width: number): string {
  const lines: string[] = [];
  let rest = path;
  while (widthOf(rest) > width) {
    const at = rest.lastIndexOf('/', width - 1);
    if (at <= 4) break;
    lines.push(rest.slice(0, at));
    rest = `    ${rest.slice(at)}`;
  }
  return [...lines, rest].join('\n');
}

/** What stands in the first column, and a line above it where that is too narrow for the path. */
type Label = readonly [string, string];

/**
 * Paths where they fit, what they add to a row above, indented, where they don't; the whole on a line of its own where that is
 * too long as well. So no two rows look the same.
 */
function labelsOf(texts: readonly string[], room: number): readonly Label[] {
  const above: string[] = [];
  return texts.map((text): Label => {
    while (above.length > 0 && !text.startsWith(`${above.at(-1)}/`)) above.pop();
    const [parent, depth] = [above.at(-1) ?? '', above.length];
    above.push(text);
    if (widthOf(text) <= room) return [text, ''];
    const added = `${'  '.repeat(depth)}${text.slice(parent.length)}`;
    return depth > 0 && widthOf(added) <= room ? [added, ''] : ['', text];
  });
}

/** The rows as JSON. */
export function gridJson(service: Context['service'], rows: readonly Row[]): object {
  return {
    service: service.name,
    resources: rows.map(({ resource, readOnly, cells, others }) => ({
      path: resource.path.text,
      kind: resource.kind,
      item: resource.item?.text ?? null,
      parent: resource.parent ?? null,
      why: resource.why,
      readOnly,
      steps: Object.fromEntries(
        STEPS.map((s) => [s, { state: cells[s].state, methods: cells[s].methods, takenBy: cells[s].takenBy ?? null }]),
      ),
      others: others.map((e) => ({ method: e.method, path: e.path.text })),
      members: resource.members.map((m) => ({
        method: m.endpoint.method,
        path: m.endpoint.path.text,
        step: m.step ?? null,
        role: m.role,
      })),
    })),
  };
}

export interface Life {
  readonly row: Row;
  readonly stages: readonly Stage[];
  /** What the checks say of it. */
  readonly findings: readonly Rendered[];
}

/** A resource step by step, with the gaps where they occur. */
export function lifeText({ row, stages, findings }: Life, terminal: Terminal): string {
  const { paint } = terminal;
  const { resource } = row;
  const lines = [
    paint.bold(resource.path.text),
    wrap(paint.dim(`${resource.kind}, because ${resource.why}`), terminal, '  '),
    '',
  ];
  const told = new Set<Rendered>();
  for (const stage of stages) {
    lines.push(...stageLines(stage, row, terminal));
    const places = placesOf(stage);
    for (const f of findings) {
      if (told.has(f) || !places.has(`${f.at.file}#${f.at.pointer}`)) continue;
      told.add(f);
      lines.push(findingLine(f, terminal));
    }
  }
  const rest = findings.filter((f) => !told.has(f));
  if (rest.length > 0) lines.push('', ...rest.map((f) => findingLine(f, terminal)));
  for (const e of row.others)
    lines.push(
      `  ${'other'.padEnd(11)}${e.method} ${e.path.text}${e.route === undefined ? paint.dim('  documented only') : `  ${paint.cyan(e.route.handler)}`}`,
    );
  return `${lines.join('\n')}\n`;
}

function placesOf({ endpoint }: Stage): ReadonlySet<string> {
  const places = [endpoint?.route?.place, endpoint?.operation?.place].filter((p) => p !== undefined);
  return new Set(places.map((p) => `${p.file}#${p.pointer}`));
}

function stageLines(stage: Stage, row: Row, terminal: Terminal): readonly string[] {
  const { paint } = terminal;
  const { endpoint, step } = stage;
  const label = `  ${step.padEnd(11)}`;
  if (endpoint === undefined) {
    const cell = step === 'read again' ? undefined : row.cells[step];
    if (cell === undefined || cell.state === 'none') return [];
    const why = cell.takenBy === undefined ? 'missing' : `missing, and handled by ${cell.takenBy}`;
    return [`${label}${sign(cell.state, terminal)} ${cell.methods.join(' or ')} ${paint.red(why)}`];
  }
  const state: State = step === 'read again' ? 'both' : row.cells[step].state;
  const who = endpoint.route === undefined ? paint.red('no route') : paint.cyan(endpoint.route.handler);
  const first = `${label}${sign(state, terminal)} ${endpoint.method} ${endpoint.path.text}  ${who}`;
  if (step === 'read again')
    return [
      first,
      `${' '.repeat(15)}${paint.dim(stage.statuses.length > 0 ? `answers ${stage.statuses.join(' or ')} once it is deleted` : 'no document says what it answers once it is deleted')}`,
    ];
  const facts = [
    stage.key,
    stage.takes.length > 0 ? `takes ${stage.takes.join(', ')}` : undefined,
    stage.returns.length > 0 ? `returns ${stage.returns.join(', ')}` : undefined,
    stage.statuses.length > 0 ? `answers ${stage.statuses.join(', ')}` : undefined,
  ].filter((f) => f !== undefined);
  return facts.length === 0 ? [first] : [first, wrap(paint.dim(facts.join('; ')), terminal, ' '.repeat(15))];
}

function findingLine(f: Rendered, terminal: Terminal): string {
  const { paint } = terminal;
  const badge = f.level === 'error' ? paint.red('error') : f.level === 'warning' ? paint.yellow('warning') : paint.cyan('note');
  return wrap(
    `${f.message}  ${paint.dim(`${f.rule}, ${placeText(f.at)}`)}`,
    terminal,
    `${' '.repeat(15)}${badge} `,
    ' '.repeat(17),
  );
}

/** A life as JSON. */
export function lifeJson({ row, stages, findings }: Life): object {
  return {
    path: row.resource.path.text,
    kind: row.resource.kind,
    why: row.resource.why,
    steps: stages.map((s) => ({
      step: s.step,
      state: s.step === 'read again' ? null : row.cells[s.step].state,
      method: s.endpoint?.method ?? null,
      path: s.endpoint?.path.text ?? null,
      handler: s.endpoint?.route?.handler ?? null,
      key: s.key ?? null,
      takes: s.takes,
      returns: s.returns,
      statuses: s.statuses,
    })),
    findings: findings.map((f) => ({ rule: f.rule, level: f.level, message: f.message, at: f.at })),
  };
}
