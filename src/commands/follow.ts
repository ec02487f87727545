import * as Args from '@oclif/core/args';
import * as Flags from '@oclif/core/flags';
import { lazy } from '../core/base/lazy.ts';
import type { Context, Service } from '../core/checks/engine/context.ts';
import type { Asked, AskedService, Followed } from '../core/checks/engine/follow-services.ts';
import type { Request } from '../core/routes/request/request.ts';
import { InputFailure } from '../files/problem.ts';
import type { ClosedService, Workspace } from '../files/workspace.ts';
import { visible } from '../views/visible.ts';
import { GateCommand, inputFlags, outputFlag } from './base.ts';

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
      description: 'The smallest valid request of an operation, followed',
      command:
        '<%= config.bin %> <%= command.id %> --sample GET /locks/{lockId} | <%= config.bin %> <%= command.id %> --requests -',
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
    sample: Flags.boolean({
      summary: 'Print the smallest valid request of the operation METHOD PATH, or of all of them, as JSON Lines for --requests',
      exclusive: ['header', 'body', 'requests'],
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
    const engine = await import('./follow-engine.ts');
    if (flags.sample) return this.sample(await this.open(flags), args, flags);
    if (flags.requests === undefined && (args.method === undefined || args.target === undefined)) {
      throw new InputFailure([
        { file: '', message: 'expected a method and a target, such as "elm-gate follow GET /locks/7", or --requests FILE' },
      ]);
    }
    const workspace = engine.closedServices({
      cwd: process.cwd(),
      config: flags.config,
      routes: flags.routes,
      documents: flags.document,
      outside: flags['allow-outside'],
    });
    this.inputs = workspace.sources.names;
    const asked = servicesOf(workspace.services, flags.service).map((s) => askedService(s, engine.contextOf));
    const gateway = flags.service === undefined ? workspace.gateway : undefined;
    const follow = (request: Request): Followed => engine.followAmong(asked, request, gateway) ?? noTable();
    if (flags.requests !== undefined) {
      const places = asked.flatMap(({ open }) => open().flatMap(({ router }) => router.table.routes.map((route) => route.place)));
      const locate = workspace.sources.positions(places);
      const { followAll } = await import('../files/requests.ts');
      return followAll(flags.requests, flags.output, this.inputs(), (request) => engine.followingLine(follow(request), locate));
    }
    const { readBody } = await import('../files/requests.ts');
    const body = flags.body === undefined ? {} : { body: readBody(flags.body) };
    const request: Request = {
      method: (args.method as string).toUpperCase(),
      target: args.target as string,
      headers: headersOf(flags.header ?? []),
      ...body,
    };
    const followed = follow(request);
    const { following } = followed;
    const leaves = [following.leaf, ...following.alsoMatched.map((a) => a.leaf)];
    const locate = workspace.sources.positions(leaves.flatMap((l) => l?.route.place ?? []));
    const text =
      flags.format === 'json'
        ? `${JSON.stringify(engine.followingJson(followed, locate), null, 2)}\n`
        : engine.followingText(followed, locate, await this.terminal(flags.output));
    this.put(text, flags.output);
  }

  /** One line for each operation; those without a valid request are told on standard error. */
  private async sample(
    workspace: Workspace,
    args: SampleArgs,
    flags: { service?: string | undefined; output?: string | undefined },
  ): Promise<void> {
    const { samplesOf } = await import('./follow-engine.ts');
    const services = workspace.services.filter((s) => flags.service === undefined || s.name === flags.service);
    const samples = services.flatMap((s) => samplesOf(s.contracts, args.method?.toUpperCase(), args.target));
    if (samples.length === 0) {
      const asked = args.method === undefined ? 'an operation' : `${args.method} ${args.target ?? ''}`.trim();
      throw new InputFailure([{ file: '', message: `no document has ${asked}; name one with --document FILE` }]);
    }
    const lines = samples.flatMap(({ request }) => (typeof request === 'string' ? [] : [`${JSON.stringify(request)}\n`]));
    for (const { title, request } of samples)
      if (typeof request === 'string') process.stderr.write(`${visible(`${title}: ${request}`)}\n`);
    this.put(lines.join(''), flags.output);
    if (lines.length === 0) process.exitCode = 2;
  }
}

/** Asks for a method and a path template, or for neither. */
interface SampleArgs {
  readonly method?: string | undefined;
  readonly target?: string | undefined;
}

/** The services to ask, in the order of the settings. */
function servicesOf(services: readonly ClosedService[], name: string | undefined): readonly ClosedService[] {
  if (name === undefined) return services;
  const names = services.map((s) => s.name ?? s.open().name);
  const chosen = services.filter((_, i) => names[i] === name);
  if (chosen.length > 0) return chosen;
  throw new InputFailure([{ file: '', message: `there is no service "${name}"; there are ${names.join(', ')}` }]);
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

/** A service that is opened when it is asked. */
function askedService({ name, behind, open }: ClosedService, contextOf: (service: Service) => Context): AskedService {
  const asked = lazy((): readonly Asked[] => {
    const context = contextOf(open());
    return context.router === undefined ? [] : [{ context, router: context.router }];
  });
  return { name: name ?? 'the service', behind, open: asked };
}

function noTable(): never {
  throw new InputFailure([
    { file: '', message: 'there is no route table to follow the request through; name one with --routes FILE' },
  ]);
}
