/** Reads a file as text, or says in a sentence why it can't be. */
import { isAscii, isUtf8 } from 'node:buffer';
import { closeSync, constants, fstatSync, openSync, readSync, type Stats, statSync } from 'node:fs';
import { grant } from '../core/language/limits.ts';
import { fail, InputFailure } from './problem.ts';

/** The largest file that is read. */
export const MAX_BYTES = 32 * 1024 * 1024;

/** The text of a file, a byte order mark taken off. Fails on folders, missing files, invalid UTF-8 and files over `MAX_BYTES`. */
export function readText(file: string, path: string): string {
  const stat = statOf(file, path);
  if (stat === undefined) fail(file, 'there is no such file; check the name');
  if (!stat.isDirectory() && !stat.isFile()) fail(file, 'this is no regular file but a device, a pipe or a socket; name a file');
  if (stat.isDirectory()) fail(file, 'this is a folder, and a file was expected; name the file in it');
  if (stat.size > MAX_BYTES)
    fail(file, `the file has ${megabytes(stat.size)}, and ${megabytes(MAX_BYTES)} is the most that is read; split it up`);
  const bytes = readBytes(file, path);
  grant(bytes.length);
  return textOf(file, bytes);
}

/** What stands in place of a large file that Git LFS keeps elsewhere, and how long it is at most. */
const [POINTER, LONGEST_POINTER] = ['version https://git-lfs.github.com/spec/', 1_024];

/** The text of bytes, a byte order mark taken off; fails with the place where they are no UTF-8. */
export function textOf(file: string, bytes: Buffer): string {
  if (bytes.length <= LONGEST_POINTER && bytes.toString('latin1', 0, POINTER.length) === POINTER)
    fail(
      file,
      'this is a pointer that Git LFS keeps in place of the file; run "git lfs pull" for the file itself, and name it as a file where a revision was named',
    );
  // Most files are plain ASCII, which needs no decoding.
  if (isAscii(bytes)) return bytes.toString('latin1');
  if (isUtf8(bytes)) return bytes.toString('utf8', startsWithMark(bytes) ? 3 : 0);
  const { line, column } = firstInvalid(bytes);
  return fail(file, 'this is not UTF-8 text; save the file as UTF-8', line, column);
}

function statOf(file: string, path: string): Stats | undefined {
  // No file's name has a null byte, and asking for one is refused.
  if (path.includes('\0')) return undefined;
  try {
    return statSync(path, { throwIfNoEntry: false });
  } catch (error) {
    return unreadable(file, error);
  }
}

/** The byte order mark, which is no part of the text. */
function startsWithMark(bytes: Buffer): boolean {
  return bytes[0] === 0xef && bytes[1] === 0xbb && bytes[2] === 0xbf;
}

function readBytes(file: string, path: string): Buffer {
  try {
    return (
      readRegular(path) ?? fail(file, `the file grew beyond ${megabytes(MAX_BYTES)}, or is no regular file; name another one`)
    );
  } catch (error) {
    return unreadable(file, error);
  }
}

/** Opened without waiting, and looked at once more: what has the name may have changed. At most `MAX_BYTES`. */
function readRegular(path: string): Buffer | undefined {
  const descriptor = openSync(path, constants.O_RDONLY | constants.O_NONBLOCK);
  try {
    const { size } = fstatSync(descriptor);
    if (!fstatSync(descriptor).isFile()) return undefined;
    const bytes = Buffer.allocUnsafe(Math.min(size, MAX_BYTES) + 1);
    let used = 0;
    for (let n = 1; n > 0 && used < bytes.length; used += n) n = readSync(descriptor, bytes, used, bytes.length - used, null);
    return used > MAX_BYTES ? undefined : bytes.subarray(0, used);
  } finally {
    closeSync(descriptor);
  }
}

function unreadable(file: string, error: unknown): never {
  if (error instanceof InputFailure) throw error;
  const code = (error as NodeJS.ErrnoException).code ?? 'unknown cause';
  return fail(file, `the file can't be read (${code}); check ${code === 'ENAMETOOLONG' ? 'its name' : 'its permissions'}`);
}

/** Megabytes for people. */
export function megabytes(bytes: number): string {
  return `${Math.round(bytes / 1024 / 1024)} MB`;
}

/** Where decoding fails first: lines are counted up to the byte whose replacement shows up. */
function firstInvalid(bytes: Buffer): { line: number; column: number } {
  const before = bytes.toString('utf8').split('\ufffd', 1)[0] as string;
  const lines = before.split('\n');
  return { line: lines.length, column: (lines[lines.length - 1] as string).length + 1 };
}
