/** What was understood of a source of routes, before a table is written from it. */
import type { FromReading } from '../files/from.ts';
import { shortened } from './shorten.ts';
import { count, type Terminal, widthOf, wrap } from './terminal.ts';

const MOST_ROWS = 10;
const MOST_SKIPPED = 8;

/** How it looks, how many routes by method, the style and how sure, the first rows as read, what was left out and why. */
export function importText(name: string, reading: FromReading, isStyleSaid: boolean, terminal: Terminal): string {
  const { paint } = terminal;
  const { rows, skipped, look, columns, notes, files } = reading;
  const where = files.length > 1 ? `${name} (${count(files.length, 'file')})` : name;
  const named = columns === undefined ? '' : `: ${columns.join(', ')}`;
  const head = `${paint.bold(count(rows.length, 'route'))} read from ${where}, as ${look}${named}.`;
  const blocks = [
    [wrap(head, terminal), wrap(`${methodCounts(reading)}. ${styleText(reading, isStyleSaid)}`, terminal)].join('\n'),
    firstRows(reading, terminal),
    leftOut(skipped, terminal),
    notes.length === 0 ? '' : [...notes].map((n) => wrap(`Assumed: ${n}.`, terminal, '', '  ')).join('\n'),
  ];
  return `${blocks.filter((b) => b !== '').join('\n\n')}\n`;
}

function methodCounts({ rows }: FromReading): string {
  const counts = new Map<string, number>();
  for (const { methods } of rows) for (const m of methods ?? ['unknown method']) counts.set(m, (counts.get(m) ?? 0) + 1);
  return [...counts]
    .sort((a, b) => b[1] - a[1])
    .map(([m, n]) => `${m} ${n}`)
    .join(', ');
}

function styleText({ style, guess, rows }: FromReading, isSaid: boolean): string {
  if (isSaid) return `Style ${style}, as asked.`;
  if (guess.marked === 0) return `No path has a parameter, so the style is not told by them; ${style} is assumed.`;
  const against = guess.against === 0 ? 'none looks otherwise' : `${count(guess.against, 'path')} look otherwise`;
  return `Style ${style}: ${guess.marked} of ${count(rows.length, 'path')} have its parameters, ${against}.`;
}

function firstRows({ rows }: FromReading, { paint, width }: Terminal): string {
  const some = rows.slice(0, MOST_ROWS);
  const methods = some.map((r) => r.methods?.join('|') ?? '?');
  const wide = Math.max(...methods.map(widthOf), 0);
  const room = Math.max(24, Math.floor((width - wide - 6) * 0.6));
  const paths = shortened(
    some.map((r) => r.path),
    room,
  );
  const longest = Math.max(...[...paths.values()].map(widthOf), 0);
  const handlers = shortened(
    some.map((r) => r.handler),
    Math.max(12, width - wide - longest - 6),
  );
  const lines = some.map((r, i) => {
    const path = paths.get(r.path) as string;
    const line = `  ${paint.cyan((methods[i] as string).padEnd(wide))}  ${path}${' '.repeat(longest - widthOf(path) + 2)}${paint.bold(handlers.get(r.handler) ?? '')}`;
    return line.trimEnd();
  });
  const more = rows.length - some.length;
  return [...lines, ...(more > 0 ? [paint.dim(`  and ${more} more`)] : [])].join('\n');
}

function leftOut(skipped: FromReading['skipped'], terminal: Terminal): string {
  if (skipped.length === 0) return '';
  const { paint } = terminal;
  const lines = skipped
    .slice(0, MOST_SKIPPED)
    .map(({ file, line, text, why }) => wrap(`${file}:${line}: ${why}: ${text.slice(0, 120)}`, terminal, '  ', '    '));
  const more = skipped.length - MOST_SKIPPED;
  return [
    `${paint.yellow(count(skipped.length, 'line'))} left out:`,
    ...lines,
    ...(more > 0 ? [paint.dim(`  and ${more} more; --format json lists all`)] : []),
  ].join('\n');
}

/** The same for programs. */
export function importJson(reading: FromReading, isStyleSaid: boolean, table: string): object {
  const { rows, skipped, look, columns, style, guess, notes } = reading;
  return {
    look,
    columns: columns ?? null,
    style: { value: style, asked: isStyleSaid, marked: guess.marked, against: guess.against },
    routes: rows.map(({ methods, path, handler, name, host, place }) => ({
      methods: methods ?? null,
      path,
      handler,
      name: name ?? null,
      host: host ?? null,
      at: { file: place.file, line: place.line ?? null, pointer: place.pointer },
    })),
    skipped,
    notes,
    table,
  };
}
