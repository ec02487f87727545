import { execFileSync } from 'node:child_process';
import * as Flags from '@oclif/core/flags';
import type { KnownFinding } from '../files/formats/known-findings.ts';
import { fail } from '../files/problem.ts';
import { writeWhole } from '../files/write-file.ts';
import { count } from '../views/terminal.ts';
import { dayOf, GateCommand, inputFlags, todayFlag } from './base.ts';
import { findingsOf, selectionFlags, selectionOf } from './findings.ts';

export default class Acknowledge extends GateCommand {
  static override summary = 'Write down that present findings are known, so that check leaves them out.';
  static override description =
    'Adds the findings of check, or those that the options select, to elm-gate.known.yaml next to the settings, with a reason. check does not print them and does not fail on them. A finding stays known when lines move, files are reordered, and parameters or handlers get other names.';
  static override examples = [
    {
      description: 'Start with what there is, and let check fail on what is new',
      command: `<%= config.bin %> <%= command.id %> --reason 'before the check'`,
    },
    {
      description: 'One rule on one path, until a day',
      command: `<%= config.bin %> <%= command.id %> --rule paths/shadowed --path /v2/tolls --reason 'goes with version 3' --until 2027-06-30`,
    },
    { description: 'Take out what is past its date or no longer there', command: '<%= config.bin %> <%= command.id %> --prune' },
  ];
  static override flags = {
    ...inputFlags,
    ...selectionFlags,
    reason: Flags.string({ summary: 'Why they may stay', helpValue: 'TEXT' }),
    by: Flags.string({ summary: 'Who says so; the user.name of git by default', helpValue: 'NAME' }),
    until: Flags.string({ summary: 'The day on which check reports them again', helpValue: 'DAY' }),
    prune: Flags.boolean({ summary: 'Take out those that are past their date or no longer there' }),
    today: todayFlag,
  };

  async run(): Promise<void> {
    const { flags } = await this.parse(Acknowledge);
    const { reason, until, prune } = flags;
    if (reason === undefined && !prune) fail('', `acknowledge wants a reason: --reason 'goes with version 3'`);
    if (until !== undefined && !/^\d{4}-\d\d-\d\d$/u.test(until))
      fail('', `--until: expected a day such as 2027-03-14, found ${JSON.stringify(until)}`);
    const workspace = await this.open(flags);
    const { knownText, selected } = await import('./engine.ts');
    const run = await findingsOf(workspace, dayOf(flags));
    const gone = new Set(prune ? [...run.split.idle, ...run.split.expired] : []);
    const entries = new Map([...run.known.findings].filter(([, entry]) => !gone.has(entry)));
    const added = reason === undefined ? [] : selected(run.split.open, selectionOf(flags));
    const by = flags.by ?? userName();
    for (const f of added)
      entries.set(run.printOf(f), {
        rule: f.rule,
        at: f.at.what === '' ? f.at.file : f.at.what,
        message: f.message,
        reason: reason as string,
        ...(by === undefined ? {} : { by }),
        ...(until === undefined ? {} : { until }),
      } satisfies KnownFinding);
    if (added.length + gone.size > 0) writeWhole(run.known.file, [knownText(entries)], []);
    const parts = [
      ...(reason === undefined ? [] : [`${count(added.length, 'finding')} acknowledged`]),
      ...(prune ? [`${count(gone.size, 'entry', 'entries')} taken out`] : []),
    ];
    this.put(`${parts.join(', ')}; ${run.known.file} has ${count(entries.size, 'known finding')} now.\n`, undefined);
  }
}

function userName(): string | undefined {
  try {
    const name = execFileSync('git', ['config', 'user.name'], { encoding: 'utf8', stdio: ['ignore', 'pipe', 'ignore'] }).trim();
    return name === '' ? undefined : name;
  } catch {
    return undefined;
  }
}
