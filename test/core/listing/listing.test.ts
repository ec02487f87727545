/** Printed lists of routes: a random table printed in a random look, read back, is the same table. */
import fc from 'fast-check';
import { expect, test } from 'vitest';
import { listingReading } from '../../../src/core/listing/listing.ts';
import { runs } from '../../runs.ts';

interface Printed {
  readonly methods: readonly string[];
  readonly path: string;
  readonly handler: string;
  readonly name: string;
}

const STYLES = [(n: string) => `{${n}}`, (n: string) => `:${n}`, (n: string) => `<int:${n}>`, (n: string) => `[${n}]`] as const;
const word = fc.constantFrom('locks', 'gates', 'passages', 'v2', 'moorings', 'closed', 'get-all', 'toll_rates', 'a.json');
const table = fc
  .tuple(
    fc.constantFrom(...STYLES),
    fc.uniqueArray(
      fc.record({
        segments: fc.array(fc.oneof(word, word, fc.constantFrom('=lockId', '=id')), { minLength: 1, maxLength: 5 }),
        methods: fc.uniqueArray(fc.constantFrom('GET', 'POST', 'PUT', 'PATCH', 'DELETE', 'HEAD'), { minLength: 1, maxLength: 3 }),
        handler: fc.constantFrom(
          'locks.list',
          'LocksController@show',
          'canal/gates#create',
          'App\\Locks::read',
          'list_locks',
          'createLock',
        ),
        name: fc.constantFrom('locks.index', 'lock', 'gates_new', 'passage-read'),
      }),
      { minLength: 4, maxLength: 14, selector: (r) => r.segments.join('/') },
    ),
  )
  .map(([style, rows]) =>
    rows.map(
      ({ segments, ...r }): Printed => ({
        ...r,
        path: `/${segments.map((s) => (s.startsWith('=') ? style(s.slice(1)) : s)).join('/')}`,
      }),
    ),
  );

type Column = 'method' | 'path' | 'handler' | 'name';
const TITLES: Readonly<Record<Column, readonly string[]>> = {
  method: ['Method', 'METHOD', 'Verb', 'Methods'],
  path: ['Path', 'URI', 'Pattern', 'URI Pattern', 'Rule'],
  handler: ['Handler', 'Action', 'Controller#Action', 'Endpoint'],
  name: ['Name', 'Alias'],
};
const look = fc.record({
  columns: fc.constantFrom<readonly Column[]>(
    ['method', 'path', 'handler'],
    ['method', 'path', 'name', 'handler'],
    ['name', 'method', 'path', 'handler'],
    ['path', 'method', 'handler'],
    ['handler', 'method', 'path'],
    ['method', 'path'],
  ),
  join: fc.constantFrom('|', ', ', ','),
  how: fc.constantFrom(
    'aligned',
    'right',
    'box',
    'unicode',
    'ruled',
    'markdown',
    'tabs',
    'dots',
    'records',
    'log',
    'arrow',
    'keyed',
  ),
  header: fc.boolean(),
  title: fc.nat(3),
  tail: fc.boolean(),
  crlf: fc.boolean(),
  colours: fc.boolean(),
});
type Look = typeof look extends fc.Arbitrary<infer T> ? T : never;

