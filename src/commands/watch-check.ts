/** `check --watch`: runs again when a file that was read changes, and tells what is new and what is fixed since. */
import { startRun } from '../core/language/limits.ts';
import { InputFailure, problemLine } from '../files/problem.ts';
import { untilInterrupted } from '../files/watch.ts';
import { briefLine, findingsBlocks, type Report, summaryLine } from '../views/findings-text.ts';
import type { Rendered } from '../views/rendered.ts';
import { count, type Terminal, wrap } from '../views/terminal.ts';

export interface Watched {
  readonly report: Report;
  readonly printOf: (finding: Rendered) => string;
  readonly files: readonly string[];
  /** The folders that were searched for files: a new one there may be read the next time. */
  readonly folders: readonly string[];
}

/** Tells the first run whole, and of each later one what changed; what can't be read is told, and waited for. */
export async function watchCheck<T extends Watched>(
  first: T,
  again: () => Promise<T>,
  put: (text: string) => void,
  terminal: Terminal,
): Promise<T> {
  let last = first;
  const waits = (): string => terminal.paint.dim(`Watching ${count(last.files.length, 'file')}; Ctrl-C ends it.`);
  await untilInterrupted(
    () => last,
    async (names) => {
      startRun();
      const head = terminal.paint.bold(`${names.join(', ')} changed`);
      try {
        const now = await again();
        const isOfNote = names.some((n) => last.files.includes(n) || now.files.includes(n));
        if (isOfNote) put(`\n${head}: ${changesText(last, now, terminal)}`);
        last = now;
      } catch (error) {
        if (!(error instanceof InputFailure)) throw error;
        put(`\n${head}, and can't be read:\n${error.problems.map((p) => `  ${problemLine(p)}`).join('\n')}\n`);
      }
    },
    () => put(`${waits()}\n`),
  );
  return last;
}

/** What is new since the run before, and what is fixed. */
function changesText(before: Watched, now: Watched, terminal: Terminal): string {
  const [was, is] = [before, now].map(({ report, printOf }) => new Set(report.findings.map(printOf))) as [
    Set<string>,
    Set<string>,
  ];
  const added = now.report.findings.filter((f) => !was.has(now.printOf(f)));
  const fixed = before.report.findings.filter((f) => !is.has(before.printOf(f)));
  const blocks = [
    `${added.length} new, ${fixed.length} fixed.`,
    ...findingsBlocks(added, false, terminal),
    ...(fixed.length === 0
      ? []
      : [fixed.map((f) => wrap(briefLine(f, terminal), terminal, terminal.paint.green('fixed  '), '       ')).join('\n')]),
    summaryLine(now.report, terminal),
  ];
  return `${blocks.join('\n\n')}\n`;
}
