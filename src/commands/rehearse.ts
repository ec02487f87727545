import * as Args from '@oclif/core/args';
import * as Flags from '@oclif/core/flags';
import { isMapping } from '../core/base/json.ts';
import type { Service } from '../core/checks/engine/context.ts';
import { fail } from '../files/problem.ts';
import type { Source } from '../files/source.ts';
import type { Sources } from '../files/sources.ts';
import type { RehearsalView, Sent } from '../views/rehearse.ts';
import { formatFlags, GateCommand, inputFlags } from './base.ts';

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
    unmounted: Flags.boolean({
      summary: 'Leave out mount: of the settings: the service is asked directly, not through its gateway',
    }),
    'sample-values': Flags.string({
      summary: 'Real values for parameters: a YAML or JSON file, such as lockId: 7',
      helpValue: 'FILE',
    }),
    'handler-header': Flags.string({ summary: 'The header in which the service names its handler', helpValue: 'NAME' }),
    concurrency: Flags.integer({ summary: 'How many requests are under way at once', default: 4, min: 1, max: 64 }),
    rate: Flags.integer({ summary: 'Requests in a second, at most; 0 is no limit', default: 0, min: 0 }),
    timeout: Flags.integer({ summary: 'Milliseconds that an answer may take', default: 5_000, min: 1 }),
    ...formatFlags,
  };

  async run(): Promise<void> {
    const { args, flags } = await this.parse(Rehearse);
    const origin = originOf(args.url, flags['allow-host'] ?? []);
    const methods = new Set(flags.methods.split(',').map((m) => m.trim().toUpperCase()));
    const workspace = await this.open(flags, { unmounted: flags.unmounted });
    const engine = await import('./rehearse-engine.ts');
    const services = workspace.services.filter(
      (s) => s.table !== undefined && (flags.service === undefined || s.name === flags.service),
    );
    if (services.length === 0)
      fail('', 'there is no route table to rehearse; name one with --routes FILE, or a service of the settings with --service');
    const given = flags['sample-values'] === undefined ? new Map() : valuesIn(workspace.sources.load(flags['sample-values']));
    const plans = services.map((service) => engine.planOf(service, methods, flags.facts));
    const { headers, secrets } = headersOf(flags.header ?? []);
    const { concurrency, timeout, rate } = flags;
    const sending = { origin, concurrency, timeout, rate, headers };
    const progress = progressOf(engine.countOf(plans));
    const view = await untilInterrupted((isStopped) =>
      engine.withSender(sending, progress, isStopped, (send) =>
        engine.rehearseAll(plans, {
          origin,
          send,
          handlerHeader: flags['handler-header'],
          given,
          isStopped,
        }),
      ),
    );
    if (view.reason !== undefined) fail('', `${origin} gave no answer: ${view.reason}`);
    await this.putAll(flags, async (format, output) => {
      const text =
        format === 'text'
          ? engine.rehearsalText(view, await this.terminal(output))
          : format === 'json'
            ? `${JSON.stringify(engine.rehearsalJson(view), null, 2)}\n`
            : engine.rehearsalAs(format, view, this.config);
      return withoutSecrets(text, secrets);
    });
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

/** `Name: value`, `$NAME` in a value taken from the environment: what was taken is a secret. */
function headersOf(list: readonly string[]): {
  readonly headers: Readonly<Record<string, string>>;
  readonly secrets: ReadonlyMap<string, string>;
} {
  const secrets = new Map<string, string>();
  const headers = list.map((text) => {
    const [, name, value] = /^([!#$%&'*+.^_`|~\w-]+):\s*(.*)$/u.exec(text) ?? [];
    if (name === undefined || value === undefined) return fail('', '--header: expected a name, a colon and a value');
    const filled = value.replace(/\$(\w+)/gu, (_, key: string) => {
      const found = process.env[key] ?? fail('', `--header: $${key} is not set in the environment`);
      secrets.set(found, `$${key}`);
      return found;
    });
    return [name, filled];
  });
  return { headers: Object.fromEntries(headers), secrets };
}

/** What is shorter is no secret. */
const LEAST_SECRET = 4;

/** A service may send back what it got: nothing that was taken from the environment is printed. */
function withoutSecrets(text: string, secrets: ReadonlyMap<string, string>): string {
  return [...secrets].reduce((rest, [secret, name]) => {
    const written = new Set([secret, JSON.stringify(secret).slice(1, -1), encodeURI(secret), encodeURIComponent(secret)]);
    // A text this short says nothing, and stands everywhere.
    return secret.length < LEAST_SECRET ? rest : [...written].reduce((t, w) => t.replaceAll(w, name), rest);
  }, text);
}

/** `lockId: 7`, and `/locks/{lockId}: { lockId: 7 }` for the parameters of one path. */
function valuesIn({ value, file }: Source): ReadonlyMap<string, string> {
  const isText = (v: unknown): v is string | number => typeof v === 'string' || typeof v === 'number';
  if (!isMapping(value)) return fail(file, 'expected values by the names of parameters, such as lockId: 7');
  return new Map(
    Object.entries(value).flatMap(([name, own]): readonly (readonly [string, string])[] => {
      if (isText(own)) return [[name, String(own)]];
      if (!isMapping(own) || !Object.values(own).every(isText))
        return fail(file, `${name}: expected a text or a number, or a mapping of them below a path`);
      return Object.entries(own).map(([inner, v]) => [`${name} ${inner}`, String(v)]);
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
async function untilInterrupted<T>(run: (isStopped: () => boolean) => Promise<T>): Promise<T> {
  let isStopped = false;
  const stop = (): void => {
    isStopped = true;
  };
  process.once('SIGINT', stop);
  try {
    return await run(() => isStopped);
  } finally {
    process.removeListener('SIGINT', stop);
  }
}
