/** What `review` puts together: findings and contracts of two states, held against each other. */

import type { Place } from '../core/base/place.ts';
import { routerOf } from '../core/checks/engine/context.ts';
import { isAtLeast, type Level } from '../core/checks/engine/finding.ts';
import type { Change } from '../core/compare/changes/change.ts';
import type { Comparison } from '../core/compare/compare-contracts.ts';
import { compareContracts } from '../core/compare/compare-contracts.ts';
import { compareTables } from '../core/compare/compare-tables.ts';
import { weighed } from '../core/compare/levels.ts';
import { choosesOtherwise } from '../core/compare/table/through-gateway.ts';
import type { Contract } from '../core/contract/model/contract.ts';
import { type Base, isDirty } from '../files/base-state.ts';
import type { LoadedService } from '../files/load-services.ts';
import { valueAt } from '../files/sources.ts';
import type { Workspace } from '../files/workspace.ts';
import { type ComparisonView, clientsOfCallers } from '../views/comparison.ts';
import { type Item, itemsOf, itemsOfChanges } from '../views/items.ts';
import type { Rendered } from '../views/rendered.ts';
import type { ReviewView } from '../views/review.ts';
import { count } from '../views/terminal.ts';
import type { FindingsOfRun } from './findings.ts';
import type { TrafficFlags } from './log-flags.ts';
import { type Gateways, gatewaysOf } from './review-gateway.ts';
import { changeWeights, findingWeights, readWeights, type Sides, weighedChanges, weighedFindings } from './weighing.ts';

export { baseOf, stateAt } from '../files/base-state.ts';
export { reviewHead, reviewJson, reviewText } from '../views/review.ts';

/** Findings of two states. */
export interface FindingChanges {
  readonly added: readonly Rendered[];
  readonly gone: readonly Rendered[];
  readonly stayed: readonly Rendered[];
  /** The fingerprint of any of them. */
  readonly printOf: (finding: Rendered) => string;
}

/** Findings that are there now and were not, those that are gone, and those that stayed. O(findings). */
export function findingChanges(before: FindingsOfRun | undefined, now: FindingsOfRun): FindingChanges {
  const was = new Map(before?.all.map((f) => [before.printOf(f), f]));
  const is = new Map(now.all.map((f) => [now.printOf(f), f]));
  const prints = new Map([...was, ...is].map(([print, f]) => [f.at, print]));
  return {
    added: now.split.open.filter((f) => !was.has(now.printOf(f))),
    gone: [...was].flatMap(([print, f]) => (is.has(print) ? [] : [f])),
    stayed: now.split.open.filter((f) => was.has(now.printOf(f))),
    printOf: (f) => prints.get(f.at) as string,
  };
}

/** Puts the review together, and what makes it fail. */
export function reviewOf(
  base: Base,
  { added, gone, stayed }: FindingChanges,
  parts: readonly ReviewedPart[],
  {
    failOn,
    isBreakingAllowed,
    notes,
  }: { readonly failOn: Level; readonly isBreakingAllowed: boolean; readonly notes: readonly string[] },
): ReviewView {
  const failing = added.filter((f) => isAtLeast(f.level, failOn)).length;
  const counted = parts.map((p) => ({ ...p, isCounted: !(isBreakingAllowed && p.view.comparison.claimed === 'major') }));
  const breaking = (of: readonly ReviewedPart[]): readonly Change[] =>
    of.flatMap((p) => p.view.comparison.changes.filter((c) => c.effect === 'breaking'));
  const failed = breaking(counted.filter((p) => p.isCounted)).length;
  return {
    title: `${base.name} -> the work tree${isDirty() ? ', with what is not committed' : ''}`,
    added,
    gone,
    stayed: stayed.length,
    parts: counted,
    clients: [...new Set(parts.flatMap((p) => breaking([p]).flatMap((c) => clientsOfCallers(c, p.view.callers))))],
    notes,
    fails: [
      ...(failing === 0 ? [] : [count(failing, 'new finding')]),
      ...(failed === 0 ? [] : [count(failed, 'breaking change')]),
    ],
  };
}

/** For other programs: new and gone findings, and changes; those that stayed too where the format has a word for it. */
export function reviewItems(
  { parts }: ReviewView,
  { added, gone, stayed, printOf }: FindingChanges,
  withStayed: boolean,
): readonly Item[] {
  const as = (state: NonNullable<Item['state']>, list: readonly Rendered[]): readonly Item[] =>
    itemsOf(list, printOf).map((item) => ({ ...item, state }));
  // Of changes the breaking ones alone fail, and they only where they count.
  const changes = parts.flatMap(({ title, view, isCounted }) =>
    itemsOfChanges(view).map(
      (item): Item => ({ ...item, group: title, state: 'new', passes: !isCounted || item.level !== 'error' }),
    ),
  );
  return [...as('new', added), ...changes, ...as('absent', gone), ...(withStayed ? as('unchanged', stayed) : [])];
}

