/** The state of a repository at an earlier commit, written aside so that the work tree is never touched. */
import { spawnSync } from 'node:child_process';
import { mkdirSync, mkdtempSync, realpathSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { type CommitFile, commitOf, entriesOfCommit, gitText, prefixOfFolder } from './git.ts';
import { fail } from './problem.ts';
import { MAX_BYTES } from './read.ts';

export interface Base {
  readonly commit: string;
  /** As a person calls it: `main`, and the start of the commit's id. */
  readonly name: string;
}

/** What the main branch may be called, where nobody says. */
const MAIN = ['origin/HEAD', 'main', 'master', 'origin/main', 'origin/master'];

/** The commit to compare with: the one that is named, or where HEAD left the main branch. Fails with a sentence. */
export function baseOf(name: string | undefined): Base {
  if (gitText('rev-parse', '--git-dir') === undefined)
    fail('', 'this folder is in no git repository; review compares with a commit of one');
  if (commitOf('HEAD') === undefined)
    fail('', 'the repository has no commit yet; commit a first state, and review what comes after it');
  const isShallow = gitText('rev-parse', '--is-shallow-repository') === 'true';
  const hint = isShallow ? '; this is a shallow clone, so fetch more of its history (git fetch --unshallow)' : '';
  if (name !== undefined) {
    const commit = commitOf(name);
    return commit === undefined
      ? fail('', `git has no commit ${name}; name a branch, a tag or a commit${hint}`)
      : { commit, name: `${name} (${commit.slice(0, 7)})` };
  }
  const main = MAIN.find((branch) => commitOf(branch) !== undefined);
  if (main === undefined) return fail('', `there is no branch main or master; name the commit to compare with${hint}`);
  const commit = gitText('merge-base', 'HEAD', main);
  if (commit === undefined)
    return fail('', `git knows no common commit of HEAD and ${main}; name the commit to compare with${hint}`);
  return { commit, name: `${main} (${commit.slice(0, 7)})` };
}

/** Are there changes that no commit has? */
export function isDirty(): boolean {
  return (gitText('status', '--porcelain', '--untracked-files=normal') ?? '') !== '';
}

/** More than this is not written aside. */
const MAX_TOTAL = 400_000_000;
/** Packages; a path that leads upwards or into a repository's own folder, which git itself never writes. */
const NEVER = /(?:^|\/)(?:node_modules|\.\.|\.git)\//iu;
/** What tables, documents and settings outside the working folder may be. */
const REFERRED = /\.(?:ya?ml|json|jsonl|ndjson|csv|tsv|txt)$/iu;

/**
 * Writes what a run may read at a commit into a new folder: all regular files below the working folder, and elsewhere those
 * that a table or a document may refer to. Links are left out. Take it away with `dispose`. O(bytes).
 */
export function stateAt(commit: string): { readonly cwd: string; readonly dispose: () => void } {
  const root = realpathSync(mkdtempSync(join(tmpdir(), 'elm-gate-base-')));
  const dispose = (): void => rmSync(root, { recursive: true, force: true });
  try {
    const here = prefixOfFolder();
    const listed =
      entriesOfCommit(commit, '') ?? fail('', 'git could not list the earlier state; check the repository with git fsck');
    const entries = listed.filter(
      ({ path, size }) => size <= MAX_BYTES && !NEVER.test(path) && (path.startsWith(here) || REFERRED.test(path)),
    );
    if (entries.reduce((sum, e) => sum + e.size, 0) > MAX_TOTAL)
      fail('', 'the earlier state is too large to be read; run review in the folder of the service');
    // Marks how far the repository reaches.
    mkdirSync(join(root, '.git'));
    const cwd = join(root, here);
    mkdirSync(cwd, { recursive: true });
    for (const [path, bytes] of blobs(entries)) {
      mkdirSync(dirname(join(root, path)), { recursive: true });
      writeFileSync(join(root, path), bytes);
    }
    return { cwd, dispose };
  } catch (error) {
    dispose();
    throw error;
  }
}

/** The bytes of each, read by one git. */
function* blobs(entries: readonly CommitFile[]): Generator<readonly [path: string, bytes: Buffer]> {
  const input = `${entries.map((e) => e.id).join('\n')}\n`;
  const { stdout, status } = spawnSync('git', ['cat-file', '--batch'], { input, timeout: 120_000, maxBuffer: MAX_TOTAL * 2 });
  if (status !== 0) fail('', 'git could not read the earlier state; check the repository with git fsck');
  let at = 0;
  for (const { path, size } of entries) {
    const start = stdout.indexOf(10, at) + 1;
    yield [path, stdout.subarray(start, start + size)];
    at = start + size + 1;
  }
}
