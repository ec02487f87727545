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
    method: Args.string({ ignoreStdin: true, description: 'The method, such as GET' }),
    target: Args.string({ ignoreStdin: true, description: 'The target, such as /locks/7?state=open' }),
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
    service: Flags.string({ summary: 'Ask this service alone, where there are several', helpValue: 'NAME' }),
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
    const routers = servicesOf(workspace, flags.service).map(engine.routerOf);
    const follow = (request: Request) => {
      const all = routers.map((router) => ({ router, following: engine.answer(router, request) }));
      const known = all.find((f) => f.following.outcome !== 'not-found') ?? (all[0] as (typeof all)[number]);
      const asked = known.following.outcome === 'not-found' ? all : [known];
      return {
        following: known.following,
        near: engine.nearestOf(asked.map(({ router, following }) => engine.nearest(router, following))),
      };
    };
    if (flags.requests !== undefined) {
      const locate = locator(
        workspace,
        routers.flatMap((r) => r.table.routes.map((route) => route.place)),
      );
      const { followAll } = await import('../files/requests.ts');
      return followAll(flags.requests, flags.output, (request) => {
        const { following, near } = follow(request);
        return engine.followingJson(following, near, locate);
      });
    }
    const { readBody } = await import('../files/requests.ts');
    const body = flags.body === undefined ? {} : { body: readBody(flags.body) };
    const request: Request = {
      method: (args.method as string).toUpperCase(),
      target: args.target as string,
      headers: headersOf(flags.header ?? []),
      ...body,
    };
    const { following, near } = follow(request);
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

/** The services to ask, in the order of the settings; the first that knows the path answers, as a gateway would have it. */
function servicesOf({ services }: Workspace, name: string | undefined): readonly Service[] {
  const withTable = services.filter((s) => s.table !== undefined);
  const chosen = name === undefined ? withTable : withTable.filter((s) => s.name === name);
  if (chosen.length > 0) return chosen;
  const known = withTable.map((s) => s.name).join(', ');
  const message =
    name === undefined
      ? 'there is no route table to follow the request through; name one with --routes FILE'
      : `there is no service "${name}"; there are ${known}`;
  throw new InputFailure([{ file: '', message }]);
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
