/** Lists of records, and running text: a path with `Key: value` lines below it, log lines with a method and a path in them. */
import { kindOfHeading } from './header.ts';
import type { Line } from './lines.ts';
import { isMethodWord, methodsIn } from './methods.ts';
import type { SkippedRow, SourceReading, SourceRow } from './row.ts';

const KEY = /^\s*[-*]?\s*["']?([A-Za-z][\w #-]{0,24}?)["']?\s*(?::|=>?)\s+(\S.*)$/u;

const MIDDLEWARE = /^\[?middlewares?\]?$/iu;

/** Reads records: lines of keys below a line that names the path, or a block of keys one of which is the path. O(text). */
export function recordsReading(lines: readonly Line[]): SourceReading {
  const rows: SourceRow[] = [];
  const skipped: SkippedRow[] = [];
  let open: OpenRecord | undefined;
  const close = (): void => {
    const read = open === undefined ? undefined : recordRow(open);
    if (read !== undefined && 'why' in read) skipped.push(read);
    else if (read !== undefined) rows.push(read);
    open = undefined;
  };
  for (const line of lines) {
    const { text } = line;
    const trimmed = text.trim();
    if (trimmed === '') {
      close();
      continue;
    }
    const [, key, value] = KEY.exec(text) ?? [];
    const kind = key === undefined ? undefined : kindOfHeading(key);
    const isIndented = /^\s/u.test(text);
    const head = /^(?:(\S+)\s+)?(\/\S*)$/u.exec(trimmed);
    if (key === undefined && head !== null && (head[1] === undefined || methodsIn(head[1]) !== undefined)) {
      close();
      const values = new Map([['path', head[2] as string]]);
      if (head[1] !== undefined) values.set('method', head[1]);
      open = { line: line.number, text: trimmed, values, below: [] };
    } else if (key !== undefined && value !== undefined) {
      if (open?.values.has(kind ?? '') === true && !isIndented) close();
      open ??= { line: line.number, text: trimmed, values: new Map(), below: [] };
      if (kind !== undefined && kind !== 'ignore' && !open.values.has(kind)) open.values.set(kind, unquoted(value));
    } else if (!isIndented) close();
    // Handlers below their route, one a line.
    else if (open !== undefined && /^\S+$/u.test(trimmed)) open.below.push(trimmed);
  }
  close();
  return { rows, skipped, look: 'records' };
}

/** A record whose end was not met yet. */
interface OpenRecord {
  readonly line: number;
  readonly text: string;
  readonly values: Map<string, string>;
  /** What stands below it without a key. */
  readonly below: string[];
}

/** The route of a record; undefined where it is none, and why where one is expected there. */
function recordRow({ line, text, values, below }: OpenRecord): SourceRow | SkippedRow | undefined {
  const path = values.get('path') ?? '';
  if (path === '' || values.size < 2) return undefined;
  if (below.length > 0 && below.every((b) => MIDDLEWARE.test(b)))
    return { line, text, why: 'only middleware stands below it', isSure: true };
  const said = values.get('method');
  const methods = said === undefined ? undefined : methodsIn(said);
  if (said !== undefined && methods === undefined) return { line, text, why: `"${said}" is no method` };
  const handler = values.get('handler') ?? below.findLast((b) => !/^\[.*\]$/u.test(b));
  return { line, methods, path, handler, name: values.get('name'), host: values.get('host') };
}

function unquoted(text: string): string {
  return text.replace(/^["'](.*)["']$/u, '$1');
}

const KEYED = /\b(method|verb|path|uri|url|route|pattern|handler|name)=("[^"]*"|'[^']*'|\S+)/giu;
const PATH = /(?:^|[\s"'`{([=,:])(\/[^\s"'`,;]*)/u;

/** Reads running text: each line with a method and a path in it is a route, whatever else stands there. O(text). */
export function logReading(lines: readonly Line[]): SourceReading {
  const rows = lines.flatMap(({ number, text }): readonly SourceRow[] => {
    const keyed = new Map([...text.matchAll(KEYED)].map(([, key = '', value = '']) => [key.toLowerCase(), unquoted(value)]));
    const keyedPath = keyed.get('path') ?? keyed.get('uri') ?? keyed.get('url') ?? keyed.get('route') ?? keyed.get('pattern');
    const keyedMethods = methodsIn(keyed.get('method') ?? keyed.get('verb') ?? '');
    if (keyedPath !== undefined && keyedMethods !== undefined)
      return [{ line: number, methods: keyedMethods, path: keyedPath, handler: keyed.get('handler'), name: keyed.get('name') }];
    return inText(number, text);
  });
  return { rows, skipped: [], look: 'log lines' };
}

const JOINS = /^[^\p{L}]*(?:methods?|via|with|for|to|on|path|uri|url|route|request)?[^\p{L}]*$/iu;

/** `Mapped {/locks, GET} route`, `[debug] GET /locks --> main.locks (3 handlers)`. */
function inText(line: number, text: string): readonly SourceRow[] {
  const words = [...text.matchAll(/[A-Z]{3,}(?:\s*[|,]\s*[A-Z]{3,})*/gu)];
  const method = words.find(({ 0: word, index }) => {
    const around = `${text[index - 1] ?? ' '}${text[index + word.length] ?? ' '}`;
    return word.split(/\s*[|,]\s*/u).every(isMethodWord) && !/[\w/-]/u.test(around);
  });
  if (method === undefined) return [];
  const end = method.index + method[0].length;
  const after = PATH.exec(text.slice(end));
  const before = PATH.exec(text.slice(0, method.index));
  const found = after ?? before;
  if (found === null) return [];
  // Between the two stand signs and at most one word that joins them.
  const between =
    after === null ? text.slice(found.index + found[0].length, method.index) : text.slice(end, end + found.index + 1);
  if (!JOINS.test(between)) return [];
  const path = closed(found[1] as string);
  if (/\u2026|\.\.$/u.test(path)) return [];
  const rest = text.slice(after === null ? end : end + found.index + found[0].length - (found[1] as string).length + path.length);
  const arrow = /(?:-+>|=>|\u2192|\u21d2|\bto\b|\bhandled by\b)\s*(\S+)/u.exec(rest)?.[1];
  const handler = arrow?.replace(/[,;)\]}]+$/u, '');
  return path === '' ? [] : [{ line, methods: methodsIn(method[0]), path, handler }];
}

/** A bracket that closes what stood before the path is none of the path's. */
function closed(path: string): string {
  let text = path.replace(/[.:]$/u, '');
  for (const [open, close] of ['{}', '()', '[]', '<>'].map((p) => [p[0] as string, p[1] as string] as const)) {
    let spare = text.split(close).length - text.split(open).length;
    let end = text.length;
    for (; spare > 0 && text[end - 1] === close; spare--) end -= 1;
    text = text.slice(0, end);
  }
  return text;
}
