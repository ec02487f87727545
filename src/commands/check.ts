import * as Flags from '@oclif/core/flags';
import type * as Interfaces from '@oclif/core/interfaces';
import { isAtLeast, LEVELS, type Level } from '../core/checks/engine/finding.ts';
import type { Kept } from '../files/kept.ts';
import { fail } from '../files/problem.ts';
import type { Workspace } from '../files/workspace.ts';
import type { Report } from '../views/findings-text.ts';
import { visible } from '../views/visible.ts';
import { dayOf, formatFlags, GateCommand, inputFlags, todayFlag } from './base.ts';
import { findingsOf, isSelective, knownNotes, selectionFlags, selectionOf } from './findings.ts';
import { trafficFlags } from './log-flags.ts';
import type { Watched } from './watch-check.ts';

type CheckFlags = Interfaces.InferredFlags<typeof Check.flags>;

interface CheckRun extends Watched {
  readonly report: Report & { readonly known: readonly string[] };
  /** How many known findings were left out. */
  readonly known: number;
  readonly failOn: Level;
  /** Undefined of a fleet. */
  readonly workspace: Workspace | undefined;
}

export default class Check extends GateCommand {
  static override summary = 'Run every check on the route table and its documents.';
  static override description =
    'Prints what will go wrong, the most serious first, each with a request that shows it. Ends with status 1 when something is at or above --fail-on.';
  static override examples = [
    { description: 'Check what this folder holds', command: '<%= config.bin %> <%= command.id %>' },
    {
      description: 'Check one table against one document',
      command: '<%= config.bin %> <%= command.id %> --routes passage-desk.routes.yaml --document passage-desk.openapi.yaml',
    },
    {
      description: 'In CI: warnings fail too, the result goes to a file',
      command: '<%= config.bin %> <%= command.id %> --fail-on warning --format json --output gate.json',
    },
    {
      description: 'For a code host and a CI server at once, the text still on the screen',
      command:
        '<%= config.bin %> <%= command.id %> --format sarif --output gate.sarif --format junit --output gate.xml --format text',
    },
    {
      description: 'A page to look at and to ask',
      command: '<%= config.bin %> <%= command.id %> --format html --output gate.html',
    },
    { description: 'While you write', command: '<%= config.bin %> <%= command.id %> --watch' },
    {
      description: 'One rule on one path, a line each',
      command: '<%= config.bin %> <%= command.id %> --brief --rule paths --path /v2/tolls',
    },
  ];
  static override flags = {
    ...inputFlags,
    'fail-on': Flags.option({ options: LEVELS, summary: 'Lowest level that ends with status 1' })(),
    ...selectionFlags,
    all: Flags.boolean({ summary: 'Every finding whole, and every place of those that say the same' }),
    watch: Flags.boolean({ summary: 'Run again when a file that was read changes, and tell what is new and what is fixed' }),
    ...trafficFlags,
    brief: Flags.boolean({ summary: 'One line a finding' }),
    fresh: Flags.boolean({ summary: 'Look again, though nothing changed since the last run' }),
    today: todayFlag,
    ...formatFlags,
  };

  async run(): Promise<void> {
    const { flags } = await this.parse(Check);
    const fleet = await this.fleetOf(flags);
    if (fleet !== undefined) return this.checkFleet(fleet, flags);
    const kept = flags.watch ? (await import('../files/kept.ts')).nothingKept() : undefined;
    let run = await this.once(flags, kept);
    if (kept !== undefined) {
      if (flags.format.join() !== 'text' || flags.output !== undefined)
        fail('', '--watch writes text to the terminal; leave --format and --output out');
      await this.write(run, flags);
      run = await this.watched(run, flags, kept);
    } else await this.write(run, flags);
    const failOn: Level = flags['fail-on'] ?? run.failOn;
    if (run.report.findings.some((f) => isAtLeast(f.level, failOn))) process.exitCode = 1;
  }

