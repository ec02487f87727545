/** Routes from where they are: what an entry `from` names, read afresh at every run. */
import { readFileSync } from 'node:fs';
import { extname, isAbsolute, join } from 'node:path';
import { parse } from 'csv-parse/sync';
import { match } from '../core/language/matcher.ts';
import { codeReading } from '../core/listing/code.ts';
import { folderReading } from '../core/listing/folder.ts';
import { headingsOf } from '../core/listing/header.ts';
import { listingReading } from '../core/listing/listing.ts';
import type { SkippedRow, SourceReading, SourceRow } from '../core/listing/row.ts';
import { type StyleGuess, styleOf } from '../core/listing/style.ts';
import { mappedPath } from '../core/listing/types.ts';
import { cellsReading, valueReading } from '../core/listing/values.ts';
import type { Style } from '../core/paths/pattern.ts';
import { TYPE_NAMES } from '../core/paths/types.ts';
import type { FromEntry, LoadedRow } from '../core/routes/table/entries.ts';
import { exportsOf } from './exports.ts';
import { fail, InputFailure } from './problem.ts';
import { besideName, type Sources } from './sources.ts';

/** What a source said, and how it was understood. */
export interface FromReading {
  readonly rows: readonly LoadedRow[];
  readonly skipped: readonly (SkippedRow & { readonly file: string })[];
  readonly look: string;
  readonly columns: readonly string[] | undefined;
  readonly style: Style;
  readonly guess: StyleGuess;
  /** What was assumed of types and paths. */
  readonly notes: readonly string[];
  readonly files: readonly string[];
  /** The characters of all that was read. */
  readonly size: number;
}

export type FromOptions = Omit<FromEntry, 'within' | 'loaded'>;

/** At most so many files of a folder or a glob are read. */
const MOST_FILES = 20_000;

/** Reads what `entry.from` names, relative to `base`. Fails with a sentence where there is nothing to read. */
export function readFrom(
  entry: FromOptions,
  base: string,
  sources: Sources,
  known: ReadonlySet<string> = new Set(),
): FromReading {
  const name = entry.from === '-' || isAbsolute(entry.from) ? entry.from : besideName(base, entry.from);
  const parts = entry.row === undefined ? [partOf(name, entry, sources)] : codeParts(name, entry.row, sources);
  const skip = entry.skip;
  const all = parts.flatMap(({ file, reading }) =>
    reading.rows.map((row) => ({ row, file: row.file === undefined ? file : join(file, row.file) })),
  );
  const kept = skip === undefined ? all : all.filter(({ row }) => !isSkipped(skip, row));
  const paths = kept.map(({ row }) => row.path);
  const isFolder = parts[0]?.reading.look === FOLDER;
  const guess: StyleGuess = isFolder ? { style: 'bracket', marked: 0, against: 0 } : styleOf(paths);
  const style = entry.style ?? guess.style;
  const types = new Set([...TYPE_NAMES, ...known]);
  const notes = new Set<string>();
  const rows = kept.map(({ row, file }): LoadedRow => {
    const mapped = mappedPath(row.path, style, types, entry.types === 'ignore');
    for (const note of mapped.notes) notes.add(note);
    const { methods, name: routeName, host } = row;
    return { methods, path: mapped.path, handler: row.handler ?? '', name: routeName, host, place: placeOf(row, file) };
  });
  return {
    rows,
    skipped: parts.flatMap(({ file, reading }) =>
      reading.skipped.map((s) => ({ ...s, file: isFolder ? join(file, s.text) : file })),
    ),
    look: parts[0]?.reading.look ?? 'nothing',
    columns: parts[0]?.reading.columns,
    style,
    guess,
    notes: [...notes],
    files: parts.map(({ file }) => file),
    size: parts.reduce((sum, { size }) => sum + size, 0),
  };
}

const FOLDER = 'a folder of route files';

interface Part {
  readonly file: string;
  readonly reading: SourceReading;
  readonly size: number;
}

function placeOf({ pointer, line, column }: SourceRow, file: string): LoadedRow['place'] {
  return pointer === undefined ? { file, pointer: '', line, ...(column === undefined ? {} : { column }) } : { file, pointer };
}

function isSkipped(skip: string, { path, handler = '', name = '', methods = [] }: SourceRow): boolean {
  return [`${methods.join('|')} ${path} ${handler}`.trim(), path, handler, name].some(
    (t) => (match(skip, t, { anywhere: true }) ?? null) !== null,
  );
}

