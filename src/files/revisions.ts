/** One side of a comparison: a file, a file of a revision, or standard input. */
import { readFileSync } from 'node:fs';
import { posix } from 'node:path';
import type { LoadFile } from '../core/contract/document/document.ts';
import { besideOf } from './beside.ts';
import { blobText, commitOf, prefixOfFolder } from './git.ts';
import { fail } from './problem.ts';
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
  const commit = commitOf(revision);
  if (sources.exists(name))
    fail(
      name,
      commit !== undefined
        ? `this is both a file and ${path} of the revision ${revision}; write ./${name} for the file`
        : `a file with a colon in its name is written ./${name}, because REVISION:path is a file of a revision`,
    );
  if (commit === undefined) fail(name, `git knows no commit ${revision}; check the name, one commit and no range is expected`);
  // All that it refers to is of the same commit, whatever the name comes to mean.
  sources.addRevision(`${revision}:`, commit);
  const missing = new Map<string, unknown>();
  const own = path.startsWith('./') ? posix.join(prefixOfFolder(), path) : path;
  return {
    ...added(sources, `${revision}:${own}`, blobText(name, commit, own)),
    beside: besideOf(sources, (file) => {
      if (missing.has(file)) throw missing.get(file);
      const bare = file.startsWith(`${revision}:`) ? file.slice(revision.length + 1) : file;
      try {
        if (!sources.has(file)) sources.add(file, blobText(`${revision}:${bare}`, commit, bare));
      } catch (error) {
        missing.set(file, error);
        throw error;
      }
      return file;
    }),
  };
}

function added(sources: Sources, file: string, text: string): Pick<Side, 'file' | 'source'> {
  return { file, source: sources.add(file, text) };
}
