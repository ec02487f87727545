/** The first settings of a folder as text, every key explained. */

import type { FolderSurvey } from './folder-survey.ts';
import { firstTable } from './table-text.ts';

/** What the router does, as far as somebody said it. */
export type Answers = Readonly<Partial<Record<'precedence' | 'noMethod' | 'types', string>>>;

export interface FirstFiles {
  readonly settings: string;
  /** A table that reads the routes, where the folder has a list and no table. */
  readonly table: { readonly file: string; readonly text: string } | undefined;
}

/** `name` is the folder's. O(what was found). */
export function firstFiles(survey: FolderSurvey, name: string, answers: Answers): FirstFiles {
  const [list] = survey.lists;
  const table = list === undefined ? undefined : { file: `${name}.routes.yaml`, text: tableOf(list, name, answers) };
  const tables = table === undefined ? survey.tables : [table.file];
  return { settings: settingsOf(survey, tables, name), table };
}

function tableOf({ name: from, reading }: FolderSurvey['lists'][number], name: string, answers: Answers): string {
  const plain = firstTable({ service: name, reading, options: { style: reading.style }, from });
  const said = Object.entries(answers).filter(([, value]) => value !== undefined);
  if (said.length === 0) return plain;
  return plain.replace(
    /# router:\n#.*\n/u,
    ['router:', ...said.map(([fact, value]) => `  ${fact}: ${/^\d+$/u.test(value) ? `"${value}"` : value}`), ''].join('\n'),
  );
}

function settingsOf({ documents, older }: FolderSurvey, tables: readonly string[], name: string): string {
  const services = servicesOf(tables, documents, name);
  const lines = [
    '# The settings of elm-gate, written by elm-gate init. "elm-gate check" reads this file by itself.',
    'services:',
    ...services.flatMap((s) => [
      `  - name: ${s.name}`,
      ...(s.routes === undefined
        ? []
        : [`    routes: ${s.routes}     # how the router behaves, and where its routes are read from`]),
      ...(s.document === undefined
        ? []
        : [`    document: ${s.document}     # the OpenAPI document that the routes are held against`]),
    ]),
    '',
    '# Who calls the service: elm-gate media then says what each client gets, and check who gets 406 or 415.',
    '# clients:',
    '#   - { name: app, accept: application/json, sends: application/json }',
    '',
    '# Requests whose outcome you know; check holds the table to them.',
    '# expect:',
    '#   - { request: GET /, status: 404 }',
    '',
    '# The level of single rules: error, warning, note or off. "elm-gate explain" lists them.',
    '# levels: { methods/missing: off }',
    '',
    'failOn: error     # the lowest level that ends with status 1: error, warning or note',
  ];
  for (const { document, revisions } of older)
    lines.push('', `# Older versions of ${document} in git:`, ...revisions.map((r) => `#   elm-gate compare ${r} ${document}`));
  return `${lines.join('\n')}\n`;
}

interface Named {
  readonly name: string;
  readonly routes: string | undefined;
  readonly document: string | undefined;
}

/** A table takes the document that starts with its name, or the only one; other documents are services by themselves. */
function servicesOf(tables: readonly string[], documents: readonly string[], name: string): readonly Named[] {
  const stem = (file: string): string => file.replace(/^.*\//u, '').replace(/\..*$/u, '');
  const owned = new Map(
    tables.map((t) => [
      t,
      documents.find((d) => stem(d).startsWith(stem(t))) ??
        (tables.length === 1 && documents.length === 1 ? documents[0] : undefined),
    ]),
  );
  const free = documents.filter((d) => ![...owned.values()].includes(d));
  const all: Named[] = [
    ...tables.map((routes) => ({ name: stem(routes), routes, document: owned.get(routes) })),
    ...free.map((document) => ({
      name: /^(?:openapi|swagger|index|api)$/iu.test(stem(document)) ? name : stem(document),
      routes: undefined,
      document,
    })),
  ];
  const seen = new Map<string, number>();
  return all.map((s) => {
    const n = (seen.get(s.name) ?? 0) + 1;
    seen.set(s.name, n);
    return n === 1 ? s : { ...s, name: `${s.name}-${n}` };
  });
}