/** A file by what stands in it, or a folder. */
function partOf(name: string, entry: FromOptions, sources: Sources): Part {
  const files = name === '-' ? undefined : sources.filesIn(name);
  if (files !== undefined) {
    const all = routeFiles(name, files, entry.file, sources);
    return {
      file: name,
      reading: folderReading(all),
      size: all.reduce((sum, { file }) => sum + sources.text(join(name, file)).length, 0),
    };
  }
  if (/[*?{[]/u.test(name) && !sources.exists(name))
    fail(
      name,
      'a glob names source files, and nothing says what a route in them is; say it with row:, an expression with the groups method and path',
    );
  if (name !== '-' && !sources.exists(name))
    fail(name, 'there is no such file or folder; the routes of the table are read from it');
  const text = name === '-' ? readFileSync(0, 'utf8') : sources.text(name);
  return { file: name, reading: readingOf(name, text, entry, sources), size: text.length };
}

function readingOf(name: string, text: string, entry: FromOptions, sources: Sources): SourceReading {
  const extension = extname(name).toLowerCase();
  if (extension === '.csv' || extension === '.tsv') return csvReading(name, text, extension === '.tsv' ? '\t' : ',', entry);
  const lines = text.split(/\r?\n/u);
  const filled = lines.filter((l) => l.trim() !== '');
  if (/^\s*[[{]/u.test(text)) {
    const value = jsonOf(text);
    if (value !== undefined) {
      sources.add(name, text);
      return valueReading(value);
    }
    if (filled.filter((l) => jsonOf(l) !== undefined).length * 2 > filled.length) return linesReading(lines);
  }
  const [head = ''] = filled;
  if (head.includes(',') && headingsOf(head.split(',')) !== undefined) return csvReading(name, text, ',', entry);
  return listingReading(text, { columns: entry.columns });
}

function jsonOf(text: string): unknown {
  try {
    return JSON.parse(text);
  } catch {
    return undefined;
  }
}

/** JSON Lines: each line a value. */
function linesReading(lines: readonly string[]): SourceReading {
  const all = lines.map((line, i) => {
    const value = line.trim() === '' ? null : jsonOf(line);
    const reading = valueReading(value, i + 1);
    const broken = value === undefined ? [{ line: i + 1, text: line, why: 'this is no JSON' }] : [];
    return { rows: reading.rows.map((r) => ({ ...r, pointer: undefined })), skipped: [...reading.skipped, ...broken] };
  });
  return { rows: all.flatMap((r) => r.rows), skipped: all.flatMap((r) => r.skipped), look: 'JSON Lines' };
}

function csvReading(name: string, text: string, delimiter: string, entry: FromOptions): SourceReading {
  let cells: readonly (readonly string[])[];
  try {
    cells = parse(text, {
      delimiter,
      relax_column_count: true,
      relax_quotes: true,
      bom: true,
      skip_empty_lines: false,
    }) as string[][];
  } catch (error) {
    return fail(name, `it can't be read as CSV: ${(error as Error).message.toLowerCase()}`);
  }
  const at = cells.findIndex((row) => headingsOf(row) !== undefined);
  const kinds = entry.columns ?? headingsOf(cells[at] ?? []);
  if (kinds === undefined)
    return fail(name, 'no line of it names its columns; say them with columns: [method, path, handler]', 1, 1);
  return cellsReading(cells.slice(at + 1), kinds, at + 2);
}

/** What is looked at as code. */
const CODE = /\.[cm]?[jt]sx?$/u;

function routeFiles(
  folder: string,
  files: readonly string[],
  pattern: string | undefined,
  sources: Sources,
): Parameters<typeof folderReading>[0] {
  const names = files.filter((n) => CODE.test(n) && !/\.(?:d|test|spec)\.[cm]?tsx?$|(?:^|\/)node_modules\//u.test(n));
  if (names.length > MOST_FILES)
    fail(folder, `the folder holds ${names.length} files, and ${MOST_FILES} is the most that is read; name a folder in it`);
  const isWanted = pattern === undefined ? () => true : (n: string) => fits(pattern, n);
  return names.filter(isWanted).map((n) => ({ file: n, exports: exportsOf(sources.text(join(folder, n))) }));
}

/** `route.*` and `*.api.ts`: a name with stars. */
function fits(pattern: string, name: string): boolean {
  const base = name.slice(name.lastIndexOf('/') + 1);
  const expression = pattern.replace(/[\\^$.|?+()[\]{}]/gu, '\\$&').replaceAll('*', '[^/]*');
  return (match(`^(?:${expression})$`, base, {}) ?? null) !== null;
}

function codeParts(name: string, row: string, sources: Sources): readonly Part[] {
  const isGlob = /[*?{[]/u.test(name) && !sources.exists(name);
  const files = isGlob ? sources.fitting(name) : [name];
  if (files.length === 0) fail(name, 'no file fits this; check the glob, which is relative to the table');
  if (files.length > MOST_FILES)
    fail(name, `${files.length} files fit, and ${MOST_FILES} is the most that is read; narrow the glob`);
  return files.map((file) => {
    const text = sources.text(file);
    const reading = codeReading(text, row, commentsOf(file));
    if (reading === undefined)
      throw new InputFailure([{ file, message: `row: can't be read as an expression, or takes too long on this file: ${row}` }]);
    return { file, reading, size: text.length };
  });
}

function commentsOf(file: string): 'slashes' | 'hash' | 'none' {
  if (/\.(?:[cm]?[jt]sx?|java|kt|kts|go|cs|php|rs|scala|swift|dart|groovy|c|cc|cpp|h)$/iu.test(file)) return 'slashes';
  return /\.(?:py|rb|exs?|sh|pl|cr|nim|ya?ml|toml)$/iu.test(file) ? 'hash' : 'none';
}

/** A sentence for an entry from which no route came. */
export function nothingRead({ skipped, look }: FromReading): string {
  const [first] = skipped;
  const why = first === undefined ? `read as ${look}, no line of it holds a path` : `line ${first.line}: ${first.why}`;
  return `no route was read from it (${why}); name its columns (columns: [method, path, handler]) or say what a row is (row:)`;
}
