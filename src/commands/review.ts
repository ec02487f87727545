import * as Args from '@oclif/core/args';
import * as Flags from '@oclif/core/flags';
import { LEVELS, type Level } from '../core/checks/engine/finding.ts';
import { InputFailure, problemLine } from '../files/problem.ts';
import type { Workspace } from '../files/workspace.ts';
import { dayOf, formatFlags, GateCommand, inputFlags, todayFlag } from './base.ts';
import { type FindingsOfRun, findingsOf, knownNotes } from './findings.ts';
import { trafficFlags } from './log-flags.ts';

export default class Review extends GateCommand {
  static override summary = 'Say what a change does before it merges: findings that are new or gone, and what it breaks.';
  static override description =
    'Reads tables, documents and settings as they are now and as they were at BASE, through git and without touching the work tree. Ends with status 1 on new findings at or above --fail-on and on breaking changes.';
  static override examples = [
    { description: 'Against where this branch left main', command: '<%= config.bin %> <%= command.id %>' },
    { description: 'Against a tag', command: '<%= config.bin %> <%= command.id %> v1.4.0' },
    {
      description: 'One comment for a review',
      command: '<%= config.bin %> <%= command.id %> --format markdown --output review.md --format text',
    },
  ];
  static override args = {
    base: Args.string({ ignoreStdin: true, description: 'A branch, tag or commit; where HEAD left the main branch by default' }),
  };
  static override flags = {
    config: inputFlags.config,
    'allow-outside': inputFlags['allow-outside'],
    'fail-on': Flags.option({ options: LEVELS, summary: 'Lowest level of a new finding that ends with status 1' })(),
    all: Flags.boolean({ summary: 'List compatible changes too' }),
    'allow-breaking': Flags.boolean({ summary: 'Breaking changes pass where the version of the document says major' }),
    today: todayFlag,
    ...trafficFlags,
    ...formatFlags,
  };

  async run(): Promise<void> {
    const { args, flags } = await this.parse(Review);
    const engine = await import('./review-engine.ts');
    const today = dayOf(flags);
    const base = engine.baseOf(args.base);
    const workspace = await this.open({ ...flags, routes: undefined, document: undefined });
    const now = await findingsOf(workspace, today);
    const state = engine.stateAt(base.commit);
    try {
      const before = await this.earlier(state.cwd, flags, today);
      const unweighed = engine.findingChanges(before.findings, now);
      const compared = before.workspace === undefined ? [] : engine.comparisonsOf(before.workspace, workspace, flags.all);
      const { added, parts } = await engine.weighedReview(unweighed.added, compared, workspace.services, flags);
      const found = { ...unweighed, added };
      const failOn: Level = flags['fail-on'] ?? workspace.failOn;
      const notes = [...before.notes.map((n) => `At ${base.name} ${n}.`), ...knownNotes(now)];
      const view = engine.reviewOf(base, found, parts, { failOn, isBreakingAllowed: flags['allow-breaking'], notes });
      await this.putAll(flags, async (format, output) => {
        if (format === 'text') return engine.reviewText(view, await this.terminal(output));
        if (format === 'json') return `${JSON.stringify(engine.reviewJson(view, found.printOf), null, 2)}\n`;
        const { formatted } = await import('./formats.ts');
        const items = engine.reviewItems(view, found, format === 'sarif');
        const known = now.split.known.length;
        const summary = [engine.reviewHead(view), ...view.notes];
        return formatted(
          format,
          { command: 'review', version: this.config.version, items, summary, failOn, known },
          { title: view.title, services: workspace.services, sources: workspace.sources, root: this.config.root },
        );
      });
      if (view.fails.length > 0) process.exitCode = 1;
    } finally {
      state.dispose();
    }
  }

  /** What there was; where it can't be read, why not. */
  private async earlier(
    cwd: string,
    flags: { config?: string | undefined; 'allow-outside': boolean },
    today: string,
  ): Promise<{ workspace?: Workspace; findings?: FindingsOfRun; notes: readonly string[] }> {
    const { openWorkspace } = await import('./engine.ts');
    try {
      const workspace = openWorkspace({ cwd, config: flags.config, outside: flags['allow-outside'], today });
      return { workspace, findings: await findingsOf(workspace, today), notes: [] };
    } catch (error) {
      if (!(error instanceof InputFailure)) throw error;
      const [first] = error.problems;
      return {
        notes: [`nothing could be read, so every finding counts as new (${first === undefined ? '' : problemLine(first)})`],
      };
    }
  }
}
