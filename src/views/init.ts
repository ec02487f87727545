/** What `init` found and wrote. */
import type { FolderSurvey } from '../files/folder-survey.ts';
import { count, type Terminal, wrap } from './terminal.ts';

export interface Assumed {
  readonly fact: string;
  readonly value: string;
  readonly asks: string;
}

const MOST_NAMED = 5;

/** Found, written, assumed, next. */
export function initText(
  survey: FolderSurvey,
  table: string | undefined,
  assumed: readonly Assumed[],
  terminal: Terminal,
): string {
  const { paint } = terminal;
  const named = (names: readonly string[]): string =>
    names.length > MOST_NAMED
      ? `${names.slice(0, MOST_NAMED).join(', ')} and ${names.length - MOST_NAMED} more`
      : names.join(', ');
  const { tables, documents, lists, older } = survey;
  const [list, ...others] = lists;
  const found = [
    ...(tables.length > 0 ? [`${count(tables.length, 'route table')}: ${named(tables)}`] : []),
    ...(documents.length > 0 ? [`${count(documents.length, 'OpenAPI document')}: ${named(documents)}`] : []),
    ...(list === undefined
      ? []
      : [
          `${count(list.reading.rows.length, 'route')} in ${list.name}, read as ${list.reading.look}, style ${list.reading.style}`,
        ]),
    ...(others.length > 0 ? [`other lists, not used: ${named(others.map((l) => l.name))}`] : []),
    ...older.map(({ document, revisions }) => `older versions of ${document} in git: ${named(revisions)}`),
  ];
  const written = ['elm-gate.yaml', ...(table === undefined ? [] : [table])].join(' and ');
  const facts = assumed.map(({ fact, value, asks }) => wrap(`${fact}: ${value}  (${asks})`, terminal, '  ', '    '));
  return [
    `${paint.bold('Found')}\n${found.map((f) => wrap(f, terminal, '  ', '    ')).join('\n')}`,
    ...(facts.length === 0
      ? []
      : [
          `${paint.bold('Assumed')}, to be set under router: of ${table}\n${facts.join('\n')}\n${wrap('Where the service runs, "elm-gate rehearse URL --facts --write" finds them out.', terminal, '  ', '  ')}`,
        ]),
    wrap(`${paint.bold('Written')} ${written}. Next: elm-gate table, then elm-gate check.`, terminal),
  ]
    .join('\n\n')
    .concat('\n');
}
