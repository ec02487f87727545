import * as Flags from '@oclif/core/flags';
import { LEVELS, type Level } from '../core/checks/engine/finding.ts';
import { formatFlags, GateCommand, inputFlags, todayFlag } from './base.ts';
import { findingsOf, isSelective, knownNotes, selectionFlags, selectionOf } from './findings.ts';

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
      description: 'One rule on one path, a line each',
      command: '<%= config.bin %> <%= command.id %> --brief --rule paths --path /v2/tolls',
    },
  ];
  static override flags = {
    ...inputFlags,
    'fail-on': Flags.option({ options: LEVELS, summary: 'Lowest level that ends with status 1' })(),
    ...selectionFlags,
    all: Flags.boolean({ summary: 'Every finding whole, and every place of those that say the same' }),
    brief: Flags.boolean({ summary: 'One line a finding' }),
    today: todayFlag,
    ...formatFlags,
  };

  async run(): Promise<void> {
    const { flags } = await this.parse(Check);
    const workspace = await this.open(flags);
    const engine = await import('./engine.ts');
    const found = await findingsOf(workspace, flags.today ?? new Date().toISOString().slice(0, 10));
    const findings = engine.selected(found.split.open, selectionOf(flags));
    const failOn: Level = flags['fail-on'] ?? workspace.failOn;
    const report = {
      findings,
      scope: engine.scopeOf(workspace.services),
      unchecked: workspace.services.flatMap((s) => s.unchecked),
      discovered: workspace.discovered,
      all: flags.all,
      known: isSelective(flags) ? [] : knownNotes(found),
    };
    const known = found.split.known.length;
    await this.putAll(flags, async (format, output) => {
      if (format === 'text') {
        const view = flags.brief ? engine.briefText : engine.findingsText;
        return view(report, await this.terminal(output));
      }
      const { formatted, findingsJson, itemsOf, summaryLine } = await import('./formats.ts');
      if (format === 'json') return findingsJson(findings, this.config.version, found.printOf, known);
      const plain = engine.terminal(Number.POSITIVE_INFINITY, false, false);
      const summary = [...report.known, summaryLine(report, plain)];
      const items = itemsOf(findings, found.printOf);
      return formatted(format, { command: 'check', version: this.config.version, items, summary, failOn, known });
    });
    if (findings.some((f) => LEVELS.indexOf(f.level) <= LEVELS.indexOf(failOn))) process.exitCode = 1;
  }
}
