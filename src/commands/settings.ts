import * as Flags from '@oclif/core/flags';
import { USUAL_POLICY } from '../core/contract/resources/method-policy.ts';
import { count, type Terminal } from '../views/terminal.ts';
import { GateCommand, inputFlags, outputFlag } from './base.ts';

interface Row {
  /** `failOn`, or `levels paths/shadowed`. */
  readonly key: string;
  readonly value: unknown;
  /** `elm-gate.yaml:12`; `default` where nothing says it. */
  readonly from: string;
}

export default class SettingsCommand extends GateCommand {
  static override summary = 'Print the settings that hold, and where each comes from.';
  static override description =
    'One line a value: its key, what it is, and the file and line that says so, or that it is the default.';
  static override examples = [
    { description: 'What holds here', command: '<%= config.bin %> <%= command.id %>' },
    { description: 'For a program', command: '<%= config.bin %> <%= command.id %> --format json' },
  ];
  static override flags = {
    config: inputFlags.config,
    'allow-outside': inputFlags['allow-outside'],
    format: Flags.option({ options: ['text', 'json'] as const, default: 'text' as const, summary: 'How it is written' })(),
    output: outputFlag,
  };

  async run(): Promise<void> {
    const { flags } = await this.parse(SettingsCommand);
    const workspace = await this.open({ ...flags, routes: undefined, document: undefined });
    this.mayRepeat(workspace, flags.output);
    const { settings, sources } = workspace;
    const locate = sources.positions(settings?.origins.values() ?? []);
    const said = [...(settings?.origins ?? [])].map(([key, place]): Row => {
      const at = locate(place);
      const value = key.split(' ').reduce<unknown>((v, k) => (v as Record<string, unknown>)[k], settings?.value);
      return { key, value, from: at === undefined ? place.file : `${place.file}:${at.line}` };
    });
    const { collection, item } = USUAL_POLICY;
    const defaults = Object.entries({ failOn: workspace.failOn, methods: { collection, item } }).flatMap(
      ([key, value]): readonly Row[] => (settings?.origins.has(key) === true ? [] : [{ key, value, from: 'default' }]),
    );
    const rows = [...said, ...defaults];
    this.put(
      flags.format === 'json'
        ? `${JSON.stringify({ settings: rows }, null, 2)}\n`
        : settingsText(rows, settings?.source.file, await this.terminal(flags.output)),
      flags.output,
    );
  }
}

/** The keys below one another, their values as JSON in one line. */
function settingsText(rows: readonly Row[], file: string | undefined, { paint, width }: Terminal): string {
  const key = Math.max(...rows.map((r) => r.key.length));
  const from = Math.max(...rows.map((r) => r.from.length));
  const room = Math.max(20, width - key - from - 4);
  const lines = rows.map((r) => {
    const text = typeof r.value === 'string' ? r.value : JSON.stringify(r.value);
    const shown = text.length > room ? `${text.slice(0, room - 1)}…` : text;
    return `${r.key.padEnd(key)}  ${shown.padEnd(room)}  ${paint.cyan(r.from)}`.trimEnd();
  });
  const where =
    file === undefined ? 'There is no settings file; elm-gate init writes one.' : `${count(rows.length, 'setting')} of ${file}.`;
  return `${lines.join('\n')}\n\n${where}\n`;
}
