import { existsSync } from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';
import * as Args from '@oclif/core/args';
import * as Flags from '@oclif/core/flags';
import { COLUMN_KINDS, type ColumnKind } from '../core/listing/row.ts';
import { STYLES } from '../core/paths/pattern.ts';
import type { FromOptions } from '../files/from.ts';
import { fail, InputFailure } from '../files/problem.ts';
import { GateCommand, outputFlag } from './base.ts';

export default class Import extends GateCommand {
  static override summary = 'Read routes from where they are: a listing, a file, a folder, source code; write a table of them.';
  static override description =
    'SOURCE is a printed listing, a CSV or JSON file, a folder of route files, source files by glob (with --row), or - for standard input. What was understood is shown first; --output writes a route table that reads the source at every run.';
  static override examples = [
    { description: 'What a listing holds', command: '<%= config.bin %> <%= command.id %> routes.txt' },
    {
      description: 'A table that reads it',
      command: '<%= config.bin %> <%= command.id %> routes.txt --output canal.routes.yaml',
    },
    {
      description: 'From another program',
      command: 'print-routes | <%= config.bin %> <%= command.id %> - --output canal.routes.yaml',
    },
    {
      description: 'From source code',
      command: `<%= config.bin %> <%= command.id %> "src/**/*.ts" --row "router\\.(?<method>\\w+)\\('(?<path>[^']+)', (?<handler>\\w+)"`,
    },
  ];
  static override args = {
    source: Args.string({ ignoreStdin: true, required: true, description: 'Where the routes are' }),
  };
  static override flags = {
    columns: Flags.string({ summary: 'What the columns hold, such as method,path,name,handler', helpValue: 'LIST' }),
    row: Flags.string({
      summary: 'An expression with the groups method, path, handler, name; each match is a route',
      helpValue: 'EXPRESSION',
    }),
    skip: Flags.string({ summary: 'Rows that this expression matches are no routes', helpValue: 'EXPRESSION' }),
    file: Flags.string({ summary: 'In a folder: the files that are looked at, such as route.*', helpValue: 'NAME' }),
    style: Flags.option({ options: STYLES, summary: 'How paths are written, where it is not recognised' })(),
    types: Flags.option({ options: ['ignore', 'keep'] as const, summary: 'ignore takes the types off patterns' })(),
    within: Flags.string({ summary: 'The prefix below which the routes are served', helpValue: 'PATH' }),
    service: Flags.string({ summary: 'The name of the service', helpValue: 'NAME' }),
    copy: Flags.boolean({ summary: 'Write the routes themselves, not where they are read from' }),
    force: Flags.boolean({ summary: 'Write over a file that is there' }),
    'allow-outside': Flags.boolean({ summary: 'Read files outside the repository too' }),
    format: Flags.option({ options: ['text', 'json'] as const, default: 'text' as const, summary: 'How it is shown' })(),
    output: outputFlag,
  };

  async run(): Promise<void> {
    const { args, flags } = await this.parse(Import);
    const { readFrom, nothingRead } = await import('../files/from.ts');
    const { openSources } = await import('../files/sources.ts');
    const { firstTable } = await import('../files/table-text.ts');
    const { importJson, importText } = await import('../views/import.ts');
    const { output } = flags;
    if (output !== undefined && !flags.force && existsSync(output))
      fail(output, 'this file is there already; name another one, or add --force to write over it');
    const sources = openSources(process.cwd(), { named: [args.source], outside: flags['allow-outside'] });
    const options: Omit<FromOptions, 'from'> = {
      columns: columnsIn(flags.columns),
      row: flags.row,
      skip: flags.skip,
      file: flags.file,
      style: flags.style,
      types: flags.types,
    };
    const reading = readFrom({ from: args.source, ...options }, '.', sources);
    if (reading.rows.length === 0) fail(args.source, nothingRead(reading));
    const isCopy = flags.copy || args.source === '-';
    const folder = dirname(output ?? join('.', 'x'));
    const table = firstTable({
      service: flags.service ?? serviceName(args.source),
      reading,
      options: { ...options, style: reading.style },
      from: isCopy ? undefined : relative(resolve(folder), resolve(args.source)).replaceAll('\\', '/'),
      within: flags.within,
    });
    this.inputs = sources.names;
    if (output !== undefined) this.put(table, output);
    const said = flags.style !== undefined;
    if (flags.format === 'json') return this.put(`${JSON.stringify(importJson(reading, said, table), null, 2)}\n`, undefined);
    this.put(importText(args.source, reading, said, await this.terminal(undefined)), undefined);
    const next =
      output === undefined
        ? `The table would be (--output FILE writes it):\n\n${table.split('\n', 24).join('\n').trimEnd()}\n`
        : `Written to ${output}. Next: elm-gate table --routes ${output}, and elm-gate check --routes ${output}.\n`;
    this.put(`\n${next}`, undefined);
  }
}

function columnsIn(text: string | undefined): readonly ColumnKind[] | undefined {
  return text?.split(',').map((word) => {
    const kind = COLUMN_KINDS.find((k) => k === word.trim());
    if (kind === undefined)
      throw new InputFailure([{ file: '', message: `--columns: "${word}" is no column; they are ${COLUMN_KINDS.join(', ')}` }]);
    return kind;
  });
}

function serviceName(source: string): string {
  const base = source.replace(/\/+$/u, '').replace(/^.*\//u, '').replace(/\..*$/u, '');
  return /^[\w-]+$/u.test(base) && base !== '' ? base : 'service';
}