  /** The settings files of the folders of a fleet; undefined where the settings name none. */
  private async fleetOf(flags: CheckFlags): Promise<readonly string[] | undefined> {
    if (flags.routes !== undefined || flags.document !== undefined) return undefined;
    const { fleetOfSettings } = await import('./engine.ts');
    const found = fleetOfSettings({ cwd: process.cwd(), config: flags.config, outside: flags['allow-outside'] });
    if (found === undefined) return undefined;
    if (flags.watch || flags.traffic !== undefined)
      fail('', `${flags.watch ? '--watch' : '--traffic'} is for one folder; name it with --config FOLDER/elm-gate.yaml`);
    return (await import('./fleet.ts')).fleetFiles(found.globs, found.sources);
  }

  private async checkFleet(files: readonly string[], flags: CheckFlags): Promise<void> {
    const engine = await import('./engine.ts');
    const { checkFleet } = await import('./fleet.ts');
    const [cwd, today, outside] = [process.cwd(), dayOf(flags), flags['allow-outside']];
    const { root } = this.config;
    const run = await checkFleet(files, { cwd, today, outside, root, isFresh: flags.fresh, failOn: flags['fail-on'] });
    const findings = engine.selected(run.findings, selectionOf(flags));
    const report = { findings, scope: run.scope, unchecked: [], discovered: undefined, all: flags.all, known: run.notes };
    await this.write({ ...run, report, files, folders: [], failOn: flags['fail-on'] ?? 'error', workspace: undefined }, flags);
    for (const problem of run.problems) process.stderr.write(`${visible(problem)}\n`);
    if (run.problems.length > 0) process.exitCode = 2;
    else if (findings.some((f) => isAtLeast(f.level, run.failOnOf(f)))) process.exitCode = 1;
  }

  /** One run: what was found, of what was asked for. `kept` are files as they were read before. */
  private async once(flags: CheckFlags, kept: Kept | undefined): Promise<CheckRun> {
    const engine = await import('./engine.ts');
    const workspace = await this.open(flags, { kept });
    const found = await findingsOf(workspace, dayOf(flags));
    if (flags.traffic === undefined && !flags.watch) this.mayRepeat(workspace, flags.output, [found.known.file]);
    const selected = engine.selected(found.split.open, selectionOf(flags));
    const findings =
      flags.traffic === undefined
        ? selected
        : await (await import('./weighing.ts')).findingsByTraffic(selected, workspace.services, flags);
    const report = {
      findings,
      scope: engine.scopeOf(workspace.services),
      unchecked: workspace.services.flatMap((s) => s.unchecked),
      discovered: workspace.discovered,
      all: flags.all,
      known: isSelective(flags) ? [] : knownNotes(found),
    };
    const { sources } = workspace;
    const files = [...sources.names(), found.known.file];
    const folders = sources.searched();
    return {
      report,
      workspace,
      printOf: found.printOf,
      files,
      folders,
      known: found.split.known.length,
      failOn: workspace.failOn,
    };
  }

  private async write({ report, workspace, printOf, known, failOn }: CheckRun, flags: CheckFlags): Promise<void> {
    const engine = await import('./engine.ts');
    await this.putAll(flags, async (format, output) => {
      if (format === 'text') {
        const view = flags.brief ? engine.briefText : engine.findingsText;
        return view(report, await this.terminal(output));
      }
      const { formatted, findingsJson, itemsOf, summaryLine } = await import('./formats.ts');
      if (format === 'json') return findingsJson(report.findings, this.config.version, printOf, known);
      const plain = engine.terminal(Number.POSITIVE_INFINITY, false, false);
      const items = itemsOf(report.findings, printOf);
      const summary = [...report.known, summaryLine(report, plain)];
      const lowest = flags['fail-on'] ?? failOn;
      const all = { command: 'check' as const, version: this.config.version, items, summary, failOn: lowest, known };
      const services = workspace?.services ?? [];
      const sources = workspace?.sources;
      const title = workspace === undefined ? report.scope : services.map((s) => s.name).join(', ');
      return formatted(format, all, { title, services, sources, root: this.config.root });
    });
  }

  private async watched(first: CheckRun, flags: CheckFlags, kept: Kept): Promise<CheckRun> {
    const { watchCheck } = await import('./watch-check.ts');
    const put = (text: string): void => this.put(text, undefined);
    return watchCheck(first, () => this.once(flags, kept), put, await this.terminal(undefined));
  }
}
