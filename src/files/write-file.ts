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

/** A result that is being written aside. Each call fails with a sentence where nothing can be written. */
export interface Writing {
  readonly write: (piece: string | Uint8Array) => void;
  /** Waits until it is on the disk, and gives it its name. */
  readonly finish: () => void;
  /** Takes it away; what had its name before stays. */
  readonly abandon: () => void;
}

/** Fails with a sentence where a link, a folder or one of `inputs` has that name. A device or a pipe is written to as it is. */
export function openResult(file: string, inputs: readonly string[]): Writing {
  const stat = statOf(file);
  if (stat?.isSymbolicLink() === true)
    refuse(file, 'this is a link, and results are not written through one; name the file itself');
  if (stat?.isDirectory() === true) refuse(file, 'this is a folder; name a file');
  if (stat?.isFile() === true && inputs.some((input) => isSame(input, file)))
    refuse(file, 'this file was read for the result and would be lost; name another one');
  const direct = stat !== undefined && !stat.isFile();
  const aside = direct ? file : join(dirname(file), `.${basename(file)}.${process.pid}.part`);
  const flags = direct ? constants.O_WRONLY : constants.O_WRONLY | constants.O_CREAT | constants.O_EXCL;
  const attempt = <T>(act: () => T): T => {
    try {
      return act();
    } catch (error) {
      const { code } = error as NodeJS.ErrnoException;
      if (code === undefined) throw error;
      return refuse(file, `the result can't be written there (${code}); name another file with --output`);
    }
  };
  const descriptor = attempt(() => openSync(aside, flags, stat?.mode ?? 0o666));
  return {
    write: (piece) => attempt(() => writeAll(descriptor, typeof piece === 'string' ? Buffer.from(piece) : piece)),
    finish: () =>
      attempt(() => {
        if (!direct) fsyncSync(descriptor);
        closeSync(descriptor);
        if (!direct) renameSync(aside, file);
      }),
    abandon: () => {
      closeSync(descriptor);
      if (!direct) rmSync(aside, { force: true });
    },
  };
}

/** The same for a result that is there piece by piece. */
export function writeWhole(file: string, pieces: Iterable<string>, inputs: readonly string[]): void {
  const writing = openResult(file, inputs);
  try {
    for (const piece of pieces) writing.write(piece);
  } catch (error) {
    writing.abandon();
    throw error;
  }
  writing.finish();
}

function writeAll(descriptor: number, bytes: Uint8Array): void {
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
