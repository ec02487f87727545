/** What the first line of a list calls its columns. */
import type { ColumnKind } from './row.ts';

const WORDS: Readonly<Record<Exclude<ColumnKind, 'ignore'>, readonly string[]>> = {
  method: [
    'method',
    'methods',
    'verb',
    'verbs',
    'http',
    'httpmethod',
    'httpmethods',
    'httpverb',
    'requestmethod',
    'allow',
    'via',
  ],
  path: [
    'path',
    'uri',
    'url',
    'pattern',
    'route',
    'rule',
    'urlpattern',
    'uripattern',
    'template',
    'urlrule',
    'routepath',
    'href',
  ],
  handler: [
    'handler',
    'action',
    'controller',
    'controlleraction',
    'endpoint',
    'view',
    'function',
    'callback',
    'target',
    'component',
  ],
  name: ['name', 'alias', 'prefix', 'routename', 'operationid', 'id', 'as'],
  host: ['host', 'domain', 'hostname', 'subdomain', 'vhost'],
};
/** Columns that say nothing about who answers what. */
const OTHERS = [
  'scheme',
  'schemes',
  'middleware',
  'middlewares',
  'size',
  'firstloadjs',
  'priority',
  'file',
  'line',
  'order',
  'no',
  'nr',
];

/** What a heading says its column holds; undefined where it is no heading that is known. */
export function kindOfHeading(cell: string): ColumnKind | undefined {
  const bare = cell.toLowerCase().replace(/[^a-z]/gu, '');
  if (bare === '') return cell.trim() === '#' ? 'ignore' : undefined;
  for (const [kind, words] of Object.entries(WORDS)) if (words.includes(bare)) return kind as ColumnKind;
  return OTHERS.includes(bare) ? 'ignore' : undefined;
}

/** The kinds of a line of headings; undefined where it is none. Two headings are enough, or one of two cells. */
export function headingsOf(cells: readonly string[]): readonly (ColumnKind | undefined)[] | undefined {
  const kinds = cells.map(kindOfHeading);
  const known = kinds.filter((k) => k !== undefined);
  if (known.length * 2 < cells.length || !known.some((k) => k === 'path' || k === 'method') || known.length < 2) return undefined;
  // Of two that mean the same the first is it: "Route" beside "Path" is a name.
  const first = new Set<ColumnKind>();
  const own = (kind: ColumnKind | undefined, i: number): ColumnKind | undefined => {
    if (kind === undefined || kind === 'ignore') return kind;
    if (!first.has(kind)) {
      first.add(kind);
      return kind;
    }
    return kind === 'path' && !kinds.slice(0, i).includes('name') ? 'name' : 'ignore';
  };
  return kinds.map(own);
}
