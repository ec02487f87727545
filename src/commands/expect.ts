import * as Flags from '@oclif/core/flags';
import type { ServiceDrafts } from '../files/expectations-file.ts';
import { fail } from '../files/problem.ts';
import type { Workspace } from '../files/workspace.ts';
import { GateCommand, inputFlags, outputFlag } from './base.ts';
import { logFlags } from './log-flags.ts';

/** The settings that are written where there are none. */
const SETTINGS = 'elm-gate.yaml';

export default class Expect extends GateCommand {
  static override summary = 'Draft expectations: the requests that people try by hand, each with its outcome.';
  static override description =
    'Prints expect: for the settings. Kept in the repository they are the test that a changed table fails: check and rehearse hold to them. Read them before you keep them; they say what is, not what should be.';
  static override examples = [
    { description: 'For every resource of this folder', command: '<%= config.bin %> <%= command.id %>' },
    {
      description: 'For one resource, into the settings',
      command: '<%= config.bin %> <%= command.id %> --path /v2/locks --write',
    },
    {
      description: 'One for each way in which recorded requests were answered',
      command: '<%= config.bin %> <%= command.id %> --from november.log',
    },
  ];
  static override flags = {
    ...inputFlags,
    from: Flags.string({
      summary: 'Recorded requests: an access log, JSON Lines or HAR; may be given more than once',
      helpValue: 'FILE',
      multiple: true,
      multipleNonGreedy: true,
    }),
    ...logFlags,
    path: Flags.string({ summary: 'Only for this path and what is below it', helpValue: 'PATH' }),
    service: Flags.string({ summary: 'Only for this service', helpValue: 'NAME' }),
    write: Flags.boolean({ summary: 'Add those that are new to the settings' }),
    output: outputFlag,
  };

  async run(): Promise<void> {
    const { flags } = await this.parse(Expect);
    const workspace = await this.open(flags);
    const engine = await import('./traffic-engine.ts');
    const services = engine.trafficServices(
      workspace.services.filter((s) => flags.service === undefined || s.name === flags.service),
    );
    if (services.length === 0)
      fail('', 'there is no route table to draft expectations for; name one with --routes FILE, or a service with --service');
    const nameOf = (name: string): string | undefined => (workspace.services.length > 1 ? name : undefined);
    const drafted: readonly ServiceDrafts[] =
      flags.from === undefined
        ? services.map(({ name, context, router }) => ({ service: nameOf(name), drafts: engine.draftsFor(context, router) }))
        : [{ service: undefined, drafts: await engine.recordedDrafts(services, flags.from, flags) }];
    const { hasPath } = await import('../views/select.ts');
    const { path } = flags;
    const kept = drafted.map((d) => ({
      ...d,
      drafts: path === undefined ? d.drafts : d.drafts.filter((x) => hasPath(x.request.target, path) || hasPath(x.of, path)),
    }));
    const count = kept.reduce((sum, d) => sum + d.drafts.length, 0);
    if (count === 0) fail('', path === undefined ? 'no expectation can be drafted' : `nothing is at or below ${path}`);
    if (flags.write) return this.write(workspace, kept);
    const { expectationsText } = await import('../files/expectations-file.ts');
    this.put(expectationsText(kept), flags.output);
  }

  private async write({ settings, sources }: Workspace, drafts: readonly ServiceDrafts[]): Promise<void> {
    const { addExpectations } = await import('../files/expectations-file.ts');
    const file = settings?.source.file ?? SETTINGS;
    const text = sources.exists(file) ? sources.text(file) : '';
    const added = addExpectations(file, text, drafts);
    process.stderr.write(added === 0 ? `${file}: nothing is new\n` : `${file}: ${added} added under expect:\n`);
  }
}
