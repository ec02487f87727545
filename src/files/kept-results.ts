/** Results of earlier runs, kept in the user's cache folder and used again while everything that was read is the same. */
import { createHash } from 'node:crypto';
import { readdirSync, readFileSync, rmSync, statSync } from 'node:fs';
import { join, resolve } from 'node:path';
import { cacheFolder, keepFile } from './cache-folder.ts';
import type { Sources } from './sources.ts';

/** What a result was made from: files with the hash of what they held, and folders with that of the names in them. */
export interface Trace {
  readonly files: readonly (readonly [name: string, hash: string])[];
  readonly folders: readonly (readonly [name: string, hash: string])[];
}

interface Entry<T> {
  readonly trace: Trace;
  readonly result: T;
}

const NONE = 'none';
/** So many results are kept. */
const MOST_KEPT = 20_000;

/** The results of one build of the program, asked in the same way. Keeping or reading one that fails changes nothing. */
export class KeptResults<T> {
  private readonly folder: string | undefined;

  /** `asked` is everything that a result depends on beside the files. */
  constructor(
    private readonly cwd: string,
    private readonly asked: string,
  ) {
    const cache = cacheFolder();
    this.folder = cache === undefined ? undefined : join(cache, 'results');
  }

  /** The result of a name, where nothing that it was made from has changed. O(bytes that were read). */
  read(name: string): T | undefined {
    const place = this.placeOf(name);
    if (place === undefined) return undefined;
    try {
      const { trace, result } = JSON.parse(readFileSync(place, 'utf8')) as Entry<T>;
      const isSame = ([file, hash]: readonly [string, string]): boolean => hashOfFile(resolve(this.cwd, file)) === hash;
      return trace.files.every(isSame) && trace.folders.every(([f, hash]) => hashOfNames(resolve(this.cwd, f)) === hash)
        ? result
        : undefined;
    } catch {
      return undefined;
    }
  }

  /** Kept where it can be. */
  keep(name: string, trace: Trace, result: T): void {
    const place = this.placeOf(name);
    if (place !== undefined) keepFile(place, JSON.stringify({ trace, result }));
  }

  /** Takes away what was kept longest ago, where too much is kept. */
  tidy(): void {
    const { folder } = this;
    if (folder === undefined) return;
    try {
      const names = readdirSync(folder);
      if (names.length <= MOST_KEPT) return;
      const byAge = names.map((name) => ({ name, at: statSync(join(folder, name)).mtimeMs })).sort((a, b) => a.at - b.at);
      for (const { name } of byAge.slice(0, names.length - MOST_KEPT / 2)) rmSync(join(folder, name), { force: true });
    } catch {
      // Another run takes them away too.
    }
  }

  private placeOf(name: string): string | undefined {
    if (this.folder === undefined) return undefined;
    return join(this.folder, `${sha(`${this.cwd}\n${name}\n${this.asked}`).slice(0, 32)}.json`);
  }
}

/**
 * What a run read, looked for and did not find, and searched; relative to `cwd`, as the run named it. Undefined where any of it
 * changed since the run began (in milliseconds): what the run saw may be what is no longer there.
 */
export function traceOf(
  sources: Pick<Sources, 'names' | 'missed' | 'searched'>,
  cwd: string,
  more: readonly string[],
  since: number,
): Trace | undefined {
  const read = sources.names();
  const files = [...new Set([...read, ...sources.missed(), ...more])];
  const folders = sources.searched();
  const isSteady = (path: string): boolean => !isChangedSince(resolve(cwd, path), since);
  if (!read.every((file) => isFile(resolve(cwd, file))) || !files.every(isSteady)) return undefined;
  if (!folders.every((folder) => foldersIn(resolve(cwd, folder)).every(isSteady))) return undefined;
  return {
    files: files.map((file) => [file, hashOfFile(resolve(cwd, file))]),
    folders: folders.map((folder) => [folder, hashOfNames(resolve(cwd, folder))]),
  };
}

/** Times of files may lie behind those of processes, and some disks know whole seconds alone. */
const [FINE, COARSE] = [20, 2_000];

function isChangedSince(path: string, since: number): boolean {
  const at = statSync(path, { throwIfNoEntry: false })?.ctimeMs;
  return at !== undefined && at > since - (at % 1_000 === 0 ? COARSE : FINE);
}

/** A folder with those in it. */
function foldersIn(path: string): readonly string[] {
  if (statSync(path, { throwIfNoEntry: false })?.isDirectory() !== true) return [];
  const inside = readdirSync(path, { recursive: true, withFileTypes: true }).filter((e) => e.isDirectory());
  return [path, ...inside.map((e) => join(e.parentPath, e.name))].filter((n) => !n.includes('node_modules'));
}

function isFile(path: string): boolean {
  return statSync(path, { throwIfNoEntry: false })?.isFile() === true;
}

function sha(data: string | Buffer): string {
  return createHash('sha256').update(data).digest('hex');
}

function hashOfFile(path: string): string {
  return isFile(path) ? sha(readFileSync(path)) : NONE;
}

function hashOfNames(path: string): string {
  if (statSync(path, { throwIfNoEntry: false })?.isDirectory() !== true) return NONE;
  const names = readdirSync(path, { recursive: true, encoding: 'utf8' }).filter((n) => !n.includes('node_modules'));
  return sha(names.sort().join('\n'));
}
