import * as Args from '@oclif/core/args';
import * as Flags from '@oclif/core/flags';
import type { Service } from '../core/checks/engine/context.ts';
import { fail, InputFailure } from '../files/problem.ts';
import type { Sources } from '../files/sources.ts';
import type { RehearsalView, Sent } from '../views/rehearse.ts';
import { GateCommand, inputFlags, outputFlag } from './base.ts';

const SAFE = 'GET,HEAD,OPTIONS';

export default class Rehearse extends GateCommand {
  static override summary =
    'Send requests to the running service and compare its answers with what the table and the document say.';
  static override description =
    'One request for each route and for each expectation of the settings; with --facts also those that tell the values of assumed router facts apart. Only GET, HEAD and OPTIONS are sent unless --methods says more, and only to this machine unless --allow-host names another. Redirects are not followed.';
  static override examples = [
    { description: 'A service on this machine', command: '<%= config.bin %> <%= command.id %> http://127.0.0.1:4000' },
    { description: 'How does its router behave?', command: '<%= config.bin %> <%= command.id %> http://127.0.0.1:4000 --facts' },
    {
      description: 'With a secret of the environment, which is printed nowhere',
      command: `<%= config.bin %> <%= command.id %> http://127.0.0.1:4000 --header 'Authorization: $TOKEN'`,
    },
  ];
  static override args = {
    url: Args.string({ ignoreStdin: true, required: true, description: 'Where the service is, such as http://127.0.0.1:4000' }),
  };
  static override flags = {
    ...inputFlags,
    service: Flags.string({ summary: 'Only this service of the settings', helpValue: 'NAME' }),
    facts: Flags.boolean({ summary: 'Find out the router facts that are assumed' }),
    write: Flags.boolean({ summary: 'Set the facts that were found out under router: of the table', dependsOn: ['facts'] }),
    methods: Flags.string({ summary: 'The methods that may be sent', default: SAFE, helpValue: 'LIST' }),
    'allow-host': Flags.string({
      summary: 'A host that is not this machine and may be asked',
      helpValue: 'HOST',
      multiple: true,
      multipleNonGreedy: true,
    }),
    header: Flags.string({
      summary: "Sent with every request, such as 'Authorization: $TOKEN'",
      helpValue: 'HEADER',
      multiple: true,
      multipleNonGreedy: true,
    }),
    'handler-header': Flags.string({ summary: 'The header in which the service names its handler', helpValue: 'NAME' }),
    concurrency: Flags.integer({ summary: 'How many requests are under way at once', default: 4, min: 1, max: 64 }),
    rate: Flags.integer({ summary: 'Requests in a second, at most; 0 is no limit', default: 0, min: 0 }),
    timeout: Flags.integer({ summary: 'Milliseconds that an answer may take', default: 5_000, min: 1 }),
    format: Flags.option({ options: ['text', 'json'] as const, default: 'text' as const, summary: 'How it is written' })(),
    output: outputFlag,
  };

  async run(): Promise<void> {
    const { args, flags } = await this.parse(Rehearse);
    const origin = originOf(args.url, flags['allow-host'] ?? []);
    const methods = new Set(flags.methods.split(',').map((m) => m.trim().toUpperCase()));
    const workspace = await this.open(flags);
    const engine = await import('./rehearse-engine.ts');
    const services = workspace.services.filter(
      (s) => s.table !== undefined && (flags.service === undefined || s.name === flags.service),
    );
    if (services.length === 0)
      throw new InputFailure([
        {
          file: '',
          message:
            'there is no route table to rehearse; name one with --routes FILE, or a service of the settings with --service',
        },
      ]);
    const plans = services.map((service) => engine.planOf(service, methods, flags.facts));
    const requests = plans.flatMap((p) => p.requests);
    const { concurrency, timeout, rate } = flags;
    const sending = { origin, concurrency, timeout, rate, headers: headersOf(flags.header ?? []) };
    const { answers, isStopped } = await untilInterrupted((stopped) =>
      engine.sendAll(requests, sending, progressOf(requests.length), stopped),
    );
    const failed = answers.find((a) => a !== undefined && 'failed' in a);
    if (failed !== undefined && 'failed' in failed && answers.every((a) => a === undefined || 'failed' in a))
      fail('', `${origin} gave no answer: ${failed.failed}`);
    const view = engine.viewOf(origin, plans, answers, flags['handler-header'], isStopped);
    this.put(
      flags.format === 'json'
        ? `${JSON.stringify(engine.rehearsalJson(view), null, 2)}\n`
        : engine.rehearsalText(view, await this.terminal(flags.output)),
      flags.output,
    );
    if (flags.write) await this.write(view.facts, services, workspace.sources);
    const isWrong = (s: Sent): boolean => s.verdict === 'contradicts' || s.undocumented.length > 0;
    if (view.sent.some(isWrong) || view.facts.some((f) => f.state === 'contradicted')) process.exitCode = 1;
  }

