import * as Args from '@oclif/core/args';
import * as Flags from '@oclif/core/flags';
import type { Context } from '../core/checks/engine/context.ts';
import type { Row } from '../core/checks/engine/grid.ts';
import { InputFailure } from '../files/problem.ts';
import type { Life } from '../views/methods.ts';
import { GateCommand, inputFlags, locator, outputFlag } from './base.ts';

export default class Methods extends GateCommand {
  static override summary = 'Print the grid of resources by methods, or the life of one resource.';
  static override description =
    'Paths are grouped into resources by what they match, not by their names. Which methods a resource should have is set under methods: in elm-gate.yaml.';
  static override examples = [
    { description: 'All resources', command: '<%= config.bin %> <%= command.id %>' },
    { description: 'One of them, from create to gone', command: '<%= config.bin %> <%= command.id %> /v2/passages' },
    { description: 'How paths were grouped, and why', command: '<%= config.bin %> <%= command.id %> --format json' },
  ];
  static override args = {
    resource: Args.string({ ignoreStdin: true, description: 'The path of a resource, such as /v2/passages' }),
  };
  static override flags = {
    ...inputFlags,
    format: Flags.option({ options: ['text', 'json'] as const, default: 'text' as const, summary: 'How it is written' })(),
    output: outputFlag,
  };

  async run(): Promise<void> {
    const { args, flags } = await this.parse(Methods);
    const workspace = await this.open(flags);
    this.mayRepeat(workspace, flags.output);
    const engine = await import('./engine.ts');
    const views = await import('../views/methods.ts');
    const terminal = await this.terminal(flags.output);
    const grids = workspace.services.map((service) => {
      const context = engine.contextOf(service);
      return { service, context, rows: engine.gridOf(context) };
    });
    if (args.resource === undefined) {
      const json = (): string =>
        `${JSON.stringify({ services: grids.map((g) => views.gridJson(g.service, g.rows)) }, null, 2)}\n`;
      return this.put(
        flags.format === 'json' ? json() : grids.map((g) => views.gridText(g.service, g.rows, terminal)).join('\n'),
        flags.output,
      );
    }
    const lives = found(grids, args.resource).map(({ context, row }): Life => {
      const findings = engine.check(context.service, workspace.levels).filter((f) => concerns(row, f.at.place));
      return {
        row,
        stages: engine.lifeOf(context, row.resource),
        findings: engine.render(findings, locator(workspace, engine.placesOf(findings))),
      };
    });
    const json = (): string => `${JSON.stringify({ resources: lives.map(views.lifeJson) }, null, 2)}\n`;
    return this.put(flags.format === 'json' ? json() : lives.map((l) => views.lifeText(l, terminal)).join('\n'), flags.output);
  }
}

/** Does a finding stand at one of the resource's routes or operations? */
function concerns({ resource }: Row, place: { readonly file: string; readonly pointer: string }): boolean {
  return resource.members.some(({ endpoint }) =>
    [endpoint.route?.place, endpoint.operation?.place].some((p) => p?.file === place.file && p.pointer === place.pointer),
  );
}

/** The resources of that path; without a version or prefix too, where none has the whole path. */
function found(
  grids: readonly { readonly context: Context; readonly rows: readonly Row[] }[],
  asked: string,
): readonly { context: Context; row: Row }[] {
  const path = `/${asked.replace(/^\/+|\/+$/gu, '')}`;
  const all = grids.flatMap(({ context, rows }) => rows.map((row) => ({ context, row })));
  const names = ({ row }: { row: Row }): readonly string[] => [row.resource.path.text, row.resource.item?.text ?? ''];
  const exact = all.filter((r) => names(r).includes(path));
  const chosen = exact.length > 0 ? exact : all.filter((r) => names(r).some((n) => n.endsWith(path)));
  if (chosen.length > 0) return chosen;
  const known = all.map((r) => r.row.resource.path.text);
  throw new InputFailure([
    {
      file: '',
      message: `there is no resource ${path}; there are ${known.slice(0, 12).join(', ')}${known.length > 12 ? ' and more' : ''}`,
    },
  ]);
}
