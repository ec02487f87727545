/** The settings of a run: one file, and those that it extends. */
import { dirname, join } from 'node:path';
import { appendPointer, type Place } from '../core/base/place.ts';
import { type Settings, settings as settingsFormat } from './formats/settings.ts';
import { fail, InputFailure } from './problem.ts';
import type { Source } from './source.ts';
import type { Sources } from './sources.ts';
import { validate } from './validate.ts';

export interface LoadedSettings {
  /** What the file says, and below that what those say that it extends. */
  readonly value: Settings;
  /** What the file itself says. */
  readonly own: Settings;
  readonly source: Source;
  /** Those that are extended, each as it stands in its file. */
  readonly extended: readonly { readonly value: Settings; readonly source: Source }[];
  /** Where each value comes from: by key, or by key and rule. */
  readonly origins: ReadonlyMap<string, Place>;
}

/** What teams share; everything else belongs to one folder. */
export const SHARED = ['levels', 'levelsBelow', 'methods', 'openEnumerations', 'failOn'] as const;
/** Of these each entry counts by itself. */
const BY_ENTRY: ReadonlySet<string> = new Set(['levels', 'levelsBelow']);
const MAX_DEPTH = 20;

/** Loads a settings file. Fails with all problems of the first file that has any, and where files extend one another in a circle. */
export function loadSettings(file: string, sources: Sources): LoadedSettings {
  const chain = chainOf(file, sources, []);
  const [last] = chain.slice(-1) as [{ readonly value: Settings; readonly source: Source }];
  const { extends: _, ...own } = last.value;
  const value: Record<string, unknown> = {};
  const origins = new Map<string, Place>();
  for (const { value: part, source } of chain) {
    const isOwn = source === last.source;
    for (const [key, given] of Object.entries(part)) {
      if (key === 'extends' || (!isOwn && !(SHARED as readonly string[]).includes(key))) continue;
      const isEntries = BY_ENTRY.has(key);
      value[key] = isEntries ? { ...(value[key] as object | undefined), ...(given as object) } : given;
      const paths = isEntries ? Object.keys(given as object).map((k) => [key, k]) : [[key]];
      for (const path of paths) origins.set(path.join(' '), { file: source.file, pointer: appendPointer('', ...path) });
    }
  }
  const sorted = new Map([...origins].sort(([a], [b]) => order(a) - order(b)));
  return { value: value as Settings, own: own as Settings, source: last.source, extended: chain.slice(0, -1), origins: sorted };
}

/** The files that it extends, theirs before it; a file that comes by two ways counts where it comes last. */
function chainOf(
  file: string,
  sources: Sources,
  above: readonly string[],
): readonly { readonly value: Settings; readonly source: Source }[] {
  if (above.includes(file))
    fail(file, `these settings extend themselves: ${[...above.slice(above.indexOf(file)), file].join(' -> ')}`);
  if (above.length > MAX_DEPTH) fail(file, 'these settings extend others too many times over');
  const source = sources.load(file);
  const value = validate(source, settingsFormat) as Settings;
  const named = typeof value.extends === 'string' ? [value.extends] : (value.extends ?? []);
  const before = named.flatMap((name, i) => {
    const other = join(dirname(file), name);
    if (sources.exists(other)) return chainOf(other, sources, [...above, file]);
    const pointer = typeof value.extends === 'string' ? '/extends' : `/extends/${i}`;
    const at = sources.positions([{ file, pointer }])({ file, pointer });
    throw new InputFailure([{ file, ...at, message: `there is no file ${JSON.stringify(name)}; name one as seen from ${file}` }]);
  });
  return [...before, { value, source }];
}

/** Keys in the order of the format; entries of one key stay as they are. */
function order(key: string): number {
  return Object.keys(settingsFormat.shape).indexOf(key.split(' ')[0] as string);
}
