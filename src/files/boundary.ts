/** Which files a run may read: those of the repository that one stands in, or of the working folder where there is none. */
import { existsSync, realpathSync } from 'node:fs';
import { basename, dirname, isAbsolute, join, relative, resolve, sep } from 'node:path';
import { fail } from './problem.ts';

export interface Reach {
  /** Files that the person who runs it named: they, and what lies beside them, may lie anywhere. */
  readonly named?: readonly (string | undefined)[] | undefined;
  /** Everything may be read (`--allow-outside`). */
  readonly outside?: boolean | undefined;
}

export interface Boundary {
  /** Does a file lie inside, links followed to their end? The same for one that does not exist. */
  readonly isInside: (file: string) => boolean;
  /** Fails with a sentence for a file that lies outside. */
  readonly guard: (file: string) => void;
}

/** O(folders above) once, and for each file. */
export function boundaryOf(cwd: string, { named = [], outside = false }: Reach): Boundary {
  if (outside) return { isInside: () => true, guard: () => {} };
  const home = rootOf(cwd);
  const roots = [home, ...named.flatMap((file) => rootOfNamed(cwd, home, file))];
  const holds = (file: string): boolean => {
    const path = realOf(resolve(cwd, file));
    return roots.some((root) => isInside(root, path));
  };
  const place = existsSync(join(home, '.git')) ? 'the repository' : 'the working folder';
  return {
    isInside: holds,
    guard: (file) => {
      if (!holds(file)) fail(file, `it lies outside ${place}, and is not read; add --allow-outside if it is meant`);
    },
  };
}

/** The repository of a named file, or its folder, where its own name leads outside. */
function rootOfNamed(cwd: string, home: string, file: string | undefined): readonly string[] {
  if (file === undefined || file === '-') return [];
  const path = resolve(cwd, file);
  return isInside(home, path) || !existsSync(path) ? [] : [rootOf(dirname(path))];
}

/** The repository that a folder stands in, or the folder where there is none. */
export function rootOf(folder: string): string {
  const start = realOf(resolve(folder));
  for (let at = start; ; at = dirname(at)) {
    if (existsSync(join(at, '.git'))) return at;
    if (dirname(at) === at) return start;
  }
}

function isInside(root: string, path: string): boolean {
  const way = relative(root, path);
  return way === '' || (way !== '..' && !way.startsWith(`..${sep}`) && !isAbsolute(way));
}

/** Where a path leads in the end; of what does not exist, where its folder does. */
function realOf(path: string): string {
  try {
    return realpathSync(path);
  } catch {
    const above = dirname(path);
    return above === path ? path : join(realOf(above), basename(path));
  }
}
