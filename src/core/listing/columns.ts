/** Lists in columns: which column is which, and the route of each row. */
import { type Cell, cellsOf, type Splitter } from './cells.ts';
import { headingsOf, kindOfHeading } from './header.ts';
import { isRule, type Line } from './lines.ts';
import { isMethodWord, isNoHandler, methodsIn } from './methods.ts';
import type { ColumnKind, ReadingOptions, SkippedRow, SourceReading, SourceRow } from './row.ts';

/** A line that may be a row. */
interface Row {
  readonly line: Line;
  readonly cells: readonly Cell[];
}

/** Reads lines as columns cut by one splitter. O(text). */
export function columnsReading(lines: readonly Line[], splitter: Splitter, options: ReadingOptions = {}): SourceReading {
  const rows: Row[] = [];
  let headings: readonly (ColumnKind | undefined)[] | undefined;
  let headCells: readonly Cell[] = [];
  for (const line of joinedBoxes(lines, splitter)) {
    if (line.text.trim() === '' || isRule(line.text)) continue;
    const cells = cellsOf(line, splitter).flatMap((c) => (splitter === 'box' ? [c] : parted(c)));
    const titles = headings === undefined ? cells.flatMap(titlesIn) : [];
    const said = headings === undefined ? headingsOf(titles.map((c) => c.text)) : undefined;
    if (said === undefined) rows.push({ line, cells });
    else [headings, headCells] = [said, titles];
  }
  const kinds: readonly (ColumnKind | undefined)[] | undefined = options.columns ?? headings ?? kindsByContent(rows);
  const found: SourceRow[] = [];
  const skipped: SkippedRow[] = [];
  for (const row of rows) {
    const cells = kinds === undefined ? undefined : placed(row, kinds, headCells);
    const read = rowOf(row, cells, found.at(-1));
    if (read === undefined) continue;
    if (read === 'more') {
      const last = found.pop() as SourceRow;
      found.push(continued(last, row, kinds ?? [], headCells));
    } else if ('why' in read) skipped.push(read);
    else found.push(read);
  }
  return {
    rows: found,
    skipped,
    look: LOOKS[splitter],
    ...(kinds === undefined ? {} : { columns: kinds.map((k) => k ?? 'ignore') }),
  };
}

const LOOKS: Readonly<Record<Splitter, string>> = {
  box: 'a table with lines',
  tab: 'columns cut by tabs',
  dots: 'columns with dots between',
  spaces: 'columns cut by spaces',
  semicolon: 'columns cut by semicolons',
};

/** `Prefix Verb`: two headings with one space between. */
function titlesIn(cell: Cell): readonly Cell[] {
  if (kindOfHeading(cell.text) !== undefined) return [cell];
  const words = [...cell.text.matchAll(/\S+/gu)];
  return words.length > 1 && words.every((w) => kindOfHeading(w[0]) !== undefined)
    ? cut(
        cell,
        words.map((w) => w.index),
      )
    : [cell];
}

/** `GET /locks locks.list` in one cell: a method and a path part themselves from what stands beside them. */
function parted(cell: Cell): readonly Cell[] {
  if (!cell.text.includes(' ') || methodsIn(cell.text) !== undefined) return [cell];
  const words = [...cell.text.matchAll(/\S+/gu)].map((m) => ({ text: m[0], at: m.index }));
  const at = words.findIndex((w, i) => i <= 3 && isPathText(w.text));
  const path = words[at];
  if (path === undefined) {
    const last = words.at(-1) as { text: string; at: number };
    return words.length === 2 && isMethodWord(last.text) ? cut(cell, [0, last.at]) : [cell];
  }
  const methods = words.find((w, i) => i < at && methodsIn(cell.text.slice(w.at, path.at)) !== undefined);
  return cut(cell, [0, ...(methods === undefined ? [] : [methods.at]), path.at, path.at + path.text.length]);
}

/** The cell cut at these offsets into its text. */
function cut(cell: Cell, offsets: readonly number[]): readonly Cell[] {
  return [...new Set(offsets)].flatMap((from, i, all) => {
    const raw = cell.text.slice(from, all[i + 1]);
    const text = raw.trim();
    if (text === '') return [];
    const start = cell.start + from + raw.length - raw.trimStart().length;
    return [{ text, start, end: start + text.length }];
  });
}

