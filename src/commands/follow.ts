import { Args, Flags } from '@oclif/core';
import type { Service } from '../core/checks/context.ts';
import type { Request } from '../core/routes/request.ts';
import { InputFailure } from '../files/problem.ts';
import type { Workspace } from '../files/workspace.ts';
import { GateCommand, inputFlags, locator, outputFlag } from './base.ts';

export default class Follow extends GateCommand {
  static override summary = 'Follow one request through the route table.';
  static override description =
    'Says who takes the request, with which parameters, who else would have, and what is answered when nobody does: then the nearest routes, each with the one thing that keeps the request away.';
  static override examples = [
    { description: 'Who takes this?', command: '<%= config.bin %> <%= command.id %> GET /locks/7' },
    {
      description: 'With headers',
      command: "<%= config.bin %> <%= command.id %> GET /locks/7 --header 'Accept: application/xml'",
    },
    {
      description: 'With a body',
      command: "<%= config.bin %> <%= command.id %> POST /passages --header 'Content-Type: application/json' --body passage.json",
    },
    {
      description: 'Many, one JSON object a line, from standard input',
      command: '<%= config.bin %> <%= command.id %> --requests -',
    },
  ];
  static override args = {
    method: Args.string({ description: 'The method, such as GET' }),
    target: Args.string({ description: 'The target, such as /locks/7?state=open' }),
  };
  static override flags = {
    ...inputFlags,
    header: Flags.string({
      char: 'H',
      summary: 'A header, "Name: value"; may be given more than once',
      helpValue: 'HEADER',
      multiple: true,
      multipleNonGreedy: true,
    }),
    body: Flags.string({ summary: 'File with the body; - is standard input', helpValue: 'FILE' }),
    requests: Flags.string({
      summary: 'Follow every request of a JSON Lines file; - is standard input',
      helpValue: 'FILE',
      exclusive: ['header', 'body'],
    }),
    service: Flags.string({ summary: 'Which service, where the settings name several', helpValue: 'NAME' }),
    format: Flags.option({
      options: ['text', 'json'] as const,
      default: 'text' as const,
      summary: 'How the answer is written',
    })(),
    output: outputFlag,
  };

  async run(): Promise<void> {
    const { args, flags } = await this.parse(Follow);
    const engine = await import('./engine.ts');
    if (flags.requests === undefined && (args.method === undefined || args.target === undefined)) {
      throw new InputFailure([
        { file: '', message: 'expected a method and a target, such as "elm-gate follow GET /locks/7", or --requests FILE' },
      ]);
    }
    const workspace = await this.open(flags);
    const service = serviceOf(workspace, flags.service);
    const router = engine.routerOf(service);
    if (flags.requests !== undefined) {
      const locate = locator(
        workspace,
        router.table.routes.map((r) => r.place),
      );
      return engine.followAll(flags.requests, flags.output, (request) => {
        const following = engine.follow(router, request);
        return engine.followingJson(following, engine.nearest(router, following), locate);
      });
    }
    const body = flags.body === undefined ? {} : { body: engine.readBody(flags.body) };
    const request: Request = {
      method: (args.method as string).toUpperCase(),
      target: args.target as string,
      headers: headersOf(flags.header ?? []),
      ...body,
    };
    const following = engine.follow(router, request);
    const near = engine.nearest(router, following);
    const leaves = [following.leaf, ...following.alsoMatched.map((a) => a.leaf)];
    const locate = locator(
      workspace,
      leaves.flatMap((l) => l?.route.place ?? []),
    );
    const text =
      flags.format === 'json'
        ? `${JSON.stringify(engine.followingJson(following, near, locate), null, 2)}\n`
        : engine.followingText(following, near, locate, await this.terminal(flags.output));
    this.put(text, flags.output);
  }
}

function serviceOf({ services }: Workspace, name: string | undefined): Service {
  const withTable = services.filter((s) => s.table !== undefined);
  const chosen = name === undefined ? withTable : withTable.filter((s) => s.name === name);
  const [service] = chosen;
  if (service === undefined) {
    const known = withTable.map((s) => s.name).join(', ');
    throw new InputFailure([
      {
        file: '',
        message:
          name === undefined
            ? 'there is no route table to follow the request through; name one with --routes FILE'
            : `there is no service "${name}"; there are ${known}`,
      },
    ]);
  }
  if (chosen.length > 1)
    throw new InputFailure([
      {
        file: '',
        message: `there are ${chosen.length} services here; say which one with --service, one of ${chosen.map((s) => s.name).join(', ')}`,
      },
    ]);
  return service;
}

function headersOf(lines: readonly string[]): Readonly<Record<string, string>> {
  return Object.fromEntries(
    lines.map((line) => {
      const at = line.indexOf(':');
      if (at <= 0)
        throw new InputFailure([{ file: '', message: `the header "${line}" has no colon; write --header "Name: value"` }]);
      return [line.slice(0, at).trim(), line.slice(at + 1).trim()];
    }),
  );
}
