/** The way in: hands the command line to oclif, bare `elm-gate` to the overview. */
import { Config, flush, run } from '@oclif/core';
import { failWith } from './commands/base.ts';

export { COMMANDS } from './commands/index.ts';

/** Runs one command line; `root` is the package's folder. Never throws; sets the exit status. */
export async function main(argv: readonly string[], root: string): Promise<void> {
  try {
    const config = await Config.load({ root });
    const bare = argv.length === 0 || (argv[0]?.startsWith('-') && !['--help', '-h', '--version'].includes(argv[0]));
    await run(bare ? ['overview', ...argv] : [...argv], config);
  } catch (error) {
    failWith(error as Error);
  }
  await flush();
}
