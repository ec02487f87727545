/** What this run prints, and what it is made from, where the same run would print the same again. */
import { MOST_PRINTED, type Repeatable } from '../files/kept-output.ts';
import { traceOf } from '../files/kept-results.ts';
import type { Workspace } from '../files/workspace.ts';

interface Made {
  readonly workspace: Workspace;
  /** Files that were read beside those of the workspace. */
  readonly more: readonly string[];
}

interface Run {
  /** In milliseconds since 1970. */
  readonly began: number;
  printed: string;
  made: Made | undefined;
}

let run: Run = { began: 0, printed: '', made: undefined };

/** Another command line begins. */
export function beginRun(): void {
  run = { began: Date.now(), printed: '', made: undefined };
}

/** Notes what goes to standard output; what is too long to be kept is not gathered. */
export function notePrinted(text: string): void {
  if (run.printed.length <= MOST_PRINTED) run.printed += text;
}

/** Notes that all that is printed is made from what the workspace reads, the files of `more` and the command line. */
export function noteMadeFrom(workspace: Workspace, more: readonly string[]): void {
  run.made = { workspace, more };
}

/** Undefined where the run failed, or what it printed depends on more than files. Reads all files once more. */
export function repeatable(): Repeatable | undefined {
  const { exitCode = 0 } = process;
  const { began, printed, made } = run;
  if (made === undefined || (exitCode !== 0 && exitCode !== 1)) return undefined;
  const { sources, discovered } = made.workspace;
  const trace = sources.names().includes('-') ? undefined : traceOf(sources, process.cwd(), made.more, began);
  return trace === undefined
    ? undefined
    : { trace, isDiscovered: discovered !== undefined, printed: { text: printed, status: exitCode } };
}