/** Does it look like a path by itself? */
export function isPathText(text: string): boolean {
  if (!/^(?:\/|\^\/?|\{\/|\(\/)\S*$/u.test(text) || /^\/{2,}[^/]*$|^\/\*|[,:;]$/u.test(text)) return false;
  return text.split('{').length === text.split('}').length;
}

/** A path without its first slash, where the column says that it is one. */
function isBarePath(text: string): boolean {
  return /^[\w{}:<>[\]().*?|~%+@$,;=!-]+(?:\/[\w{}:<>[\]().*?|~%+@$,;=!-]*)*$/u.test(text) && !/::|@\w|^\d+$|^-+$/u.test(text);
}

/** In a table with a line between all rows, the lines between two of them are one row. */
function joinedBoxes(lines: readonly Line[], splitter: Splitter): readonly Line[] {
  if (splitter !== 'box') return lines;
  const rules = lines.filter((l) => isRule(l.text)).length;
  const rows = lines.filter((l) => l.text.trim() !== '' && !isRule(l.text)).length;
  if (rules < rows / 2 || rules < 4) return lines;
  const out: Line[] = [];
  let group: Line[] = [];
  const flush = (): void => {
    if (group.length > 0) out.push(merged(group));
    group = [];
  };
  for (const line of lines) {
    if (isRule(line.text) || line.text.trim() === '') {
      flush();
      out.push(line);
    } else group.push(line);
  }
  flush();
  return out;
}

/** Cells of several lines, one below the other, as one line: parts of a path stand without a space between. */
function merged(group: readonly Line[]): Line {
  const [first, ...more] = group as readonly [Line, ...Line[]];
  if (more.length === 0) return first;
  const rows = group.map((line) => cellsOf(line, 'box').map((c) => c.text));
  const width = rows[0]?.length ?? 0;
  if (rows.some((r) => r.length !== width)) return first;
  const cells = Array.from({ length: width }, (_, i) => rows.map((r) => r[i] as string).filter((t) => t !== ''));
  const text = cells.map((c) => (methodsIn(c.join(' ')) === undefined ? c.join('') : c.join('|'))).join(' │ ');
  return { number: first.number, text: `│ ${text} │` };
}

/** What each column holds by what most of its cells are; undefined where no column is of paths. */
function kindsByContent(rows: readonly Row[]): readonly ColumnKind[] | undefined {
  const counts = new Map<number, number>();
  for (const { cells } of rows) counts.set(cells.length, (counts.get(cells.length) ?? 0) + 1);
  const [width] = [...counts].filter(([n]) => n > 1).sort((a, b) => b[1] - a[1] || b[0] - a[0])[0] ?? [];
  if (width === undefined) return undefined;
  const full = rows.filter((r) => r.cells.length === width);
  const share = (i: number, test: (text: string) => boolean): number =>
    full.filter((r) => test((r.cells[i] as Cell).text)).length / full.length;
  const columns = Array.from({ length: width }, (_, i) => i);
  const method = columns.find((i) => share(i, (t) => methodsIn(t) !== undefined || isNoHandler(t)) > 0.8);
  const rooted = columns.find((i) => i !== method && share(i, isPathText) > 0.6);
  const path =
    rooted ??
    columns.find(
      (i) => i !== method && method !== undefined && share(i, isBarePath) > 0.9 && share(i, (t) => t.includes('/')) > 0.3,
    );
  if (path === undefined) return undefined;
  // One line with a path in it is a sentence, not a list.
  if (method === undefined && full.length < 2) return undefined;
  const rest = columns.filter((i) => i !== method && i !== path && share(i, (t) => /^[\d.,:]+(?:\s?[kMG]?i?B)?$/u.test(t)) < 0.8);
  // What looks like code is the handler: `canal.views.LockDetail`, `LocksController@show`.
  const isCode = (t: string): boolean => /[\w)][#@\\][A-Za-z]|::|\(|\w\.\w+\.\w/u.test(t);
  const behind = rest.filter((i) => i > path);
  const handler = behind.findLast((i) => share(i, isCode) > 0.5) ?? behind.at(-1) ?? rest.at(-1);
  const name = rest.find((i) => i !== handler);
  return columns.map((i) =>
    i === method ? 'method' : i === path ? 'path' : i === handler ? 'handler' : i === name ? 'name' : 'ignore',
  );
}

/** The cell of each column: by number where all are there, else by what they are and where they stand. */
function placed(row: Row, kinds: readonly (ColumnKind | undefined)[], head: readonly Cell[]): ReadonlyMap<ColumnKind, string> {
  const out = new Map<ColumnKind, string>();
  const put = (kind: ColumnKind | undefined, text: string): void => {
    if (kind !== undefined && kind !== 'ignore' && !out.has(kind)) out.set(kind, text);
  };
  const { cells } = row;
  if (cells.length === kinds.length) {
    cells.forEach((c, i) => {
      put(kinds[i], c.text);
    });
    const method = out.get('method');
    const isRight = method === undefined || method === '' || methodsIn(method) !== undefined || isNoHandler(method);
    if (isRight && (out.get('path') ?? '') !== '') return out;
    out.clear();
  }
  // Empty cells leave no trace: what is a method or a path tells itself, the others stand below their headings.
  const method = cells.findIndex((c) => methodsIn(c.text) !== undefined || isNoHandler(c.text));
  const path = cells.findIndex((c, i) => i !== method && isPathText(c.text));
  const bare = path >= 0 || method < 0 ? path : cells.findIndex((c, i) => i > method && isBarePath(c.text));
  if (method >= 0 && kinds.includes('method')) put('method', (cells[method] as Cell).text);
  if (bare >= 0) put('path', (cells[bare] as Cell).text);
  cells.forEach((c, i) => {
    if (i === method || i === bare) return;
    const under = head.length === kinds.length ? nearest(c, head, kinds) : undefined;
    const at = kinds.indexOf('path');
    const side = (i < bare ? kinds.slice(0, at) : kinds.slice(at + 1)).filter(
      (k) => k === 'name' || k === 'handler' || k === 'host',
    );
    const free = side.filter((k) => k !== undefined && !out.has(k));
    put(under !== undefined && !out.has(under) ? under : i < bare ? free.at(-1) : free[0], c.text);
  });
  return out;
}

/** The column whose heading a cell stands below. */
function nearest(cell: Cell, head: readonly Cell[], kinds: readonly (ColumnKind | undefined)[]): ColumnKind | undefined {
  const gap = (h: Cell): number => Math.max(0, Math.max(h.start - cell.end, cell.start - h.end));
  let best = 0;
  head.forEach((h, i) => {
    if (gap(h) < gap(head[best] as Cell)) best = i;
  });
  const kind = kinds[best];
  return kind === 'method' || kind === 'path' ? undefined : kind;
}

/** A host before its path: `api.canal.example/locks`. */
const HOSTED = /^((?:\*\.|[\w{}-]+\.)+[a-z{}]+(?::\d+)?)(\/\S*)$/u;

/** An arrow before a handler, and how many there are. */
const DECORATION = /^(?:-+>|=+>|[\u2192\u21d2\u203a\u00bb]|:)\s*|\(\d+ [a-z]+\)$/gu;

function rowOf(
  { line, cells }: Row,
  by: ReadonlyMap<ColumnKind, string> | undefined,
  last: SourceRow | undefined,
): SourceRow | SkippedRow | 'more' | undefined {
  const skip = (why: string): SkippedRow => ({ line: line.number, text: line.text.trim(), why });
  if (by === undefined) return undefined;
  const path = by.get('path') ?? '';
  const said = by.get('method') ?? '';
  if (/^[\u21b3\u21c2\u2022\u00b7*>\u2514-]\s/u.test(line.text.trim()) && !isPathText(path))
    return skip('belongs to the row above');
  if (isNoHandler(said)) return skip(`"${said}" handles no request by itself`);
  const methods = methodsIn(said);
  const isSaid = cells.some((c) => methodsIn(c.text) !== undefined);
  if (path === '') {
    const goesOn = last?.line === line.number - 1 && said === '' && by.size > 0 && isIndented(line);
    return goesOn ? 'more' : isSaid ? skip('no path stands in it') : undefined;
  }
  if (said !== '' && methods === undefined) return isPathText(path) ? skip(`"${said}" is no method`) : undefined;
  if (!isPathText(path) && !isBarePath(path) && !HOSTED.test(path)) return isSaid ? skip(`"${path}" is no path`) : undefined;
  if (!isPathText(path) && methods === undefined && !path.includes('/')) return undefined;
  if (/\u2026|\.{3}$/u.test(path) && !path.includes('[...') && !path.includes('{...')) return skip('the path is cut off');
  const [, host, own] = HOSTED.exec(path) ?? [];
  const text = (kind: ColumnKind): string | undefined => {
    const value = by.get(kind)?.replace(DECORATION, '').trimEnd();
    return value === undefined || !/[\p{L}\p{N}]/u.test(value) || /[\u2500-\u257f]/u.test(value) ? undefined : value;
  };
  const [named, handled] = partsOf(text('handler'));
  return {
    line: line.number,
    methods,
    path: own ?? path,
    handler: handled,
    name: text('name') ?? named,
    host: text('host') ?? host,
  };
}

/** `locks.show › LocksController@show`: a name and a handler in one cell. */
function partsOf(handler: string | undefined): readonly [name: string | undefined, handler: string | undefined] {
  const [, name, own] = /^(\S+)\s+[\u203a\u00bb]\s+(\S.*)$/u.exec(handler ?? '') ?? [];
  return own === undefined ? [undefined, handler] : [name, own];
}

function isIndented({ text }: Line): boolean {
  return /^\s{2,}|^[|\u2502\u2503\u2551]\s+[|\u2502\u2503\u2551]/u.test(text);
}

/** A row whose last cells go on in the next line. */
function continued(row: SourceRow, more: Row, kinds: readonly (ColumnKind | undefined)[], head: readonly Cell[]): SourceRow {
  const by = placed(more, kinds, head);
  const add = (a: string | undefined, b: string | undefined): string | undefined =>
    b === undefined || b === '' ? a : (a ?? '') + b;
  return { ...row, handler: add(row.handler, by.get('handler')), name: add(row.name, by.get('name')) };
}
