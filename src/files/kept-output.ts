/** What a command printed, kept, and printed again while all that it was made from is the same. */
import { readdirSync } from 'node:fs';
import { rootOf } from './boundary.ts';
import { KeptResults, type Trace } from './kept-results.ts';

/** What goes to standard output, as it was written. */
export interface Printed {
  readonly text: string;
  readonly status: 0 | 1;
}

/** What a run printed, with what it was made from. */
export interface Repeatable {
  readonly printed: Printed;
  readonly trace: Trace;
  /** The names in the working folder decided what was read. */
  readonly isDiscovered: boolean;
}

interface Entry {
  readonly printed: Printed;
  /** All else that decides what is printed. */
  readonly made: string;
  readonly names: string | undefined;
}

/** Commands that read files and print; `''` is the program without a command. */
const COMMANDS: ReadonlySet<string> = new Set(['', 'check', 'table', 'methods', 'media', 'versions', 'settings']);
/** Longer outputs are not kept, in characters. */
export const MOST_PRINTED = 1 << 20;

/** The output of one command line, here and on this terminal. `build` tells one build of the program from another. */
export class KeptOutput {
  private readonly kept: KeptResults<Entry>;
  private readonly made: string;

  private constructor(argv: readonly string[], build: string) {
    const { stdout, env } = process;
    const said = [env.NO_COLOR, env.FORCE_COLOR, env.COLUMNS, env.ELM_GATE_CONFIG];
    const asked = argv.filter((arg) => arg !== '--fresh');
    const day = new Date().toISOString().slice(0, 10);
    this.kept = new KeptResults(process.cwd(), JSON.stringify([asked, stdout.isTTY === true, stdout.columns, said]));
    this.made = JSON.stringify([build, process.version, day, rootOf(process.cwd())]);
  }

  /** Undefined of a command line whose output is never kept. */
  static of(argv: readonly string[], build: string): KeptOutput | undefined {
    const [first = ''] = argv;
    const command = first.startsWith('-') ? '' : first;
    if (process.env.ELM_GATE_DEBUG !== undefined || !COMMANDS.has(command)) return undefined;
    try {
      return new KeptOutput(argv, build);
    } catch {
      // There is no working folder any more.
      return undefined;
    }
  }

  /** What the same run printed, where it would print the same now. O(bytes that were read). */
  read(): Printed | undefined {
    const entry = this.kept.read('printed');
    if (entry === undefined || entry.made !== this.made) return undefined;
    return entry.names === undefined || entry.names === namesHere() ? entry.printed : undefined;
  }

  keep({ printed, trace, isDiscovered }: Repeatable): void {
    if (printed.text.length > MOST_PRINTED) return;
    const names = isDiscovered ? namesHere() : undefined;
    this.kept.keep('printed', trace, { printed, made: this.made, names });
  }

  /** Takes away what was kept longest ago, where too much is kept. */
  tidy(): void {
    this.kept.tidy();
  }
}

function namesHere(): string {
  try {
    return JSON.stringify(readdirSync('.').sort());
  } catch {
    return '';
  }
}
