/** The files of one run, each read and parsed once. */
import { existsSync, statSync } from 'node:fs';
import { dirname, join, resolve } from 'node:path';
import picomatch from 'picomatch';
import { globSync } from 'tinyglobby';
import { type Place, pointerKeys } from '../core/base/place.ts';
import { boundaryOf, type Reach } from './boundary.ts';
import { blobText, filesOfCommit, isInCommit } from './git.ts';
import { fail } from './problem.ts';
import { readText } from './read.ts';
import { locate, type Position, parseSource, type Source } from './source.ts';

export interface Sources {
  /** A file's source, by its name relative to the working folder. Fails with a problem. */
  readonly load: (file: string) => Source;
  readonly exists: (file: string) => boolean;
  /** The text of a file that need not be YAML or JSON; guarded and read once as the others are. */
  readonly text: (file: string) => string;
  /** The files below a folder, each from it; undefined where the name is no folder. */
  readonly filesIn: (folder: string) => readonly string[] | undefined;
  /** The files that fit a glob, named as `load` takes them. */
  readonly fitting: (glob: string) => readonly string[];
  /** From here on names that start with `prefix` (`HEAD:`) are files of a commit, by their path from the repository's root. */
  readonly addRevision: (prefix: string, commit: string) => void;
  /** The files that were loaded, as they are named. */
  readonly names: () => readonly string[];
  /** The folders that were searched for files, each as it is named, with the fixed part of a glob for the glob. */
  readonly searched: () => readonly string[];
  /** Files that were looked for and are not there. */
  readonly missed: () => readonly string[];
  /** Was it loaded, or added? */
  readonly has: (file: string) => boolean;
  /** A source that is no file of the folder, under a name of its own. */
  readonly add: (file: string, text: string) => Source;
  /** Line and column of many places at once, one pass for each file. */
  readonly positions: (places: Iterable<Place>) => (place: Place) => Position | undefined;
}

/** Files are named relative to `cwd`. */
export function openSources(cwd: string, reach: Reach = {}, kept?: Map<string, Source>): Sources {
  const files = newFiles(cwd, reach);
  const loaded = new Map<string, Source>();
  const texts = new Map<string, string>();
  const looking = remembering(files);
  const add = (file: string, text: string): Source => {
    const before = kept?.get(file);
    const source = before?.text === text ? before : parseSource(file, text);
    loaded.set(file, source);
    kept?.set(file, source);
    return source;
  };
  const load = (file: string): Source => {
    const known = loaded.get(file);
    if (known !== undefined) return known;
    // Where reading fails it is asked for in vain.
    looking.missed.add(file);
    const source = add(file, files.read(file));
    looking.missed.delete(file);
    return source;
  };
  return {
    ...files,
    load,
    text: (file) => {
      const known = texts.get(file) ?? loaded.get(file)?.text ?? files.read(file);
      texts.set(file, known);
      return known;
    },
    ...looking,
    missed: () => [...looking.missed],
    searched: () => [...looking.searched],
    names: () => [...new Set([...loaded.keys(), ...texts.keys()])],
    has: (file) => loaded.has(file),
    add: (file, text) => add(file, text.replace(/^\ufeff/u, '')),
    positions: (places) => positionsIn(loaded, places),
  };
}

interface Looking extends Pick<Sources, 'filesIn' | 'fitting' | 'exists'> {
  readonly searched: Set<string>;
  readonly missed: Set<string>;
}

/** The files of a folder, with a memory of where was searched and what was missed. */
function remembering(files: Pick<Sources, 'filesIn' | 'fitting' | 'exists'>): Looking {
  const searched = new Set<string>();
  const missed = new Set<string>();
  return {
    searched,
    missed,
    filesIn: (folder) => {
      const found = files.filesIn(folder);
      if (found !== undefined) searched.add(folder);
      return found;
    },
    fitting: (glob) => {
      searched.add(fixedPart(glob));
      return files.fitting(glob);
    },
    exists: (file) => {
      const isThere = files.exists(file);
      if (!isThere) missed.add(file);
      return isThere;
    },
  };
}

