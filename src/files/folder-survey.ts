/** What a folder holds that Elm Gate can read, told by what stands in the files and not only by their names. */
import { closeSync, openSync, readSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { globSync } from 'tinyglobby';
import { discover } from './discover.ts';
import { type FromReading, readFrom } from './from.ts';
import { tagsWith } from './git.ts';
import { InputFailure } from './problem.ts';
import type { Sources } from './sources.ts';

export interface FolderSurvey {
  readonly tables: readonly string[];
  readonly documents: readonly string[];
  /** Listings and folders of route files, those with the most routes first. */
  readonly lists: readonly { readonly name: string; readonly reading: FromReading }[];
  /** Older states of a document in git: `v1.2.0:openapi.yaml`, the newest first. */
  readonly older: readonly { readonly document: string; readonly revisions: readonly string[] }[];
}

const IGNORED = ['node_modules', '.git', 'dist', 'build', 'out', 'vendor', 'coverage', 'target', '.next'].map(
  (n) => `**/${n}/**`,
);
const MOST_FILES = 4_000;
const MOST_BYTES = 4 * 1024 * 1024;
const MOST_TAGS = 3;
/** A list of fewer routes is likely to be something else. */
const LEAST_ROUTES = 3;

/** Looks four levels deep, at no more than 4,000 files. */
export function surveyFolder(cwd: string, sources: Sources): FolderSurvey {
  const tables = discover(cwd, sources).flatMap(({ routes }) => routes ?? []);
  const find = (pattern: string): readonly string[] =>
    globSync(pattern, { cwd, ignore: IGNORED, deep: 4, onlyFiles: true, followSymbolicLinks: false }).sort().slice(0, MOST_FILES);
  const documents = find('**/*.{yaml,yml,json}').filter((f) => !tables.includes(f) && isDocument(join(cwd, f)));
  const lists =
    tables.length > 0
      ? []
      : [
          ...find('**/*.{txt,log,lst}').filter((f) => isSmall(join(cwd, f))),
          ...routeFolders(find('**/*.{ts,tsx,js,jsx,mjs,cjs}')),
        ];
  const read = lists.flatMap((name) => {
    const reading = readingOf(name, sources);
    return reading === undefined ? [] : [{ name, reading }];
  });
  const older = documents.flatMap((document) => {
    const revisions = tagsWith(cwd, document, MOST_TAGS).map((tag) => `${tag}:./${document}`);
    return revisions.length === 0 ? [] : [{ document, revisions }];
  });
  return { tables, documents, lists: read.sort((a, b) => b.reading.rows.length - a.reading.rows.length), older };
}

function isSmall(path: string): boolean {
  return (statSync(path, { throwIfNoEntry: false })?.size ?? 0) <= MOST_BYTES;
}

/** `openapi:` or `swagger:` stands at its top. */
function isDocument(path: string): boolean {
  try {
    const file = openSync(path, 'r');
    try {
      const bytes = Buffer.alloc(4096);
      const head = bytes.toString('utf8', 0, readSync(file, bytes, 0, bytes.length, 0));
      return /^(?:\s*\{\s*)?\s{0,4}["']?(?:openapi|swagger)["']?\s*:\s*["']?[23]\./mu.test(head);
    } finally {
      closeSync(file);
    }
  } catch {
    return false;
  }
}

/** Folders by whose name people keep route files: the outermost of each. */
function routeFolders(files: readonly string[]): readonly string[] {
  const found = new Set<string>();
  for (const file of files) {
    const [, folder] = /^((?:[^/]+\/)*?(?:api|routes|pages))\//u.exec(file) ?? [];
    if (folder !== undefined) found.add(folder);
  }
  return [...found];
}

/** What is read as a list of routes; undefined for anything else. */
function readingOf(name: string, sources: Sources): FromReading | undefined {
  try {
    const reading = readFrom({ from: name }, '.', sources);
    const named = reading.rows.filter((r) => r.methods !== undefined && r.methods[0] !== 'ANY').length;
    return named >= LEAST_ROUTES && named * 2 >= reading.rows.length ? reading : undefined;
  } catch (error) {
    if (error instanceof InputFailure) return undefined;
    throw error;
  }
}
