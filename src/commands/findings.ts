/** What `check` and `acknowledge` have in common: all findings of a run, the known ones, and those that were asked for. */
import * as Flags from '@oclif/core/flags';
import type * as Interfaces from '@oclif/core/interfaces';
import { type Finding, LEVELS } from '../core/checks/engine/finding.ts';
import type { Known, Split } from '../files/known.ts';
import type { Workspace } from '../files/workspace.ts';
import type { Rendered } from '../views/rendered.ts';
import { hasPath, type Selection } from '../views/select.ts';
import { count } from '../views/terminal.ts';
import { locator } from './base.ts';

export const selectionFlags = {
  rule: Flags.string({
    summary: 'Only findings of this rule, or of a group of rules such as paths',
    helpValue: 'RULE',
    multiple: true,
    multipleNonGreedy: true,
  }),
  path: Flags.string({ summary: 'Only findings on this path and below it', helpValue: 'PATH' }),
  service: Flags.string({ summary: 'Only findings of this service', helpValue: 'NAME' }),
  at: Flags.string({ summary: 'Only findings at this file, or at FILE:LINE', helpValue: 'FILE' }),
};

export type SelectionFlags = Interfaces.InferredFlags<typeof selectionFlags>;

export function selectionOf({ rule = [], path, service, at }: SelectionFlags): Selection {
  return { rules: rule, path, service, at };
}

export function isSelective({ rule = [], path, service, at }: SelectionFlags): boolean {
  return rule.length > 0 || [path, service, at].some((s) => s !== undefined);
}

export interface FindingsOfRun {
  readonly all: readonly Rendered[];
  readonly printOf: (finding: Rendered) => string;
  readonly known: Known;
  readonly split: Split<Rendered>;
}

/** Every finding, the most serious first, and which of them are known. */
export async function findingsOf(workspace: Workspace, today: string): Promise<FindingsOfRun> {
  const { check, fingerprints, placesOf, readKnown, render, withoutKnown } = await import('./engine.ts');
  const found = workspace.services.flatMap((s) => check(s, workspace.levels)).flatMap((f) => leveled(f, workspace.levelsBelow));
  const sorted = LEVELS.flatMap((level) => found.filter((f) => f.level === level));
  const all = render(sorted, locator(workspace, placesOf(sorted)));
  const prints = fingerprints(all);
  // By what it stands for: a finding that is weighed is told by another object.
  const byFinding = new Map(all.map((f, i) => [f.at, prints[i] as string]));
  const known = readKnown(workspace.sources, workspace.settings?.source.file);
  return { all, printOf: (f) => byFinding.get(f.at) as string, known, split: withoutKnown(all, prints, known, today) };
}

/** A finding at the level that its rule has on its path; the longest path that holds it counts. */
function leveled(finding: Finding, below: Workspace['levelsBelow']): readonly Finding[] {
  const [own] = Object.entries(below)
    .filter(([path, levels]) => finding.rule in levels && hasPath(finding.at.what, path))
    .sort(([a], [b]) => b.length - a.length);
  const level = own?.[1][finding.rule];
  return level === 'off' ? [] : [level === undefined ? finding : { ...finding, level }];
}

/** What is said of known findings, each a sentence. */
export function knownNotes({ known, split }: FindingsOfRun): readonly string[] {
  const named = (list: readonly { readonly rule: string; readonly at: string }[]): string =>
    `${list
      .slice(0, 3)
      .map((e) => `${e.rule} of ${e.at}`)
      .join(', ')}${list.length > 3 ? ` and ${list.length - 3} more` : ''}`;
  const { expired, idle } = split;
  return [
    ...(split.known.length === 0 ? [] : [`${count(split.known.length, 'known finding')} left out (${known.file}).`]),
    ...(expired.length === 0
      ? []
      : [
          `${count(expired.length, 'known finding')} past ${expired.length === 1 ? 'its' : 'their'} date, and told again: ${named(expired)}.`,
        ]),
    ...(idle.length === 0
      ? []
      : [`${count(idle.length, 'known finding')} no longer there: ${named(idle)}; elm-gate acknowledge --prune takes them out.`]),
  ];
}
