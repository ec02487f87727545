/** Files of a revision, through git itself: names are checked, and objects asked for by their ids alone. */
import { type SpawnSyncReturns, spawnSync } from 'node:child_process';
import { posix } from 'node:path';
import { grant } from '../core/language/limits.ts';
import { fail } from './problem.ts';
import { MAX_BYTES, megabytes, textOf } from './read.ts';

/** In milliseconds; git answers such questions in a few. */
const PATIENCE = 20_000;

function git(...args: readonly string[]): SpawnSyncReturns<Buffer> {
  return spawnSync('git', args, {
    maxBuffer: MAX_BYTES + 1,
    timeout: PATIENCE,
    stdio: ['ignore', 'pipe', 'pipe'],
    // A path is a path, whatever signs stand in it.
    env: { ...process.env, GIT_LITERAL_PATHSPECS: '1' },
  });
}

/** The id of one object; undefined where git knows none of that name. */
function idOf(name: string): string | undefined {
  const { status, stdout, error } = git('rev-parse', '--verify', '--quiet', '--end-of-options', name);
  if (error !== undefined)
    return fail(name, 'git could not be run to read that revision; is it installed, and is this its folder?');
  const id = stdout.toString('latin1').trim();
  return status === 0 && /^[0-9a-f]{40,64}$/u.test(id) ? id : undefined;
}

/** The commit that a revision names: one, and no range. */
export function commitOf(revision: string): string | undefined {
  return idOf(`${revision}^{commit}`);
}

/**
 * The text of a file of a commit, its path as git reads it: from the root of the repository, or with ./ from here. Fails with
 * a sentence on folders, links, submodules, what is not there, not UTF-8 or too large.
 */
export function blobText(name: string, commit: string, path: string): string {
  const id = idOf(`${commit}:${path}`);
  if (id === undefined)
    return fail(
      name,
      'git does not have it; check the path, which is read from the root of the repository unless it starts with ./',
    );
  const { mode, type } = entryOf(commit, path, id);
  if (type === 'tree') return fail(name, 'this is a folder of that revision, and a file was expected; name the file in it');
  if (mode === '120000')
    return fail(name, 'this is a link of that revision, and links are not followed there; name the file itself');
  if (type !== 'blob') return fail(name, 'this is no file of that revision; name a file');
  const size = Number(git('cat-file', '-s', id).stdout.toString('latin1'));
  if (size > MAX_BYTES)
    return fail(name, `the file has ${megabytes(size)}, and ${megabytes(MAX_BYTES)} is the most that is read; split it up`);
  const { status, stdout } = git('cat-file', 'blob', id);
  if (status !== 0) return fail(name, 'git could not read it; try again, or check the repository with git fsck');
  grant(stdout.length);
  return textOf(name, stdout);
}

/** What kind of entry a path is; an object by its id says nothing of links. */
function entryOf(commit: string, path: string, id: string): { readonly mode: string; readonly type: string } {
  const here = path.startsWith('.') ? git('rev-parse', '--show-prefix').stdout.toString('utf8').trim() : '';
  const full = posix.normalize(`${here}${path}`);
  const listed = git('ls-tree', '-z', '--full-tree', commit, '--', full).stdout.toString('utf8');
  const [, mode = '', type = ''] = /^(\d{6}) (\w+) /u.exec(listed) ?? [];
  return type === '' ? { mode, type: git('cat-file', '-t', id).stdout.toString('latin1').trim() } : { mode, type };
}

/** The path of the working folder from the root of the repository, with a slash at its end; empty at the root. */
export function prefixOfFolder(): string {
  const { status, stdout } = git('rev-parse', '--show-prefix');
  return status === 0 ? stdout.toString('utf8').trim() : '';
}

/** A regular file of a commit. */
export interface CommitFile {
  readonly id: string;
  /** In bytes. */
  readonly size: number;
  /** From the root of the repository. */
  readonly path: string;
}

/** All regular files of a commit below a folder; the empty folder is the root. Undefined where git cannot list them. */
export function entriesOfCommit(commit: string, folder: string): readonly CommitFile[] | undefined {
  const below = folder === '' ? [] : [`${folder}/`];
  const { status, stdout } = git('ls-tree', '-r', '-l', '-z', '--full-tree', commit, '--', ...below);
  if (status !== 0) return undefined;
  return stdout
    .toString('utf8')
    .split('\0')
    .flatMap((entry) => {
      const [, id, size, path] = /^100\d{3} blob ([0-9a-f]+) +(\d+)\t(.+)$/su.exec(entry) ?? [];
      return id === undefined || path === undefined ? [] : [{ id, size: Number(size), path }];
    });
}

/** Their paths alone. */
export function filesOfCommit(commit: string, folder: string): readonly string[] {
  return entriesOfCommit(commit, folder)?.map((e) => e.path) ?? [];
}

/** What git prints, without the white space around it; undefined where it fails. Fails with a sentence where there is no git. */
export function gitText(...args: readonly string[]): string | undefined {
  const { status, stdout, error } = git(...args);
  if ((error as NodeJS.ErrnoException | undefined)?.code === 'ENOENT') fail('', 'git could not be run; is it installed?');
  return status === 0 ? stdout.toString('utf8').trim() : undefined;
}

/** Does a commit have a file at this path, from the root of the repository? */
export function isInCommit(commit: string, path: string): boolean {
  return idOf(`${commit}:${path}`) !== undefined;
}

/** Tags of the repository at whose commit a file stands, the newest first; none where there is no repository. */
export function tagsWith(cwd: string, file: string, most: number): readonly string[] {
  const { status, stdout } = spawnSync('git', ['tag', '--list', '--sort=-creatordate'], {
    cwd,
    encoding: 'utf8',
    timeout: 10_000,
  });
  if (status !== 0) return [];
  const found: string[] = [];
  for (const tag of stdout.split('\n').slice(0, 50)) {
    if (found.length >= most) break;
    if (/^[\w][\w./-]*$/u.test(tag) && idOf(`${tag}:./${file}`) !== undefined) found.push(tag);
  }
  return found;
}
