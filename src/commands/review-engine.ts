/** What `review` puts together: findings and contracts of two states, held against each other. */

import { routerOf } from '../core/checks/engine/context.ts';
import type { Change } from '../core/compare/changes/change.ts';
import type { Comparison } from '../core/compare/compare-contracts.ts';
import { compareContracts } from '../core/compare/compare-contracts.ts';
import { compareTables } from '../core/compare/compare-tables.ts';
import { weighed } from '../core/compare/levels.ts';
import type { Contract } from '../core/contract/model/contract.ts';
import type { LoadedService } from '../files/load-services.ts';
import type { Workspace } from '../files/workspace.ts';
import { type ComparisonView, clientsOfCallers } from '../views/comparison.ts';
import { type Item, itemsOf, itemsOfChanges } from '../views/items.ts';
import type { Rendered } from '../views/rendered.ts';
import type { ReviewView } from '../views/review.ts';
import type { FindingsOfRun } from './findings.ts';

export { reviewHead, reviewJson, reviewText } from '../views/review.ts';

/** For other programs: new and gone findings, and changes; those that stayed too where the format has a word for it. */
export function reviewItems(
  { added, gone, parts }: ReviewView,
  stayed: readonly Rendered[],
  printOf: (finding: Rendered) => string,
  withStayed: boolean,
): readonly Item[] {
  const as = (state: NonNullable<Item['state']>, list: readonly Rendered[]): readonly Item[] =>
    itemsOf(list, printOf).map((item) => ({ ...item, state }));
  const changes = parts.flatMap(({ title, view }) =>
    itemsOfChanges(view).map((item) => ({ ...item, group: title, state: 'new' as const })),
  );
  return [...as('new', added), ...changes, ...as('absent', gone), ...(withStayed ? as('unchanged', stayed) : [])];
}

/** Findings that are there now and were not, those that are gone, and those that stayed. O(findings). */
export function findingChanges(
  before: FindingsOfRun | undefined,
  now: FindingsOfRun,
): Record<'added' | 'gone' | 'stayed', readonly Rendered[]> {
  const was = new Set(before?.all.map(before.printOf));
  const is = new Set(now.all.map(now.printOf));
  return {
    added: now.split.open.filter((f) => !was.has(now.printOf(f))),
    gone: before?.all.filter((f) => !is.has(before.printOf(f))) ?? [],
    stayed: now.split.open.filter((f) => was.has(now.printOf(f))),
  };
}

export interface ReviewedPart {
  readonly title: string;
  readonly view: ComparisonView;
}

/** What changed of each document and each table that both states have; services are paired by name. */
export function comparisonsOf(before: Workspace, now: Workspace, all: boolean): readonly ReviewedPart[] {
  return pairs(before.services, now.services, (s) => s.name)
    .flatMap(([was, is]) => [...documentParts(was, is, before, now), ...tableParts(was, is, before, now)])
    .map(({ title, view }) => ({ title, view: { ...view, all } }));
}

function documentParts(was: LoadedService, is: LoadedService, before: Workspace, now: Workspace): readonly ReviewedPart[] {
  const versions = (is.versions ?? []).map((v) => v.id);
  const fileOf = (c: Contract): string => c.place.file.split('/').at(-1) as string;
  return pairs(was.contracts, is.contracts, fileOf).map(([a, b]) => {
    const comparison = compareContracts(a, b, { versions, openEnumerations: now.openEnumerations });
    return partOf(`${is.name}: ${b.place.file}`, comparison, before, now, is);
  });
}

function tableParts(was: LoadedService, is: LoadedService, before: Workspace, now: Workspace): readonly ReviewedPart[] {
  const isWritten = ({ table, tableIsDocument }: LoadedService): boolean => table !== undefined && tableIsDocument !== true;
  if (!isWritten(was) || !isWritten(is)) return [];
  const comparison = compareTables(routerOf(was), routerOf(is));
  return [partOf(`${is.name}: ${is.table?.place.file ?? ''}`, comparison, before, now, is)];
}

function partOf(
  title: string,
  found: Comparison,
  before: Workspace,
  now: Workspace,
  { clients = [] }: LoadedService,
): ReviewedPart {
  const comparison = weighed(found, now.levels);
  const { changes: shown } = comparison;
  const places = (of: 'old' | 'new') => shown.flatMap((c) => c[of] ?? []);
  const [old, is] = [before.sources.positions(places('old')), now.sources.positions(places('new'))];
  const olds = new Set(places('old'));
  const locate: ComparisonView['locate'] = (place) => (olds.has(place) ? old(place) : is(place));
  return { title, view: { comparison, names: ['before', 'now'], locate, callers: clients, all: false } };
}

/** Those of one key, then those that are left over, in their order, where as many are left on both sides. */
function pairs<T>(was: readonly T[], is: readonly T[], keyOf: (item: T) => string): readonly (readonly [T, T])[] {
  const byKey = is.flatMap((b) => {
    const a = was.find((w) => keyOf(w) === keyOf(b));
    return a === undefined ? [] : [[a, b] as const];
  });
  const [oldLeft, newLeft] = [
    was.filter((a) => !byKey.some(([x]) => x === a)),
    is.filter((b) => !byKey.some(([, y]) => y === b)),
  ];
  const renamed = oldLeft.length === newLeft.length ? oldLeft.map((a, i) => [a, newLeft[i] as T] as const) : [];
  return [...byKey, ...renamed];
}

/** Breaking changes that count: where the version says major they may be allowed. */
export function breakingOf(parts: readonly ReviewedPart[], isAllowed: boolean): readonly Change[] {
  return parts.flatMap(({ view: { comparison } }) =>
    isAllowed && comparison.claimed === 'major' ? [] : comparison.changes.filter((c) => c.effect === 'breaking'),
  );
}

/** The clients of the settings that a breaking change touches. */
export function brokenClients(parts: readonly ReviewedPart[]): readonly string[] {
  return [
    ...new Set(
      parts.flatMap(({ view }) =>
        view.comparison.changes.filter((c) => c.effect === 'breaking').flatMap((c) => clientsOfCallers(c, view.callers)),
      ),
    ),
  ];
}
