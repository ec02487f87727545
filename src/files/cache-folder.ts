/** The user's cache folder, where things are kept from run to run. Where nothing can be kept nothing else changes. */
import { renameSync, rmSync, statSync, writeFileSync } from 'node:fs';
import { homedir } from 'node:os';
import { dirname, join } from 'node:path';
import { makeFolder } from './make-folder.ts';

/** Undefined where there is none, or nothing is to be kept. */
export function cacheFolder(): string | undefined {
  if (process.env.ELM_GATE_CACHE === 'off') return undefined;
  try {
    return join(process.env.XDG_CACHE_HOME || join(homedir(), '.cache'), 'elm-gate');
  } catch {
    return undefined;
  }
}

/** Written aside and renamed, so that another run never reads half of it; for the user alone. Tells whether it could be. */
export function keepFile(path: string, data: string | Buffer): boolean {
  const aside = `${path}.${process.pid}`;
  try {
    makeFolder(dirname(path), 0o700);
    writeFileSync(aside, data, { mode: 0o600 });
    renameSync(aside, path);
    return true;
  } catch {
    try {
      rmSync(aside, { force: true });
    } catch {
      // There is nothing to take away.
    }
    return false;
  }
}

/** What tells one build of the program from another, whatever its version says. */
export function buildOf(program: string): string {
  const { size, mtimeMs } = statSync(program);
  return `${size}-${Math.round(mtimeMs)}`;
}
