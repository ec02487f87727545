/** The way in: hands the command line to oclif, bare `elm-gate` to the overview. */
import { Config } from '@oclif/core/config';
import { flush } from '@oclif/core/flush';
import { run } from '@oclif/core/run';
import { failWith } from './commands/base.ts';
import type { checkFolders as CheckFolders } from './commands/fleet.ts';
import { COMMANDS } from './commands/index.ts';
import { beginRun, repeatable } from './commands/repeatable.ts';
import { suggest } from './core/base/nearest-word.ts';
import { startRun } from './core/language/limits.ts';
import type { Repeatable } from './files/kept-output.ts';
import { guardOutput } from './guard-output.ts';
import { visible } from './views/visible.ts';

export { COMMANDS };

function unknownCommand(name: string): undefined {
  const names = Object.keys(COMMANDS).filter((c) => c !== 'overview');
  const near = suggest(name, names);
  const hint = near === undefined ? `There are ${names.join(', ')}.` : `Did you mean "elm-gate ${near}"?`;
  process.stderr.write(`"${visible(name)}" is not a command. ${hint}\n`);
  process.exitCode = 2;
}

/** For the threads among which folders are shared out. */
export const checkFolders: typeof CheckFolders = async (files, options) =>
  (await import('./commands/fleet.ts')).checkFolders(files, options);

/** Nothing can be read from a working folder that was removed. */
function isFolderGone(): boolean {
  try {
    process.cwd();
    return false;
  } catch {
    process.stderr.write('the working folder is no longer there; change to one that is\n');
    process.exitCode = 2;
    return true;
  }
}

/**
 * Runs one command line; `root` is the package's folder. Never throws; sets the exit status. What it printed is returned where
 * the same run would print the same again.
 */
export async function main(argv: readonly string[], root: string): Promise<Repeatable | undefined> {
  guardOutput();
  beginRun();
  startRun();
  try {
    if (isFolderGone()) return undefined;
    const config = await Config.load({ root });
    const [name] = argv;
    if (name !== undefined && !name.startsWith('-') && name !== 'help' && !(name in COMMANDS)) return unknownCommand(name);
    const bare = argv.length === 0 || (argv[0]?.startsWith('-') && !['--help', '-h', '--version'].includes(argv[0]));
    await run(bare ? ['overview', ...argv] : [...argv], config);
  } catch (error) {
    failWith(error as Error);
  }
  await flush();
  return repeatable();
}
