/** Which files a run may read: those of the repository that one stands in, or of the working folder where there is none. */
import { existsSync, realpathSync } from 'node:fs';
import { dirname, isAbsolute, join, relative, resolve, sep } from 'node:path';
import { fail } from './problem.ts';

export interface Reach {
  /** Files that the person who runs it named: they, and what lies beside them, may lie anywhere. */
  readonly named?: readonly (string | undefined)[] | undefined;
  /** Everything may be read (`--allow-outside`). */
  readonly outside?: boolean | undefined;
}

/** Fails with a sentence for a file that lies outside, by its name or by a link. */
export type Guard = (file: string) => void;

/** O(folders above) once, and for each file. */
export function guardOf(cwd: string, { named = [], outside = false }: Reach): Guard {
  if (outside) return () => {};
  const home = rootOf(cwd);
  const roots = [home, ...named.flatMap((file) => rootOfNamed(cwd, home, file))];
  return (file) => {
    const path = resolve(cwd, file);
    // What lies outside by its name is not even looked for.
    const inside = (p: string): boolean => roots.some((root) => isInside(root, p));
    if ((inside(path) || inside(real(path))) && inside(real(path))) return;
    fail(
      file,
      `it lies outside ${existsSync(join(home, '.git')) ? 'the repository' : 'the working folder'}, and is not read; add --allow-outside if it is meant`,
    );
  };
}

/** The repository of a named file, or its folder, where its own name leads outside. */
function rootOfNamed(cwd: string, home: string, file: string | undefined): readonly string[] {
  if (file === undefined || file === '-') return [];
  const path = resolve(cwd, file);
  return isInside(home, path) || !existsSync(path) ? [] : [rootOf(dirname(path))];
}

function rootOf(folder: string): string {
  const start = realpathOf(folder);
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
function real(path: string): string {
  try {
    return realpathSync(path);
  } catch {
    const above = dirname(path);
    return above === path ? path : join(real(above), path.slice(above.length + (above.endsWith(sep) ? 0 : 1)));
  }
}

function realpathOf(path: string): string {
  try {
    return realpathSync(path);
  } catch {
    return path;
  }
}
