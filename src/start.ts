/**
 * Starts the program from one file whose compiled form was kept when it was built: reading that takes a tenth of the
 * time of compiling anew. Where it doesn't fit - another Node.js, another processor - the engine notices, and compiles.
 */
import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { fileURLToPath } from 'node:url';
import { setFlagsFromString } from 'node:v8';
import { Script } from 'node:vm';
import type * as Program from './main.ts';

/** Most runs end before optimised code pays for its compilation, which by default takes a third of their CPU time; so
 * functions have to be hotter before it starts. Long runs reach full speed a moment later. Said only to the versions
 * of Node.js on which the flag is known, and before anything is compiled, because kept code counts for its flags only. */
if (/^v(20|22)\./u.test(process.version)) setFlagsFromString('--interrupt-budget=1000000');

const file = fileURLToPath(new URL('program.cjs', import.meta.url));

function kept(): Buffer | undefined {
  try {
    return readFileSync(new URL('program.cache', import.meta.url));
  } catch {
    return undefined;
  }
}

// The build writes ASCII, which is read fastest when said so.
const source = `(function (require, module, exports) {${readFileSync(file, 'latin1')}\n})`;

/** The compiled program; the build asks it for what to keep. */
export const script = new Script(source, { filename: file, cachedData: kept() });

const module = { exports: {} as typeof Program };
const require = createRequire(file);
/** The framework looks for the commands in this file, where they are already. */
const own = (id: string): unknown => (id === import.meta.url ? module.exports : require(id));
script.runInThisContext()(own, module, module.exports);

export const { main, COMMANDS } = module.exports;
