/** The way in: hands the command line to oclif, bare `elm-gate` to the overview. */
import { Config } from '@oclif/core/config';
import { flush } from '@oclif/core/flush';
import { run } from '@oclif/core/run';
import { failWith } from './commands/base.ts';
import type { checkFolders as CheckFolders } from './commands/fleet.ts';
import { COMMANDS } from './commands/index.ts';
import { suggest } from './core/base/nearest-word.ts';
import { startRun } from './core/language/limits.ts';
import { visible } from './views/visible.ts';

export { COMMANDS };

function unknownCommand(name: string): void {
  const names = Object.keys(COMMANDS).filter((c) => c !== 'overview');
  const near = suggest(name, names);
  const hint = near === undefined ? `There are ${names.join(', ')}.` : `Did you mean "elm-gate ${near}"?`;
  process.stderr.write(`"${visible(name)}" is not a command. ${hint}\n`);
  process.exitCode = 2;
}

/**
 * A reader that has seen enough (`| head`) ends the writing and nothing else; an output that can't be written ends the run
 * with a sentence and status 2. Nobody can be told where standard error itself can't be written.
 */
function guardOutput(): void {
  process.stdout.removeAllListeners('error');
  process.stdout.on('error', ({ code }: NodeJS.ErrnoException) => {
    if (code === 'EPIPE') return;
    process.stderr.write(`standard output can't be written (${code ?? 'unknown cause'}); name a file with --output\n`);
    process.exit(2);
  });
  process.stderr.removeAllListeners('error');
  process.stderr.on('error', () => {});
}

/** For the threads among which folders are shared out. */
export const checkFolders: typeof CheckFolders = async (files, options) =>
  (await import('./commands/fleet.ts')).checkFolders(files, options);

/** Runs one command line; `root` is the package's folder. Never throws; sets the exit status. */
export async function main(argv: readonly string[], root: string): Promise<void> {
  guardOutput();
  startRun();
  try {
    const config = await Config.load({ root });
    const [name] = argv;
    if (name !== undefined && !name.startsWith('-') && name !== 'help' && !(name in COMMANDS)) return unknownCommand(name);
    const bare = argv.length === 0 || (argv[0]?.startsWith('-') && !['--help', '-h', '--version'].includes(argv[0]));
    await run(bare ? ['overview', ...argv] : [...argv], config);
  } catch (error) {
    failWith(error as Error);
  }
  await flush();
}
