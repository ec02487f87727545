/** Writes a result to a file: whole or not at all, and never through a link or over what was read. */
import {
  closeSync,
  constants,
  fsyncSync,
  lstatSync,
  openSync,
  realpathSync,
  renameSync,
  rmSync,
  type Stats,
  writeSync,
} from 'node:fs';
import { basename, dirname, join } from 'node:path';
import { InputFailure } from './problem.ts';

/**
 * Writes aside, waits until it is on the disk, and renames. Fails with a sentence where a link, a folder or one of `inputs`
 * has that name, or where nothing can be written; what was there before stays then.
 */
export function writeWhole(file: string, pieces: Iterable<string>, inputs: readonly string[]): void {
  const stat = statOf(file);
  if (stat?.isSymbolicLink() === true)
    refuse(file, 'this is a link, and results are not written through one; name the file itself');
  if (stat?.isDirectory() === true) refuse(file, 'this is a folder; name a file');
  if (stat?.isFile() === true && inputs.some((input) => isSame(input, file)))
    refuse(file, 'this file was read for the result and would be lost; name another one');
  // A device or a pipe is written to as it is.
  const direct = stat !== undefined && !stat.isFile();
  const aside = direct ? file : join(dirname(file), `.${basename(file)}.${process.pid}.part`);
  try {
    const flags = direct ? constants.O_WRONLY : constants.O_WRONLY | constants.O_CREAT | constants.O_EXCL;
    const descriptor = openSync(aside, flags, stat?.isFile() === true ? stat.mode : 0o666);
    try {
      for (const piece of pieces) writeAll(descriptor, piece);
      if (!direct) fsyncSync(descriptor);
    } finally {
      closeSync(descriptor);
    }
    if (!direct) renameSync(aside, file);
  } catch (error) {
    if (!direct) rmSync(aside, { force: true });
    const code = (error as NodeJS.ErrnoException).code;
    if (code === undefined) throw error;
    refuse(file, `the result can't be written there (${code}); name another file with --output`);
  }
}

function writeAll(descriptor: number, text: string): void {
  const bytes = Buffer.from(text);
  for (let at = 0; at < bytes.length; ) at += writeSync(descriptor, bytes, at);
}

function statOf(file: string): Stats | undefined {
  try {
    return lstatSync(file, { throwIfNoEntry: false });
  } catch {
    return undefined;
  }
}

function isSame(a: string, b: string): boolean {
  try {
    return realpathSync(a) === realpathSync(b);
  } catch {
    return false;
  }
}

function refuse(file: string, message: string): never {
  throw new InputFailure([{ file, message }]);
}
