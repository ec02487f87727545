/** What was told in one comparison: each cause once, with all that it touches. */
import type { Affected, ChangeDraft } from './change.ts';

export interface Report {
  /** As it was told first, and as it is told best. */
  readonly first: ChangeDraft;
  made: ChangeDraft;
  readonly affects: Affected[];
}

/** What was told, and all that it touches: lists are shared by all that touch the same. */
export interface ReportWithAffected {
  readonly made: ChangeDraft;
  readonly touches: readonly (readonly Affected[])[];
}

/** How often a cause that has no witness yet is told again. */
const MOST_TOLD = 6;

export interface ReportLog {
  /** What was told, by its cause, with all that it touches. */
  readonly told: Map<object, Map<string, Report>>;
  /** Lists of causes all of which were told, by what was told of them, with what else they touch together. */
  readonly touched: Map<readonly object[], Map<string, SharedAffected>>;
  /** What was told for the first of those that lead to the same, by what was asked. */
  readonly together: Map<object, Map<string, SharedAffected>>;
  /** What is told now, where somebody keeps it for others. */
  heard: Recording | undefined;
}

interface Recording {
  readonly told: Set<Report>;
  readonly lists: Set<SharedAffected>;
  readonly causes: Set<object>;
  /** Something could not be told of this one. */
  missed: boolean;
}

interface SharedAffected {
  readonly told: readonly Report[];
  /** Others that are touched with it. */
  readonly lists: readonly SharedAffected[];
  readonly affects: Affected[];
}

export function newTelling(): ReportLog {
  return { told: new Map(), touched: new Map(), together: new Map(), heard: undefined };
}

/**
 * Was something told of all these causes before? Then this is one more that they touch. The same list is looked through
 * once: a thousand operations may share a thousand causes.
 */
export function addAffectedIfReported<C extends object>(
  memory: ReportLog,
  causes: readonly C[],
  whatOf: (cause: C) => string,
  kind: string,
  at: Affected,
  causeOf: (cause: C) => object = (c) => c,
): boolean {
  const row = memory.touched.get(causes) ?? new Map<string, SharedAffected>();
  const known = row.get(kind);
  if (known !== undefined) {
    known.affects.push(at);
    memory.heard?.lists.add(known);
    return true;
  }
  const told = toldOf(memory, causes, whatOf, causeOf);
  if (told === undefined || told.length === 0) return false;
  const made = { told, lists: [], affects: [at] };
  memory.touched.set(causes, row.set(kind, made));
  memory.heard?.lists.add(made);
  return true;
}

/** Was all of it told, of whatever it touches? */
export function isReported<C extends object>(
  memory: ReportLog,
  causes: readonly C[],
  whatOf: (cause: C) => string,
  kind: string,
  causeOf: (cause: C) => object,
): boolean {
  return memory.touched.get(causes)?.has(kind) === true || toldOf(memory, causes, whatOf, causeOf) !== undefined;
}

function toldOf<C extends object>(
  memory: ReportLog,
  causes: readonly C[],
  whatOf: (cause: C) => string,
  causeOf: (cause: C) => object,
): readonly Report[] | undefined {
  const told: Report[] = [];
  for (const cause of causes) {
    const found = memory.told.get(causeOf(cause))?.get(whatOf(cause));
    if (found === undefined) return undefined;
    told.push(found);
  }
  return told;
}

/**
 * Tells one cause once, with all that it touches. Where what is told first has no witness, it is made again for the next
 * that it touches, a few times.
 */
export function reportOnce(
  memory: ReportLog,
  cause: object,
  what: string,
  at: Affected,
  make: () => ChangeDraft | undefined,
): readonly ChangeDraft[] {
  const row = memory.told.get(cause) ?? new Map<string, Report>();
  memory.told.set(cause, row);
  const known = row.get(what);
  memory.heard?.causes.add(cause);
  if (known === undefined) {
    const first = make();
    if (first === undefined) {
      if (memory.heard !== undefined) memory.heard.missed = true;
      return [];
    }
    const told: Report = { first, made: first, affects: [at] };
    memory.heard?.told.add(told);
    row.set(what, told);
    return [first];
  }
  memory.heard?.told.add(known);
  known.affects.push(at);
  if (known.made.effect === 'undecided' && known.affects.length <= MOST_TOLD) {
    const made = make();
    if (made !== undefined && made.effect !== 'undecided') known.made = made;
  }
  return [];
}

/**
 * Reports once for a class of bodies with the same causes; the others are only added to `affects`. `isOwn` says of a cause that
 * it is no other's.
 */
export function reportForClass(
  memory: ReportLog,
  those: object,
  kind: string,
  at: Affected,
  isOwn: (cause: object) => boolean,
  make: () => readonly ChangeDraft[],
): readonly ChangeDraft[] {
  const row = memory.together.get(those) ?? new Map<string, SharedAffected>();
  const known = row.get(kind);
  if (known !== undefined) {
    known.affects.push(at);
    return [];
  }
  const heard: Recording = { told: new Set(), lists: new Set(), causes: new Set(), missed: false };
  memory.heard = heard;
  const made = make();
  memory.heard = undefined;
  const [told, lists] = [[...heard.told], [...heard.lists]];
  const firsts = new Set(told.map((t) => t.first));
  const settled = [told, ...lists.map((l) => l.told)].every((list) => list.every(isSettled));
  const some = told.length + lists.length > 0;
  if (settled && some && !heard.missed && made.every((m) => firsts.has(m)) && ![...heard.causes].some(isOwn))
    memory.together.set(those, row.set(kind, { told, lists, affects: [] }));
  return made;
}

function isSettled({ made, affects }: Report): boolean {
  return made.effect !== 'undecided' || affects.length > MOST_TOLD;
}

/** What was told, by what was said first. */
export function reportsByFirst({ told, touched, together }: ReportLog): ReadonlyMap<ChangeDraft, ReportWithAffected> {
  const more = new Map<Report, (readonly Affected[])[]>();
  const add = ({ told: all, affects }: SharedAffected): void => {
    if (affects.length === 0) return;
    for (const one of all) {
      const lists = more.get(one);
      if (lists === undefined) more.set(one, [affects]);
      else lists.push(affects);
    }
  };
  for (const row of together.values())
    for (const one of row.values()) {
      add(one);
      for (const { told: all } of one.lists) add({ ...one, told: all });
    }
  for (const row of touched.values()) for (const one of row.values()) add(one);
  const all = [...told.values()].flatMap((row) => [...row.values()]);
  return new Map(all.map((t) => [t.first, { made: t.made, touches: [t.affects, ...(more.get(t) ?? [])] }]));
}
