/** The files of one run, each read and parsed once. */
import { existsSync } from 'node:fs';
import { resolve } from 'node:path';
import type { Place } from '../core/base/place.ts';
import { boundaryOf, type Reach } from './boundary.ts';
import { readText } from './read.ts';
import { locate, type Position, parseSource, type Source } from './source.ts';

export interface Sources {
  /** A file's source, by its name relative to the working folder. Fails with a problem. */
  readonly load: (file: string) => Source;
  readonly exists: (file: string) => boolean;
  /** The text of a file that need not be YAML or JSON; guarded and read once as the others are. */
  readonly text: (file: string) => string;
  /** Where a file or folder lies; fails for one outside. */
  readonly pathOf: (file: string) => string;
  /** The files that were loaded, as they are named. */
  readonly names: () => readonly string[];
  /** Was it loaded, or added? */
  readonly has: (file: string) => boolean;
  /** A source that is no file of the folder, under a name of its own. */
  readonly add: (file: string, text: string) => Source;
  /** Line and column of many places at once, one pass for each file. */
  readonly positions: (places: Iterable<Place>) => (place: Place) => Position | undefined;
}

/** Files are named relative to `cwd`. */
export function openSources(cwd: string, reach: Reach = {}): Sources {
  const boundary = boundaryOf(cwd, reach);
  const loaded = new Map<string, Source>();
  const load = (file: string): Source => {
    const known = loaded.get(file);
    if (known !== undefined) return known;
    boundary.guard(file);
    const source = parseSource(file, readText(file, resolve(cwd, file)));
    loaded.set(file, source);
    return source;
  };
  const texts = new Map<string, string>();
  const pathOf = (file: string): string => {
    boundary.guard(file);
    return resolve(cwd, file);
  };
  return {
    load,
    pathOf,
    text: (file) => {
      const known = texts.get(file) ?? loaded.get(file)?.text ?? readText(file, pathOf(file));
      texts.set(file, known);
      return known;
    },
    names: () => [...new Set([...loaded.keys(), ...texts.keys()])],
    has: (file) => loaded.has(file),
    add: (file, text) => {
      const source = parseSource(file, text.replace(/^\ufeff/u, ''));
      loaded.set(file, source);
      return source;
    },
    // Of what lies outside nobody is told whether it exists: reading it says why not.
    exists: (file) => !boundary.isInside(file) || existsSync(resolve(cwd, file)),
    positions: (places) => {
      const byFile = new Map<string, Set<string>>();
      for (const { file, pointer, line } of places)
        if (line === undefined) byFile.set(file, (byFile.get(file) ?? new Set()).add(pointer));
      const found = new Map(
        [...byFile].map(([file, pointers]) => [
          file,
          loaded.has(file) ? locate(load(file), pointers) : new Map<string, Position>(),
        ]),
      );
      return ({ file, pointer, line, column = 1 }) => (line === undefined ? found.get(file)?.get(pointer) : { line, column });
    },
  };
}
