/** One side of a comparison: a file, a file of a revision, or standard input. */
import { spawnSync } from 'node:child_process';
import { readFileSync } from 'node:fs';
import type { LoadFile } from '../core/contract/reader.ts';
import { grant } from '../core/language/limits.ts';
import { besideOf } from './beside.ts';
import { fail } from './problem.ts';
import { MAX_BYTES, megabytes } from './read.ts';
import type { Source } from './source.ts';
import type { Sources } from './sources.ts';

export interface Side {
  /** As findings name it. */
  readonly file: string;
  readonly source: Source;
  /** Files that it refers to, of the same revision. */
  readonly beside: LoadFile;
}

/**
 * Opens a side. What resolves in git is git's, so that a file of that name can't stand in for it; a file with a colon in
 * its name is written with ./ before it. Fails with a sentence.
 */
export function openSide(name: string, sources: Sources): Side {
  if (name === '-') return { ...added(sources, 'standard input', readFileSync(0, 'utf8')), beside: besideOf(sources) };
  const [, revision, path] = /^(?!\.{0,2}\/)([^:]+):(.+)$/su.exec(name) ?? [];
  if (revision === undefined || path === undefined) return { file: name, source: sources.load(name), beside: besideOf(sources) };
  const isRevision = resolves(revision);
  if (sources.exists(name))
    fail(
      name,
      isRevision
        ? `this is both a file and ${path} of the revision ${revision}; write ./${name} for the file`
        : `a file with a colon in its name is written ./${name}, because REVISION:path is a file of a revision`,
    );
  return {
    ...added(sources, name, shown(revision, path)),
    beside: besideOf(sources, (file) => {
      const bare = file.startsWith(`${revision}:`) ? file.slice(revision.length + 1) : file;
      if (!sources.has(file)) sources.add(file, shown(revision, bare));
      return file;
    }),
  };
}

function resolves(revision: string): boolean {
  const { status } = spawnSync('git', ['rev-parse', '--verify', '--quiet', '--end-of-options', `${revision}^{commit}`]);
  return status === 0;
}

function added(sources: Sources, file: string, text: string): Pick<Side, 'file' | 'source'> {
  return { file, source: sources.add(file, text) };
}

/** A file of a revision, through git itself and as git reads it: from the root of the repository, or with ./ from here. */
function shown(revision: string, path: string): string {
  const name = `${revision}:${path}`;
  const { stdout, stderr, status, error } = spawnSync('git', ['show', '--end-of-options', name], {
    encoding: 'utf8',
    maxBuffer: MAX_BYTES,
  });
  if ((error as NodeJS.ErrnoException | undefined)?.code === 'ENOBUFS')
    return fail(name, `the file has more than ${megabytes(MAX_BYTES)}, which is the most that is read; split it up`);
  if (error !== undefined)
    return fail(name, 'git could not be run to read that revision; is it installed, and is this its folder?');
  if (status !== 0)
    return fail(
      name,
      `git does not have it (${stderr
        .trim()
        .split('\n')[0]
        ?.replace(
          /^fatal: /u,
          '',
        )}); check the revision, and the path, which is read from the root of the repository unless it starts with ./`,
    );
  grant(stdout.length);
  return stdout;
}
