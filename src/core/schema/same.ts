/**
 * Schemas that are the same text, what they refer to included: about these nothing has to be decided. And those that are
 * the same text by themselves, which only lead to what differs.
 */
import { components } from '../components.ts';
import { sameJson } from '../json.ts';
import type { InnerPair, Likeness, Schema } from './node.ts';
import { PairMap } from './pairs.ts';
import { isUnsent } from './sides.ts';
import { inside as children } from './walk.ts';

/** Two schemas, held against each other as text. */
export interface Twin {
  /** With all that lead to each other through parts. Made when it is asked for. */
  group: Group | undefined;
  readonly a: Schema;
  readonly b: Schema;
  /** Where in a value, if nowhere else, the two differ; undefined where more has to be looked at. */
  parts: readonly TwinPart[] | undefined;
  /** By itself, or by something that it leads to. */
  differs: boolean;
  /** Whether these are part of a request or a response at all is the same of both. */
  steady: boolean;
  /** Those whose texts lead to this one. */
  readonly from: Twin[];
}

/** Twins that lead to each other, and are alike: whatever is wrong with one of them stands behind all of them. */
export interface Group {
  /** What has to be looked at closer, and other groups, right behind one of them. */
  readonly next: readonly (Twin | Group)[];
}

export interface TwinPart {
  readonly pointer: string;
  readonly to: Twin;
}

const twins = new PairMap<Twin>();

/**
 * The two schemas as they are like each other. Linear in both, once for each pair that can be reached, and without
 * recursion: all pairs that references lead to are found first, then those are marked that differ or lead to one that does.
 */
export function twinOf(a: Schema, b: Schema): Twin {
  const known = twins.get(a, b);
  if (known !== undefined) return known;
  const fresh: Twin[] = [];
  const first = twinAt(a, b, fresh);
  const wrong: Twin[] = [];
  for (const twin of fresh) {
    grow(twin, fresh);
    if (twin.differs) wrong.push(twin);
  }
  for (const twin of wrong) {
    for (const source of twin.from) {
      if (source.differs) continue;
      source.differs = true;
      wrong.push(source);
    }
  }
  for (const twin of fresh) {
    twin.from.length = 0;
    // What is sent at all may have changed behind the same reference.
    if (twin.parts?.every((p) => p.to.steady) === false) twin.parts = undefined;
    twin.parts &&= twin.parts.filter((p) => p.to.differs);
  }
  return first;
}

/** The same if somebody asked before. */
export function metTwin(a: Schema, b: Schema): Twin | undefined {
  return twins.get(a, b);
}

/** The same text, what it refers to included. */
export function sameText(a: Schema, b: Schema): boolean {
  return a === b || !twinOf(a, b).differs;
}

function twinAt(a: Schema, b: Schema, fresh: Twin[]): Twin {
  const known = twins.get(a, b);
  if (known !== undefined) return known;
  const made: Twin = { group: undefined, a, b, parts: undefined, differs: false, steady: true, from: [] };
  twins.set(a, b, made);
  if (a !== b) fresh.push(made);
  return made;
}

/** Looks at one pair by itself; pairs that it leads to are told of it when they turn out to differ. */
function grow(twin: Twin, fresh: Twin[]): void {
  const { a, b } = twin;
  const turned = twins.get(b, a);
  const like: Likeness | Twin = turned !== undefined && turned.parts !== undefined ? turned : likeness(a, b);
  const lead = (x: Schema, y: Schema): Twin => {
    const to = twinAt(x, y, fresh);
    // What was known before is settled.
    if (to.differs) twin.differs = true;
    else to.from.push(twin);
    return to;
  };
  if (like === 'unlike') twin.differs = true;
  else if (like === 'together') {
    const [p, q] = [children(a), children(b)];
    if (p.length !== q.length) twin.differs = true;
    else for (const [i, s] of p.entries()) lead(s, q[i] as Schema);
  } else if ('parts' in like) twin.parts = like.parts?.map(({ pointer, to }) => ({ pointer, to: lead(to.b, to.a) }));
  else twin.parts = like.map((i) => ({ pointer: i.pointer, to: lead(i.a, i.b) }));
  if (twin.parts === undefined) twin.steady = (['request', 'response'] as const).every((s) => isUnsent(a, s) === isUnsent(b, s));
}

function likeness(a: Schema, b: Schema): Likeness {
  const told = a.like?.(b);
  if (told !== undefined) return told;
  // What was made for a question says itself what it says.
  return a.raw !== undefined && a.dialect === b.dialect && sameJson(a.raw, b.raw) ? 'together' : 'unlike';
}

/** Its parts as pairs of schemas. */
export function stepsOf({ parts = [] }: Twin): readonly InnerPair[] {
  return parts.map(({ pointer, to }) => ({ pointer, a: to.a, b: to.b }));
}

/** The group of twins that are alike and lead to something that differs. Linear in what it leads to, once. */
export function groupOf(twin: Twin): Group {
  const alike = ({ parts = [] }: Twin): readonly Twin[] => parts.flatMap(({ to }) => (to.parts === undefined ? [] : [to]));
  for (const members of components(twin, alike, (t) => t.group !== undefined)) {
    const next: (Twin | Group)[] = [];
    const group: Group = { next };
    for (const member of members) member.group = group;
    const found = new Set<Twin | Group>([group]);
    for (const { parts = [] } of members) {
      for (const { to } of parts) {
        const one = to.group ?? to;
        if (found.has(one)) continue;
        found.add(one);
        next.push(one);
      }
    }
  }
  return twin.group as Group;
}
