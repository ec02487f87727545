/**
 * Starts the program from one file, where it has not printed the same before. Its compiled form is kept at the first run in the
 * user's cache folder, one for each command, this Node.js and this build, because it fits no other; reading it takes a fraction
 * of the time of compiling anew. Where nothing can be kept, or what is kept does not fit, the engine compiles, and nothing else
 * changes.
 */
import { readdirSync, readFileSync, rmSync } from 'node:fs';
import { createRequire } from 'node:module';
import { basename, dirname, join } from 'node:path';
import { Script } from 'node:vm';
import { buildOf, cacheFolder, keepFile } from './files/cache-folder.ts';
import { KeptOutput } from './files/kept-output.ts';
import { guardOutput } from './guard-output.ts';
import type * as Program from './main.ts';

/** The build makes this file a CommonJS module: loading one takes less than a fifth of what an ES module takes. */
declare const __dirname: string;
const file = join(__dirname, 'program.cjs');

/** What was loaded: a process that runs many command lines loads it once. */
let program: typeof Program | undefined;

/** Runs one command line and sets the exit status. */
export async function main(argv: readonly string[], root: string): Promise<void> {
  const output = KeptOutput.of(argv, buildOf(file));
  const known = argv.includes('--fresh') ? undefined : output?.read();
  if (known !== undefined) {
    guardOutput();
    process.stdout.write(known.text);
    process.exitCode = known.status;
    return;
  }
  const isFirst = program === undefined;
  const loaded = load(argv[0] ?? 'overview');
  const made = await loaded.main(argv, root);
  if (made !== undefined) output?.keep(made);
  // A new build, or a command that ran for the first time: the moment to look at what is kept.
  if (isFirst && keepCompiled()) output?.tidy();
}

/** Keeps the compiled form of what ran, which is compiled by then; is it new? */
let keepCompiled = (): boolean => false;

/** The program, its compiled form that of a command. */
export function load(command: string): typeof Program {
  if (program !== undefined) return program;
  if (process.env.ELM_GATE_DEBUG !== undefined) {
    // The engine reads source maps of files that it loads itself.
    process.setSourceMapsEnabled(true);
    program = createRequire(file)(file) as typeof Program;
    return program;
  }
  const place = cacheFile(command);
  const cached = place === undefined ? undefined : read(place);
  // The build writes ASCII, which is read fastest when said so.
  const source = `(function (require, module, exports) {${readFileSync(file, 'latin1')}\n})`;
  const script = new Script(source, { filename: file, ...(cached === undefined ? {} : { cachedData: cached }) });
  const module = { exports: {} as typeof Program };
  const require = createRequire(file);
  // The framework looks for the commands in this file, where they are already.
  const own = (id: string): unknown => (id === file ? module.exports : require(id));
  script.runInThisContext()(own, module, module.exports);
  program = module.exports;
  keepCompiled = () => {
    if (place === undefined || (cached !== undefined && script.cachedDataRejected !== true)) return false;
    if (keepFile(place, script.createCachedData())) takeAway(place);
    return true;
  };
  return program;
}

/** Where the compiled form of a command is kept; undefined where there is no folder for it. */
function cacheFile(command: string): string | undefined {
  const folder = cacheFolder();
  const name = /^[a-z]+$/u.test(command) ? command : 'other';
  return folder === undefined ? undefined : join(folder, `${process.version}-${process.arch}-${buildOf(file)}-${name}.bin`);
}

/** Takes away what was kept of the same command for other builds. */
function takeAway(place: string): void {
  const [folder, own] = [dirname(place), basename(place)];
  const [version, arch, , , command] = own.split('-');
  try {
    for (const name of readdirSync(folder))
      if (name !== own && name.startsWith(`${version}-${arch}-`) && name.endsWith(`-${command}`))
        rmSync(join(folder, name), { force: true });
  } catch {
    // Another run takes them away too.
  }
}

function read(place: string): Buffer | undefined {
  try {
    return readFileSync(place);
  } catch {
    return undefined;
  }
}