  /** The facts with one value that explains all answers, into the table of each service. */
  private async write(facts: RehearsalView['facts'], services: readonly Service[], sources: Sources): Promise<void> {
    const { setFacts } = await import('../files/set-facts.ts');
    for (const { name, table, tableIsDocument } of services) {
      const own = facts.filter((f) => f.service === name && f.state !== 'open' && f.consistent.length === 1);
      if (table === undefined || tableIsDocument === true || own.length === 0) continue;
      const { file } = table.place;
      setFacts(file, sources.text(file), Object.fromEntries(own.map((f) => [f.fact, f.consistent[0] as string])));
      process.stderr.write(`${file}: ${own.map((f) => f.fact).join(', ')} set under router:\n`);
    }
  }
}

/** The origin that is asked: http or https, on this machine unless its host was allowed. */
function originOf(text: string, allowed: readonly string[]): string {
  let url: URL;
  try {
    url = new URL(text);
  } catch {
    return fail('', `${text} is no address; expected one such as http://127.0.0.1:4000`);
  }
  if (url.protocol !== 'http:' && url.protocol !== 'https:')
    fail('', `${text} is no address of HTTP; expected http:// or https://`);
  if (url.username !== '' || url.password !== '')
    fail('', 'the address holds a name or password; send it with --header, from the environment');
  const host = url.hostname.replace(/^\[|\]$/gu, '');
  const isOwn = host === 'localhost' || host === '::1' || /^127\.\d+\.\d+\.\d+$/u.test(host);
  if (!isOwn && !allowed.includes(host))
    fail('', `${host} is not this machine, and nothing is sent to it; add --allow-host ${host} if it may be asked`);
  if (url.pathname !== '/' || url.search !== '')
    fail('', `${text} has a path; name the origin, and where the service is mounted in the settings (mount:)`);
  return url.origin;
}

/** `Name: value`, `$NAME` in a value taken from the environment. */
function headersOf(list: readonly string[]): Readonly<Record<string, string>> {
  return Object.fromEntries(
    list.map((text) => {
      const [, name, value] = /^([!#$%&'*+.^_`|~\w-]+):\s*(.*)$/u.exec(text) ?? [];
      if (name === undefined || value === undefined) return fail('', '--header: expected a name, a colon and a value');
      const filled = value.replace(
        /\$(\w+)/gu,
        (_, key: string) => process.env[key] ?? fail('', `--header: $${key} is not set in the environment`),
      );
      return [name, filled];
    }),
  );
}

/** Progress with the time left, for a person who waits. */
function progressOf(of: number): (done: number) => void {
  const { stderr } = process;
  const start = Date.now();
  return (done) => {
    if (stderr.isTTY !== true || Date.now() - start < 1_000) return;
    const left = Math.ceil((((Date.now() - start) / done) * (of - done)) / 1000);
    stderr.write(done < of ? `\r${done} of ${of} requests, ${left} s left   ` : '\r\u001b[K');
  };
}

/** Runs until it ends or Ctrl-C asks it to; what is known by then is kept. */
async function untilInterrupted<T>(
  run: (stopped: () => boolean) => Promise<T>,
): Promise<{ readonly answers: T; readonly isStopped: boolean }> {
  let isStopped = false;
  const stop = (): void => {
    isStopped = true;
  };
  process.once('SIGINT', stop);
  try {
    return { answers: await run(() => isStopped), isStopped };
  } finally {
    process.removeListener('SIGINT', stop);
  }
}