/** What stands at a place of a file that was loaded; undefined where nothing does. */
export function valueAt(sources: Sources, { file, pointer }: Place): unknown {
  if (!sources.has(file)) return undefined;
  return pointerKeys(pointer).reduce<unknown>(
    (value, key) =>
      typeof value === 'object' && value !== null && Object.hasOwn(value, key)
        ? (value as Readonly<Record<string, unknown>>)[key]
        : undefined,
    sources.load(file).value,
  );
}

function positionsIn(loaded: ReadonlyMap<string, Source>, places: Iterable<Place>): (place: Place) => Position | undefined {
  const byFile = new Map<string, Set<string>>();
  for (const { file, pointer, line } of places)
    if (line === undefined) byFile.set(file, (byFile.get(file) ?? new Set()).add(pointer));
  const found = new Map(
    [...byFile].map(([file, pointers]) => {
      const source = loaded.get(file);
      return [file, source === undefined ? new Map<string, Position>() : locate(source, pointers)];
    }),
  );
  return ({ file, pointer, line, column = 1 }) => (line === undefined ? found.get(file)?.get(pointer) : { line, column });
}

/** The folder before the first sign of a glob. */
function fixedPart(glob: string): string {
  return glob.replace(/[^/]*[*?{[(!].*$/u, '') || '.';
}

/** What of a folder is never looked at for a pattern. */
const GLOB = { onlyFiles: true, dot: false, followSymbolicLinks: false, ignore: ['**/node_modules/**'] };

/** The files of the folder and of commits, within what may be read. */
function newFiles(
  cwd: string,
  reach: Reach,
): Pick<Sources, 'exists' | 'filesIn' | 'fitting' | 'addRevision'> & { readonly read: (file: string) => string } {
  const boundary = boundaryOf(cwd, reach);
  const revisions = new Map<string, string>();
  /** The commit and path of a name that stands for a file of a revision. */
  const inRevision = (file: string): { readonly commit: string; readonly path: string; readonly prefix: string } | undefined => {
    const [, prefix = '', path = ''] = /^([^:/]+:)(.*)$/su.exec(file) ?? [];
    const commit = revisions.get(prefix);
    return commit === undefined ? undefined : { commit, path, prefix };
  };
  const pathOf = (file: string): string => {
    boundary.guard(file);
    return resolve(cwd, file);
  };
  return {
    read: (file) => {
      const at = inRevision(file);
      return at === undefined ? readText(file, pathOf(file)) : blobText(file, at.commit, at.path);
    },
    filesIn: (folder) => {
      const at = inRevision(folder);
      if (at !== undefined) {
        const files = isInCommit(at.commit, at.path) ? filesOfCommit(at.commit, at.path) : [];
        return files.length === 0 || files.includes(at.path) ? undefined : files.map((f) => f.slice(at.path.length + 1));
      }
      const path = pathOf(folder);
      if (statSync(path, { throwIfNoEntry: false })?.isDirectory() !== true) return undefined;
      return globSync('**/*', { ...GLOB, cwd: path }).sort();
    },
    fitting: (glob) => {
      const at = inRevision(glob);
      if (at !== undefined) {
        const fits = picomatch(at.path);
        return filesOfCommit(at.commit, '').flatMap((f) => (fits(f) ? [at.prefix + f] : []));
      }
      // Nothing outside is even listed.
      const folder = fixedPart(glob);
      boundary.guard(folder);
      if (glob.slice(folder === '.' ? 0 : folder.length).includes('..'))
        fail(glob, 'behind its first sign a glob does not go up; name the folder before it');
      return globSync(glob, { ...GLOB, cwd }).sort();
    },
    addRevision: (prefix, commit) => {
      revisions.set(prefix, commit);
    },
    // Of what lies outside nobody is told whether it exists: reading it says why not.
    exists: (file) => {
      const at = inRevision(file);
      if (at !== undefined) return isInCommit(at.commit, at.path);
      return !boundary.isInside(file) || existsSync(resolve(cwd, file));
    },
  };
}

/** A file that another one names relative to itself, of the same revision where that one is of one. */
export function besideName(file: string, name: string): string {
  const [, revision = '', path = file] = /^([^:/]+:)(.+)$/su.exec(file) ?? [];
  return revision + join(dirname(path), name);
}
