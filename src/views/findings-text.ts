/** Findings for people: the most serious first, one blank line between them, a last line that counts. */

import { grouped } from '../core/base/grouped.ts';
import type { RequestWitness } from '../core/checks/engine/finding.ts';
import { nearPlace, placeText } from './place-text.ts';
import { recordedText } from './recorded.ts';
import { counts, type Rendered } from './rendered.ts';
import { count, type Terminal, wrap } from './terminal.ts';

export interface Report {
  readonly findings: readonly Rendered[];
  /** What was looked at: "38 routes and 2 documents of passage-desk". */
  readonly scope: string;
  readonly unchecked: readonly string[];
  readonly discovered: string | undefined;
  /** Every finding whole, and every place. */
  readonly all?: boolean;
  /** What is said of known findings, each a sentence. */
  readonly known?: readonly string[];
}

/** The whole report of a check. */
export function findingsText(report: Report, terminal: Terminal): string {
  const { paint } = terminal;
  const blocks = findingsBlocks(report.findings, report.all === true, terminal);
  const head = report.discovered === undefined ? [] : [paint.dim(wrap(report.discovered, terminal))];
  const notes = [...new Set(report.unchecked), ...(report.known ?? [])];
  const tail = [...notes.map((u) => paint.dim(wrap(u, terminal))), summaryLine(report, terminal), ...nextLine(report, terminal)];
  return `${[...head, ...blocks, tail.join('\n')].join('\n\n')}\n`;
}

/** Findings by cause, each a block; notes in short at the end, unless all of it is wanted. */
export function findingsBlocks(findings: readonly Rendered[], all: boolean, terminal: Terminal): readonly string[] {
  const groups = folded(findings, all);
  const isNote = (group: readonly Rendered[]): boolean => !all && group[0]?.level === 'note';
  const notesShort = groups.filter(isNote).map((group) => groupText(group, true, terminal));
  return [
    ...groups.filter((g) => !isNote(g)).map((group) => groupText(group, false, terminal)),
    ...(notesShort.length === 0 ? [] : [notesShort.join('\n')]),
  ];
}

/** `3 errors, 1 warning in 38 routes …`. */
export function summaryLine({ findings, scope }: Pick<Report, 'findings' | 'scope'>, terminal: Terminal): string {
  const { paint } = terminal;
  const n = counts(findings);
  const parts = [
    n.error > 0 ? paint.red(paint.bold(count(n.error, 'error'))) : '',
    n.warning > 0 ? paint.yellow(paint.bold(count(n.warning, 'warning'))) : '',
    n.note > 0 ? paint.cyan(count(n.note, 'note')) : '',
  ].filter((p) => p !== '');
  return wrap(`${parts.length === 0 ? paint.green('Nothing found') : parts.join(', ')} in ${scope}.`, terminal);
}

/** So many findings of one rule and one message are told as one. */
const LEAST_FOLDED = 2;
/** So many places of them are listed. */
const MOST_PLACES = 5;

/** Findings of one rule that say the same of other places stand together. In the order of their firsts. */
function folded(findings: readonly Rendered[], all: boolean): readonly (readonly [Rendered, ...Rendered[]])[] {
  const groups = grouped(findings, (f) => `${f.level} ${f.rule} ${f.finding.message} ${f.finding.service}`);
  return all ? findings.map((f) => [f]) : groups.flatMap((g) => (g.length < LEAST_FOLDED ? g.map((f) => [f] as const) : [g]));
}

function groupText(group: readonly [Rendered, ...Rendered[]], isShort: boolean, terminal: Terminal): string {
  const [first, ...others] = group;
  if (isShort) return noteText(group, terminal);
  if (others.length === 0) return findingText(first, terminal);
  const lines = others
    .slice(0, MOST_PLACES - 1)
    .map((f) => row('also', `${f.at.what === '' ? f.message : f.at.what}  ${terminal.paint.cyan(placeText(f.at))}`, terminal));
  const left = others.length - lines.length;
  const more = left === 0 ? [] : [row('', `and ${left} more; --all or --rule ${first.rule} --brief lists them`, terminal)];
  return [findingText(first, terminal), ...lines, ...more].join('\n');
}

/** Notes are told in short: what of one, where, and of how many others. */
function noteText([first, ...others]: readonly [Rendered, ...Rendered[]], terminal: Terminal): string {
  const { paint } = terminal;
  const more = others.length === 0 ? '' : ` (and ${others.length} more)`;
  const text = `${first.message}${more}  ${paint.cyan(placeText(first.at))}  ${paint.dim(first.rule)}`;
  return wrap(text, terminal, paint.cyan('note') + ' '.repeat(INDENT - 4), ' '.repeat(INDENT));
}

