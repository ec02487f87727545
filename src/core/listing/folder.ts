/** Routes that stand as files in folders: the path is where a file lies, the methods are what it exports. */
import { methodsIn } from './methods.ts';
import type { SkippedRow, SourceReading, SourceRow } from './row.ts';

export interface RouteFile {
  /** Below the folder, with slashes: `locks/[lockId]/route.ts`. */
  readonly file: string;
  /** The names that it exports; `default` among them. Undefined where it can't be read as code. */
  readonly exports: readonly string[] | undefined;
}

/** File names that add no segment: the folder is the path. */
const OF_FOLDER = /^(?:index|route|routes|handler|\+server|page)$/u;

/** Names that are given to nothing but the route of a folder. */
const NAMED = /(?:^|\/)(?:route|\+server)\.[cm]?[jt]sx?$/u;

/** Reads a folder. Files that export no method and no default are no routes. O(files). */
export function folderReading(files: readonly RouteFile[]): SourceReading {
  const rows: SourceRow[] = [];
  const skipped: SkippedRow[] = [];
  // Where one name stands for the route of its folder, a page's other files are none.
  const isNamed = files.some(({ file, exports }) => NAMED.test(file) && exports?.some((name) => methodsIn(name) !== undefined));
  for (const { file, exports } of files) {
    const skip = (why: string): void => {
      skipped.push({ line: 1, text: file, why });
    };
    const segments = file.replace(/\.[cm]?[jt]sx?$/u, '').split('/');
    const last = segments.pop() as string;
    // `locks.get.ts` says its method in its name.
    const [, stem = last, suffix] = /^(.*)\.([a-z]+)$/u.exec(last) ?? [];
    const said = suffix === undefined ? undefined : methodsIn(suffix);
    const own = said === undefined ? last : stem;
    if (segments.some((s) => /^[_.@]/u.test(s)) || /^[_.]/u.test(own)) {
      if (exports?.some((name) => methodsIn(name) !== undefined)) skip('a name that starts with _, . or @ is no part of a path');
      continue;
    }
    const path = `/${[...segments, ...(OF_FOLDER.test(own) ? [] : [own])].filter((s) => !/^\([^()]+\)$/u.test(s)).join('/')}`;
    if (exports === undefined) {
      skip('it can not be read as code');
      continue;
    }
    const methods = said ?? exports.filter((name) => /^[A-Z]+$|^[a-z]+$/u.test(name)).flatMap((name) => methodsIn(name) ?? []);
    if (methods.length > 0)
      for (const method of new Set(methods))
        rows.push({ line: 1, file, methods: [method], path, handler: `${file.replace(/\.[cm]?[jt]sx?$/u, '')}#${method}` });
    else if (isNamed && exports.includes('default')) skip('it exports no method, and route files do here');
    else if (exports.includes('default'))
      rows.push({ line: 1, file, methods: ['ANY'], path, handler: `${file.replace(/\.[cm]?[jt]sx?$/u, '')}#default` });
  }
  return { rows, skipped, look: 'a folder of route files' };
}