function printed(rows: readonly Printed[], how: Look): { readonly text: string; readonly columns: readonly Column[] } {
  const cell = (r: Printed, c: Column): string => (c === 'method' ? r.methods.join(how.join) : r[c]);
  const titles = how.columns.map((c) => TITLES[c][how.title % TITLES[c].length] as string);
  const body = rows.map((r) => how.columns.map((c) => cell(r, c)));
  const isDrawn = ['box', 'unicode', 'ruled', 'markdown'].includes(how.how);
  const all = how.header || isDrawn ? [titles, ...body] : body;
  const widths = titles.map((_, i) => Math.max(...all.map((r) => (r[i] as string).length)));
  const pad = (r: readonly string[]): readonly string[] => r.map((t, i) => t.padEnd(widths[i] as number));
  const rule = (left: string, mid: string, right: string, line: string): string =>
    left + widths.map((w) => line.repeat(w + 2)).join(mid) + right;
  const draw = (bar: string, r: readonly string[]): string => `${bar} ${pad(r).join(` ${bar} `)} ${bar}`;
  const lines: string[] = [];
  let columns: readonly Column[] = how.columns;
  switch (how.how) {
    case 'aligned':
      lines.push(...all.map((r) => pad(r).join('   ').trimEnd()));
      break;
    case 'right':
      lines.push(
        ...all.map(
          (r) => `  ${r.map((t, i) => (i === 0 ? t.padStart(widths[0] as number) : t.padEnd(widths[i] as number))).join('  ')}`,
        ),
      );
      break;
    case 'box':
      lines.push(
        rule('+', '+', '+', '-'),
        draw('|', titles),
        rule('+', '+', '+', '-'),
        ...body.map((r) => draw('|', r)),
        rule('+', '+', '+', '-'),
      );
      break;
    case 'unicode':
      lines.push(
        rule('┌', '┬', '┐', '─'),
        draw('│', titles),
        rule('├', '┼', '┤', '─'),
        ...body.map((r) => draw('│', r)),
        rule('└', '┴', '┘', '─'),
      );
      break;
    case 'ruled':
      lines.push(
        rule('╔', '╤', '╗', '═'),
        draw('║', titles),
        ...body.flatMap((r) => [rule('╟', '┼', '╢', '─'), draw('║', r)]),
        rule('╚', '╧', '╝', '═'),
      );
      break;
    case 'markdown':
      lines.push(draw('|', titles), `|${widths.map((w) => '-'.repeat(w + 2)).join('|')}|`, ...body.map((r) => draw('|', r)));
      break;
    case 'tabs':
      lines.push(...all.map((r) => r.join('\t')));
      break;
    case 'dots':
      columns = ['method', 'path', 'handler'];
      lines.push(...rows.map((r) => `  ${r.methods.join('|').padEnd(10)} ${r.path} ${'.'.repeat(40)} ${r.handler}`));
      break;
    case 'records':
      columns = ['method', 'path', 'name', 'handler'];
      lines.push(
        ...rows.flatMap((r) => [
          r.path,
          `  Methods: ${r.methods.join(', ')}`,
          `  Name:    ${r.name}`,
          `  Handler: ${r.handler}`,
          '',
        ]),
      );
      break;
    case 'log':
      columns = ['method', 'path'];
      lines.push(
        ...rows.map(
          (r) => `[canal] 4821  - 2027-03-14 09:30:00   LOG [Explorer] Mapped {${r.path}, ${r.methods.join('|')}} route +1ms`,
        ),
      );
      break;
    case 'arrow':
      columns = ['method', 'path', 'handler'];
      lines.push(
        ...rows.map((r) => `[debug] ${r.methods.join('|').padEnd(7)} ${r.path.padEnd(30)} --> ${r.handler} (3 handlers)`),
      );
      break;
    default:
      columns = ['method', 'path', 'handler'];
      lines.push(
        ...rows.map(
          (r) =>
            `time=2027-03-14T09:30:00Z level=info msg="route added" method=${r.methods.join('|')} path=${r.path} handler=${r.handler}`,
        ),
      );
  }
  if (how.tail) lines.push('', `Showing [${rows.length}] routes`);
  const painted = how.colours ? lines.map((l) => l.replace(/\b(GET|POST)\b/gu, '\u001b[32m$1\u001b[39m')) : lines;
  return { text: ['Routes of the canal:', '', ...painted, ''].join(how.crlf ? '\r\n' : '\n'), columns };
}

test('a random table printed in a random look -> the same routes, no row more and none less', () => {
  fc.assert(
    fc.property(table, look, (rows, how) => {
      const { text, columns } = printed(rows, how);
      const read = listingReading(text);
      const told = read.rows.map((r) => ({
        methods: r.methods,
        path: r.path,
        ...(columns.includes('handler') ? { handler: r.handler } : {}),
        ...(columns.includes('name') && columns.includes('handler') ? { name: r.name } : {}),
      }));
      const expected = rows.map((r) => ({
        methods: r.methods,
        path: r.path,
        ...(columns.includes('handler') ? { handler: r.handler } : {}),
        ...(columns.includes('name') && columns.includes('handler') ? { name: r.name } : {}),
      }));
      expect({ text, read: told }).toEqual({ text, read: expected });
      expect(read.skipped).toEqual([]);
    }),
    { numRuns: runs(600) },
  );
});
