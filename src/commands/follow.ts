import { Args, Flags } from '@oclif/core';
import { InputFailure } from '../files/problem.ts';
import { GateCommand, inputFlags, locator, outputFlag } from './base.ts';

export default class Follow extends GateCommand {
  static override summary = 'Follow one request through the route table.';
  static override description =
    'Says who takes the request, with which parameters, who else would have, and what is answered when nobody does.';
  static override examples = [
    { description: 'Who takes this?', command: '<%= config.bin %> <%= command.id %> GET /locks/7' },
    { description: 'As JSON', command: '<%= config.bin %> <%= command.id %> DELETE /locks/closed --format json' },
  ];
  static override args = {
    method: Args.string({ required: true, description: 'The method, such as GET' }),
    target: Args.string({ required: true, description: 'The target, such as /locks/7?state=open' }),
  };
  static override flags = {
    ...inputFlags,
    format: Flags.option({
      options: ['text', 'json'] as const,
      default: 'text' as const,
      summary: 'How the answer is written',
    })(),
    output: outputFlag,
  };

  async run(): Promise<void> {
    const { args, flags } = await this.parse(Follow);
    const workspace = await this.open(flags);
    const { buildRouter } = await import('./engine.ts');
    const { follow } = await import('./engine.ts');
    const { followingJson, followingText } = await import('./engine.ts');
    const tables = workspace.services.flatMap((s) => s.table ?? []);
    if (tables.length > 1)
      throw new InputFailure([
        { file: '', message: `this folder holds ${tables.length} route tables; say which one with --routes FILE` },
      ]);
    const [table] = tables;
    if (table === undefined)
      throw new InputFailure([
        { file: '', message: 'there is no route table to follow the request through; name one with --routes FILE' },
      ]);
    const following = follow(buildRouter(table), { method: args.method.toUpperCase(), target: args.target, headers: {} });
    const locate = locator(
      workspace,
      [following.leaf, ...following.alsoMatched.map((a) => a.leaf)].flatMap((l) => l?.route.place ?? []),
    );
    const text =
      flags.format === 'json'
        ? `${JSON.stringify(followingJson(following, locate), null, 2)}\n`
        : followingText(following, locate, await this.terminal(flags.output));
    this.put(text, flags.output);
  }
}
