import * as Flags from '@oclif/core/flags';
import { GateCommand, inputFlags, outputFlag, todayFlag } from './base.ts';

export default class Versions extends GateCommand {
  static override summary = 'Print the grid of operations by versions: new, as before, changed, breaking, dropped.';
  static override description =
    'Each version is compared with the one before it. Two columns say what a request gets that names no version, or an unknown one. How requests name their version is set under versioning: in elm-gate.yaml.';
  static override examples = [
    { description: 'All operations of this folder', command: '<%= config.bin %> <%= command.id %>' },
    {
      description: 'Those of one document, which holds several versions',
      command: '<%= config.bin %> <%= command.id %> --document passage-desk.openapi.yaml',
    },
    { description: 'As it will be on a certain day', command: '<%= config.bin %> <%= command.id %> --today 2027-07-01' },
  ];
  static override flags = {
    ...inputFlags,
    today: todayFlag,
    format: Flags.option({ options: ['text', 'json'] as const, default: 'text' as const, summary: 'How it is written' })(),
    output: outputFlag,
  };

  async run(): Promise<void> {
    const { flags } = await this.parse(Versions);
    const workspace = await this.open(flags);
    this.mayRepeat(workspace, flags.output);
    const engine = await import('./engine.ts');
    const views = await import('../views/versions.ts');
    const grids = workspace.services.map((s) => views.editionsView(engine.contextOf(s), workspace.openEnumerations));
    if (flags.format === 'json')
      return this.put(`${JSON.stringify({ services: grids.map(views.editionsJson) }, null, 2)}\n`, flags.output);
    const terminal = await this.terminal(flags.output);
    this.put(grids.map((g) => views.editionsText(g, terminal)).join('\n'), flags.output);
  }
}