export interface ReviewedPart {
  readonly title: string;
  readonly view: ComparisonView;
  readonly sides: Sides;
}

/** New findings and the changes of each part, weighed by recorded requests, which are read once. */
export async function weighedReview(
  added: readonly Rendered[],
  parts: readonly ReviewedPart[],
  services: readonly LoadedService[],
  flags: TrafficFlags,
): Promise<{ readonly added: readonly Rendered[]; readonly parts: readonly ReviewedPart[] }> {
  if (flags.traffic === undefined) return { added, parts };
  const ofFindings = findingWeights(added, services);
  const ofParts = parts.map((part) => ({ part, weights: changeWeights(part.view.comparison.changes, part.sides) }));
  await readWeights([...(ofFindings === undefined ? [] : [ofFindings]), ...ofParts.map((p) => p.weights)], flags);
  return {
    added: weighedFindings(added, ofFindings),
    parts: ofParts.map(({ part, weights }) => {
      const { comparison } = part.view;
      const changes = weighedChanges(comparison.changes, weights);
      return { ...part, view: { ...part.view, comparison: { ...comparison, changes } } };
    }),
  };
}

/** What changed of each document and each table that both states have; services are paired by name. */
export function comparisonsOf(before: Workspace, now: Workspace, all: boolean): readonly ReviewedPart[] {
  const paired = pairs(before.services, now.services, (s) => s.name);
  const gateways = gatewaysOf(before, now, paired);
  return [
    ...paired.flatMap(([was, is]) => [...documentParts(was, is, before, now), ...tableParts(was, is, before, now, gateways)]),
    ...(gateways === undefined ? [] : comeAndGone(before, now, gateways)),
  ].map((part) => ({ ...part, view: { ...part.view, all } }));
}

function documentParts(was: LoadedService, is: LoadedService, before: Workspace, now: Workspace): readonly ReviewedPart[] {
  const versions = (is.versions ?? []).map((v) => v.id);
  const fileOf = (c: Contract): string => c.place.file.split('/').at(-1) as string;
  return pairs(was.contracts, is.contracts, fileOf).map(([a, b]) => {
    const comparison = compareContracts(a, b, { versions, openEnumerations: now.openEnumerations });
    return {
      ...partOf(`${is.name}: ${b.place.file}`, comparison, before, now, is),
      sides: { contracts: [a, b] as const, services: before.services, versions },
    };
  });
}

function tableParts(
  was: LoadedService,
  is: LoadedService,
  before: Workspace,
  now: Workspace,
  gateways: Gateways | undefined,
): readonly ReviewedPart[] {
  const through = gateways?.of(is);
  const isWritten = ({ table, tableIsDocument }: LoadedService): boolean => table !== undefined && tableIsDocument !== true;
  const isRouted = was.table !== undefined && is.table !== undefined && through !== undefined && choosesOtherwise(through);
  if (!isRouted && (!isWritten(was) || !isWritten(is))) return [];
  const routers = [routerOf(was), routerOf(is)] as const;
  const comparison = compareTables(...routers, through);
  return [{ ...partOf(`${is.name}: ${is.table?.place.file ?? ''}`, comparison, before, now, is), sides: { routers, through } }];
}

/** Services behind the gateway that one state alone has: what becomes of their requests. */
function comeAndGone(before: Workspace, now: Workspace, gateways: Gateways): readonly ReviewedPart[] {
  return gateways.unpaired.flatMap(({ service, routers }) => {
    const through = gateways.of(service);
    const comparison = compareTables(...routers, through);
    if (comparison.changes.length === 0) return [];
    const isNew = now.services.includes(service);
    const title = `${service.name}: ${isNew ? 'new behind the gateway' : 'no longer behind the gateway'}`;
    return [{ ...partOf(title, comparison, before, now, service), sides: { routers, through } }];
  });
}

function partOf(
  title: string,
  found: Comparison,
  before: Workspace,
  now: Workspace,
  { clients = [] }: LoadedService,
): Omit<ReviewedPart, 'sides'> {
  const comparison = weighed(found, now.levels);
  const { changes: shown } = comparison;
  const places = (of: 'old' | 'new') => shown.flatMap((c) => c[of] ?? []);
  const [old, is] = [before.sources.positions(places('old')), now.sources.positions(places('new'))];
  const olds = new Set(places('old'));
  const locate: ComparisonView['locate'] = (place) => (olds.has(place) ? old(place) : is(place));
  const contentOf = (place: Place): unknown => valueAt(olds.has(place) ? before.sources : now.sources, place);
  return { title, view: { comparison, names: ['before', 'now'], locate, contentOf, callers: clients, all: false } };
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
