import * as Args from '@oclif/core/args';
import { InputFailure } from '../files/problem.ts';
import { GateCommand, outputFlag } from './base.ts';

export default class Explain extends GateCommand {
  static override summary = 'Say what a finding of check or a change of compare means, and how to fix it.';
  static override description = 'Without a rule, lists all of them by family.';
  static override examples = [
    { description: 'One rule', command: '<%= config.bin %> <%= command.id %> paths/shadowed' },
    { description: 'One change', command: '<%= config.bin %> <%= command.id %> versions/response-widened' },
    { description: 'All of them', command: '<%= config.bin %> <%= command.id %>' },
  ];
  static override args = { rule: Args.string({ ignoreStdin: true, description: 'The rule, as check or compare names it' }) };
  static override flags = { output: outputFlag };

  async run(): Promise<void> {
    const { args, flags } = await this.parse(Explain);
    const { CHANGE_RULES, changeText, RULE_IDS, RULES, ruleOf, ruleText, rulesText, suggest } = await import('./engine.ts');
    const terminal = await this.terminal(flags.output);
    if (args.rule === undefined) return this.put(rulesText(RULES, CHANGE_RULES, terminal), flags.output);
    const [change] = Object.entries(CHANGE_RULES).filter(([id]) => id === args.rule);
    if (change !== undefined) return this.put(changeText(...change, terminal), flags.output);
    const rule = ruleOf(args.rule);
    if (rule === undefined) {
      const near = suggest(args.rule, [...RULE_IDS, ...Object.keys(CHANGE_RULES)]);
      throw new InputFailure([
        {
          file: '',
          message: `there is no rule "${args.rule}"${near === undefined ? '; "elm-gate explain" lists them all' : `; did you mean "${near}"?`}`,
        },
      ]);
    }
    return this.put(ruleText(rule, terminal), flags.output);
  }
}
