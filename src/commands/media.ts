import * as Flags from '@oclif/core/flags';
import { GateCommand, inputFlags, outputFlag } from './base.ts';

export default class Media extends GateCommand {
  static override summary = 'Print what each client gets from each operation, and in which form.';
  static override description =
    'The client that sends no Accept comes first: it gets the first type that is declared. Then come the clients of elm-gate.yaml, and one that --accept and --send describe.';
  static override examples = [
    { description: 'All clients of the settings', command: '<%= config.bin %> <%= command.id %>' },
    {
      description: 'Somebody who would rather have XML',
      command: "<%= config.bin %> <%= command.id %> --accept 'application/xml;q=0.5, */*;q=0.1'",
    },
    { description: 'Somebody who sends CSV', command: '<%= config.bin %> <%= command.id %> --send text/csv' },
  ];
  static override flags = {
    ...inputFlags,
    accept: Flags.string({ summary: 'Ask for a client with this Accept', helpValue: 'RANGES' }),
    send: Flags.string({ summary: 'Ask for a client that sends bodies of this type', helpValue: 'TYPE' }),
    all: Flags.boolean({ summary: 'Print every operation on a line of its own' }),
    format: Flags.option({ options: ['text', 'json'] as const, default: 'text' as const, summary: 'How it is written' })(),
    output: outputFlag,
  };

  async run(): Promise<void> {
    const { flags } = await this.parse(Media);
    const workspace = await this.open(flags);
    this.mayRepeat(workspace, flags.output);
    const { contextOf } = await import('./engine.ts');
    const { mediaJson, mediaText, mediaView } = await import('../views/media.ts');
    const asked =
      flags.accept === undefined && flags.send === undefined ? [] : [{ name: 'asked', accept: flags.accept, sends: flags.send }];
    const views = workspace.services.map((service) => mediaView(contextOf(service), asked));
    const terminal = await this.terminal(flags.output);
    const text =
      flags.format === 'json'
        ? `${JSON.stringify({ services: views.map(mediaJson) }, null, 2)}\n`
        : views.map((v) => mediaText(v, terminal, flags.all)).join('\n');
    this.put(text, flags.output);
  }
}
