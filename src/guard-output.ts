/** What becomes of output that nobody takes. */

/**
 * A reader that has seen enough (`| head`) ends the writing and nothing else; an output that can't be written ends the run
 * with a sentence and status 2. Nobody can be told where standard error itself can't be written.
 */
export function guardOutput(): void {
  process.stdout.removeAllListeners('error');
  process.stdout.on('error', ({ code }: NodeJS.ErrnoException) => {
    if (code === 'EPIPE') return;
    process.stderr.write(`standard output can't be written (${code ?? 'unknown cause'}); name a file with --output\n`);
    process.exit(2);
  });
  process.stderr.removeAllListeners('error');
  process.stderr.on('error', () => {});
}
