import * as Flags from '@oclif/core/flags';
import { LEVELS, type Level } from '../core/checks/engine/finding.ts';
import { GateCommand, inputFlags, locator, outputFlag, todayFlag } from './base.ts';

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
  ];
  static override flags = {
    ...inputFlags,
    'fail-on': Flags.option({ options: LEVELS, summary: 'Lowest level that ends with status 1' })(),
    format: Flags.option({
      options: ['text', 'json'] as const,
      default: 'text' as const,
      summary: 'How the findings are written',
    })(),
    today: todayFlag,
    output: outputFlag,
  };

  async run(): Promise<void> {
    const { flags } = await this.parse(Check);
    const workspace = await this.open(flags);
    const { check } = await import('./engine.ts');
    const { placesOf, render } = await import('./engine.ts');
    const findings = workspace.services.flatMap((s) => check(s, workspace.levels));
    const sorted = LEVELS.flatMap((level) => findings.filter((f) => f.level === level));
    const rendered = render(sorted, locator(workspace, placesOf(sorted)));
    if (flags.format === 'json') {
      const { findingsJson } = await import('../views/findings-json.ts');
      this.put(findingsJson(rendered, this.config.version), flags.output);
    } else {
      const { findingsText } = await import('./engine.ts');
      const { scopeOf } = await import('./engine.ts');
      const report = {
        findings: rendered,
        scope: scopeOf(workspace.services),
        unchecked: workspace.services.flatMap((s) => s.unchecked),
        discovered: workspace.discovered,
      };
      this.put(findingsText(report, await this.terminal(flags.output)), flags.output);
    }
    const failOn: Level = flags['fail-on'] ?? workspace.failOn;
    if (findings.some((f) => LEVELS.indexOf(f.level) <= LEVELS.indexOf(failOn))) process.exitCode = 1;
  }
}
