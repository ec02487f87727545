import { Flags } from '@oclif/core';
import type { Finding, Level } from '../core/checks/finding.ts';
import { LEVELS } from '../core/checks/finding.ts';
import type { Route } from '../core/routes/route.ts';
import { GateCommand, inputFlags, locator, outputFlag } from './base.ts';

export default class Table extends GateCommand {
  static override summary = 'Print the effective route table.';
  static override description =
    'Prefixes and shorthands are expanded; # is the order in which routes are declared; routes with findings are marked.';
  static override examples = [
    { description: 'The table of this folder', command: '<%= config.bin %> <%= command.id %>' },
    { description: 'As JSON', command: '<%= config.bin %> <%= command.id %> --format json' },
  ];
  static override flags = {
    ...inputFlags,
    format: Flags.option({ options: ['text', 'json'] as const, default: 'text' as const, summary: 'How the table is written' })(),
    output: outputFlag,
  };

  async run(): Promise<void> {
    const { flags } = await this.parse(Table);
    const workspace = await this.open(flags);
    const { tableJson, tableText } = await import('../views/table.ts');
    const { check } = await import('./engine.ts');
    const terminal = await this.terminal(flags.output);
    const views = workspace.services.flatMap((service) => {
      const { table } = service;
      if (table === undefined) return [];
      const mark = marks(check(service, workspace.levels));
      return [
        {
          table,
          routes: table.routes,
          locate: locator(
            workspace,
            table.routes.map((r) => r.place),
          ),
          mark,
        },
      ];
    });
    const text =
      flags.format === 'json'
        ? `${JSON.stringify(views.map(tableJson), null, 2)}\n`
        : views.map((v) => tableText(v, terminal)).join('\n');
    this.put(text, flags.output);
  }
}

/** The gravest level that the findings give a route. */
function marks(findings: readonly Finding[]): (route: Route) => Level | undefined {
  const found = new Map<string, Level>();
  for (const { at, level } of findings) {
    const key = `${at.place.file} ${at.place.pointer} ${at.what}`;
    const known = found.get(key);
    if (known === undefined || LEVELS.indexOf(level) < LEVELS.indexOf(known)) found.set(key, level);
  }
  return (route) =>
    found.get(`${route.place.file} ${route.place.pointer} ${route.methods.join('|')} ${route.path} -> ${route.handler}`);
}
