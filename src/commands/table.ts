import * as Flags from '@oclif/core/flags';
import type { Finding, Level } from '../core/checks/engine/finding.ts';
import { LEVELS } from '../core/checks/engine/finding.ts';
import { type Route, routeTitle } from '../core/routes/table/route.ts';
import type { TableView } from '../views/table.ts';
import { GateCommand, inputFlags, locator, outputFlag } from './base.ts';

export default class Table extends GateCommand {
  static override summary = 'Print the effective route table.';
  static override description =
    'Prefixes and shorthands are expanded; # is the order in which the router tries the routes; routes with findings are marked.';
  static override examples = [
    { description: 'The table of this folder', command: '<%= config.bin %> <%= command.id %>' },
    {
      description: 'The routes of one resource that handle DELETE',
      command: '<%= config.bin %> <%= command.id %> --resource /v2/passages --method delete',
    },
    { description: 'As a page', command: '<%= config.bin %> <%= command.id %> --format markdown --output routes.md' },
    { description: 'As JSON', command: '<%= config.bin %> <%= command.id %> --format json' },
  ];
  static override flags = {
    ...inputFlags,
    resource: Flags.string({ summary: 'Only routes below this path, such as /v2/locks', helpValue: 'PATH' }),
    method: Flags.string({ summary: 'Only routes that handle this method', helpValue: 'METHOD' }),
    grep: Flags.string({ summary: 'Only routes whose path, handler or name holds this text', helpValue: 'TEXT' }),
    format: Flags.option({
      options: ['text', 'json', 'csv', 'markdown'] as const,
      default: 'text' as const,
      summary: 'How the table is written',
    })(),
    gateway: Flags.boolean({ summary: 'One table of all services, in the order in which the gateway asks them' }),
    output: outputFlag,
  };

  async run(): Promise<void> {
    const { flags } = await this.parse(Table);
    const workspace = await this.open(flags);
    this.mayRepeat(workspace, flags.output);
    const { tableCsv, tableJson, tableMarkdown, tableText } = await import('../views/table.ts');
    const { check, routerOf, tryOrder } = await import('./engine.ts');
    const terminal = await this.terminal(flags.output);
    const wanted = wantedBy(flags);
    const views = workspace.services.flatMap((service): TableView[] => {
      const { table } = service;
      if (table === undefined) return [];
      const order = tryOrder(routerOf(service));
      const routes = table.routes.filter((r) => !r.isBarrier && wanted(r));
      return [
        {
          table,
          routes,
          order,
          locate: locator(
            workspace,
            routes.map((r) => r.place),
          ),
          mark: marks(check(service, workspace.levels)),
        },
      ];
    });
    const shown = flags.gateway ? [(await import('./gateway-table.ts')).gatewayTable(workspace.services, views)] : views;
    switch (flags.format) {
      case 'json':
        return this.put(`${JSON.stringify(shown.map(tableJson), null, 2)}\n`, flags.output);
      case 'csv':
        return this.put(shown.map(tableCsv).join(''), flags.output);
      case 'markdown':
        return this.put(shown.map(tableMarkdown).join('\n'), flags.output);
      default:
        return this.put(shown.map((v) => tableText(v, terminal)).join('\n'), flags.output);
    }
  }
}

/** The routes that the filters leave. */
function wantedBy({
  resource,
  method,
  grep,
}: {
  resource?: string | undefined;
  method?: string | undefined;
  grep?: string | undefined;
}): (route: Route) => boolean {
  const base = resource === undefined ? undefined : `/${resource.replaceAll(/^\/+|\/+$/gu, '')}`;
  const text = grep?.toLowerCase();
  return (route) =>
    (base === undefined || route.path === base || route.path.startsWith(`${base}/`)) &&
    (method === undefined || route.methods.includes(method.toUpperCase()) || route.methods.includes('ANY')) &&
    (text === undefined || [route.path, route.handler, route.name ?? ''].some((t) => t.toLowerCase().includes(text)));
}

/** Most serious level that the findings give a route. */
function marks(findings: readonly Finding[]): (route: Route) => Level | undefined {
  const found = new Map<string, Level>();
  for (const { at, level } of findings) {
    const key = `${at.place.file} ${at.place.pointer} ${at.what.split(' -> ', 1)[0]}`;
    const known = found.get(key);
    if (known === undefined || LEVELS.indexOf(level) < LEVELS.indexOf(known)) found.set(key, level);
  }
  return (route) => found.get(`${route.place.file} ${route.place.pointer} ${routeTitle(route)}`);
}