/** What to type next, where there is anything to do. */
function nextLine({ findings }: Report, terminal: Terminal): readonly string[] {
  const [first] = findings;
  if (first === undefined) return [];
  return [
    terminal.paint.dim(
      wrap(`Next: elm-gate explain ${first.rule}. --brief has one line a finding, --all has every one whole.`, terminal),
    ),
  ];
}

/** One line a finding, as editors and terminals open them: `file:line:column level rule message`. */
export function briefText(report: Report, terminal: Terminal): string {
  const { paint } = terminal;
  const lines = report.findings.map((f) => briefLine(f, terminal));
  return `${[...lines, ...(report.known ?? []).map((k) => paint.dim(k)), summaryLine(report, terminal)].join('\n')}\n`;
}

export function briefLine({ at, level, rule, message }: Rendered, { paint }: Terminal): string {
  const colour = { error: paint.red, warning: paint.yellow, note: paint.cyan }[level];
  return `${paint.cyan(placeText(at))} ${colour(level)} ${paint.dim(rule)} ${message.replaceAll(/\s+/gu, ' ')}`;
}

function findingText(f: Rendered, terminal: Terminal): string {
  const { paint } = terminal;
  const badge = { error: paint.red(paint.bold('error')), warning: paint.yellow(paint.bold('warning')), note: paint.cyan('note') }[
    f.level
  ];
  const pad = ' '.repeat(INDENT);
  const first = badge + ' '.repeat(INDENT - f.level.length);
  const lines = [
    wrap(paint.bold(f.message), terminal, first, pad),
    row('at', `${paint.cyan(placeText(f.at))}  ${paint.dim(f.rule)}`, terminal),
  ];
  const caret = caretLines(f);
  lines.push(...caret.map((line) => pad + paint.yellow(line)));
  for (const r of f.related.slice(0, MOST_RELATED)) {
    lines.push(row(r.role, `${r.what}  ${paint.cyan(nearPlace(r))}`, terminal));
  }
  if (f.related.length > MOST_RELATED) lines.push(row('', `and ${f.related.length - MOST_RELATED} more`, terminal));
  const { witness } = f.finding;
  if (witness?.kind === 'request') lines.push(row('witness', witnessText(witness, terminal), terminal));
  if (witness?.kind === 'value')
    lines.push(
      row(
        'witness',
        `${paint.green(JSON.stringify(witness.value))} fits ${witness.validUnder}, not ${witness.invalidUnder}`,
        terminal,
      ),
    );
  const assumed = (f.finding.restsOn ?? []).filter((r) => r.assumed);
  if (assumed.length > 0)
    lines.push(
      row('assumed', `${assumed.map((r) => `${r.fact}: ${r.value}`).join(', ')} (set it under router: in the table)`, terminal),
    );
  if (f.finding.recorded !== undefined) lines.push(row('traffic', recordedText(f.finding.recorded), terminal));
  if (f.advice !== '') lines.push(row('advice', f.advice, terminal));
  return lines.join('\n');
}

const INDENT = 9;
const LABEL = 9;
const MOST_RELATED = 4;

function row(label: string, text: string, terminal: Terminal): string {
  const pad = ' '.repeat(INDENT);
  const shown = label.length > LABEL - 1 ? `${label}: ` : label.padEnd(LABEL);
  return wrap(text, terminal, pad + terminal.paint.dim(shown), pad + ' '.repeat(LABEL));
}

/** The pattern with a caret below what is wrong in it. */
function caretLines(f: Rendered): readonly string[] {
  const { pattern, start, end } = f.finding.data;
  if (typeof pattern !== 'string' || typeof start !== 'number' || typeof end !== 'number') return [];
  return [pattern, ' '.repeat(start) + '^'.repeat(Math.max(1, Math.min(end, pattern.length) - start))];
}

/** `GET /locks/closed -> locks.read`, headers in between where they matter. */
export function witnessText({ request, takenBy, status }: RequestWitness, { paint }: Terminal): string {
  const headers = Object.entries(request.headers).map(([name, value]) => `${name}: ${value}`);
  const sent = [`${request.method} ${request.target}`, ...headers].join('  ');
  const answered = takenBy === null ? `answered ${status ?? 'by nobody'}` : `answered ${status ?? ''} by ${takenBy}`;
  const end = takenBy !== null && status === null ? `handled by ${takenBy}` : answered;
  return `${paint.green(sent)} is ${end}`;
}
