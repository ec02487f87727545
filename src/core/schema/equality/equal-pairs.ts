/**
 * Schemas that are the same text, what they refer to included: about these nothing has to be decided. And those that are
 * the same text by themselves, which only lead to what differs.
 */

import { type Mapping, sameJson } from '../../base/json.ts';
import { stronglyConnectedComponents } from '../../base/strong-components.ts';
import {
  idOf,
  type Keywords,
  type Likeness,
  type PairComponent,
  type Schema,
  type SchemaPair,
  type TextPair,
  type TextPairChild,
} from '../model/schema.ts';
import { isExcludedFrom } from '../model/side-view.ts';
import { subschemas as children } from '../model/subschemas.ts';

/** As it was asked first. */
export class ForwardPair implements TextPair {
  readonly a: Schema;
  readonly b: Schema;
  differingChildren: readonly TextPairChild[] | undefined = undefined;
  differs = false;
  steady = true;
  dependents: ForwardPair[] | undefined = [];
  group: PairComponent | undefined = undefined;
  private other: ReversedPair | undefined = undefined;

  constructor(a: Schema, b: Schema) {
    this.a = a;
    this.b = b;
  }

  get turned(): ReversedPair {
    this.other ??= new ReversedPair(this);
    return this.other;
  }
}

/** The other way round, which needs no second look. */
class ReversedPair implements TextPair {
  readonly turned: ForwardPair;
  private read: readonly TextPairChild[] | undefined = undefined;

  constructor(made: ForwardPair) {
    this.turned = made;
  }

  get a() {
    return this.turned.b;
  }
  get b() {
    return this.turned.a;
  }
  get differs() {
    return this.turned.differs;
  }
  get steady() {
    return this.turned.steady;
  }
  get dependents() {
    return this.turned.dependents;
  }
  get group() {
    const { group } = this.turned;
    return group === undefined ? undefined : turnedGroup(group);
  }
  get differingChildren() {
    const { differingChildren } = this.turned;
    if (differingChildren !== undefined)
      this.read ??= differingChildren.map(({ pointer, to }) => ({ pointer, to: turnedTwin(to) }));
    return differingChildren === undefined ? undefined : this.read;
  }
}

/** Every twin is one of the two. */
function turnedTwin(twin: TextPair): TextPair {
  return (twin as ForwardPair | ReversedPair).turned;
}

class Component implements PairComponent {
  readonly next: (TextPair | PairComponent)[] = [];
  readonly turned = new ReversedComponent(this);
}

class ReversedComponent implements PairComponent {
  readonly turned: Component;
  private read: PairComponent['next'] | undefined = undefined;

  constructor(group: Component) {
    this.turned = group;
  }

  get next() {
    this.read ??= this.turned.next.map((n) => ('next' in n ? turnedGroup(n) : turnedTwin(n)));
    return this.read;
  }
}

function turnedGroup(group: PairComponent): PairComponent {
  return (group as Component | ReversedComponent).turned;
}

/** Most schemas are held against one other alone, which then takes no map. */
function readMemo(a: Schema, b: Schema): ForwardPair | undefined {
  const { twins } = a;
  if (twins === undefined) return undefined;
  if (twins instanceof Map) return twins.get(idOf(b)) as ForwardPair | undefined;
  return twins.b === b ? (twins as ForwardPair) : undefined;
}

function writeMemo(made: ForwardPair): void {
  const { a, b } = made;
  const { twins } = a;
  if (twins === undefined) a.twins = made;
  else if (twins instanceof Map) twins.set(idOf(b), made);
  else a.twins = new Map<number, TextPair>([twins, made].map((t) => [idOf(t.b), t]));
}

/**
 * The two schemas as they are like each other. Linear in both, once for each pair that can be reached, and without
 * recursion: all pairs that references lead to are found first, then those are marked that differ or lead to one that does.
 */
export function compareText(a: Schema, b: Schema): TextPair {
  const known = cachedComparison(a, b);
  if (known !== undefined) return known;
  const fresh: ForwardPair[] = [];
  const first = twinAt(a, b, fresh);
  growAll(fresh);
  propagateDifference(fresh.filter((t) => t.differs));
  for (const twin of fresh) finalize(twin);
  return first;
}

/** A loop by itself: the first is long and the others are short, kept separate so that V8 does not deoptimise the short calls. */
function growAll(fresh: ForwardPair[]): void {
  for (const twin of fresh) expandPair(twin, fresh);
}

function propagateDifference(wrong: ForwardPair[]): void {
  for (const twin of wrong) {
    for (const source of twin.dependents ?? []) {
      if (source.differs) continue;
      source.differs = true;
      wrong.push(source);
    }
  }
}

function finalize(twin: ForwardPair): void {
  twin.dependents = undefined;
  // What is sent at all may have changed behind the same reference.
  if (twin.differingChildren?.every((p) => p.to.steady) === false) twin.differingChildren = undefined;
  twin.differingChildren &&= twin.differingChildren.filter((p) => p.to.differs);
}

/** The same if somebody asked before. */
export function cachedComparison(a: Schema, b: Schema): TextPair | undefined {
  return readMemo(a, b) ?? readMemo(b, a)?.turned;
}

/** The same text, what it refers to included. */
export function isTextEqual(a: Schema, b: Schema): boolean {
  if (a === b) return true;
  const known = cachedComparison(a, b);
  if (known !== undefined) return !known.differs;
  // Most are short and refer to nothing, and need not be remembered.
  return (
    (a.dialect !== undefined && a.dialect === b.dialect && equalWithinBudget(a.raw, b.raw, COMPARE_BUDGET) > 0) ||
    !compareText(a, b).differs
  );
}

export const alike = new WeakMap<Keywords, { readonly to: Keywords; readonly names: ReadonlySet<string> }>();

/** The names of which both say the same. Asked in both directions, and found once. */
export function textEqualProperties(a: Keywords, b: Keywords): ReadonlySet<string> {
  const known = alike.get(a);
  if (known?.to === b) return known.names;
  const names = new Set<string>();
  for (const [name, schema] of a.properties) {
    const other = b.properties.get(name);
    if (other !== undefined && isTextEqual(schema, other)) names.add(name);
  }
  alike.set(a, { to: b, names });
  alike.set(b, { to: a, names });
  return names;
}

/** So many values are looked at before something is remembered. */
const COMPARE_BUDGET = 30;

/** How many of so many values are left when two texts without references are found equal; none where that is not seen. */
function equalWithinBudget(a: unknown, b: unknown, most: number): number {
  if (typeof a !== 'object' || a === null) return a === b ? most - 1 : 0;
  if (typeof b !== 'object' || b === null || Array.isArray(a) !== Array.isArray(b)) return 0;
  let left = most - 1;
  let more = 0;
  for (const key in a) {
    if (left <= 0 || key === '$ref' || key === '$dynamicRef' || !Object.hasOwn(b, key)) return 0;
    left = equalWithinBudget((a as Mapping)[key], (b as Mapping)[key], left);
    more += 1;
  }
  for (const _ in b) more -= 1;
  return more === 0 ? left : 0;
}

function twinAt(a: Schema, b: Schema, fresh: ForwardPair[]): TextPair {
  const known = cachedComparison(a, b);
  if (known !== undefined) return known;
  const made = new ForwardPair(a, b);
  writeMemo(made);
  if (a === b) made.dependents = undefined;
  else fresh.push(made);
  return made;
}

/** Looks at one pair by itself; pairs that it leads to are told of it when they turn out to differ. */
function expandPair(twin: ForwardPair, fresh: ForwardPair[]): void {
  const { a, b } = twin;
  const like = compareLocally(a, b);
  if (like === 'unlike') twin.differs = true;
  else if (like === 'together') {
    const [p, q] = [children(a), children(b)];
    if (p.length !== q.length) twin.differs = true;
    else for (const [i, s] of p.entries()) addDependency(twin, { a: s, b: q[i] as Schema }, fresh);
  } else twin.differingChildren = like.map(({ pointer, both }) => ({ pointer, to: addDependency(twin, both, fresh) }));
  if (twin.differingChildren === undefined)
    twin.steady = (['request', 'response'] as const).every((s) => isExcludedFrom(a, s) === isExcludedFrom(b, s));
}

export function addDependency(twin: ForwardPair, both: SchemaPair, fresh: ForwardPair[]): TextPair {
  both.twin ??= twinAt(both.a, both.b, fresh);
  const to = both.twin;
  // What was known before is settled.
  if (to.differs) twin.differs = true;
  else (to as ForwardPair).dependents?.push(twin);
  return to;
}

function compareLocally(a: Schema, b: Schema): Likeness {
  const told = a.like?.(b);
  if (told !== undefined) return told;
  // What was made for a question says itself what it says.
  return a.raw !== undefined && a.dialect === b.dialect && sameJson(a.raw, b.raw) ? 'together' : 'unlike';
}

/** Its parts as pairs of schemas. */
export function childPairs({
  differingChildren: parts = [],
}: TextPair): readonly { readonly pointer: string; readonly a: Schema; readonly b: Schema }[] {
  return parts.map(({ pointer, to }) => ({ pointer, a: to.a, b: to.b }));
}

/** The group of twins that are alike and lead to something that differs. Linear in what it leads to, once. */
export function groupOf(twin: TextPair): PairComponent {
  if (twin.group === undefined) condense(twin);
  return twin.group as PairComponent;
}

function condense(first: TextPair): void {
  const alike = ({ differingChildren = [] }: TextPair): readonly TextPair[] =>
    differingChildren.flatMap(({ to }) => (to.differingChildren === undefined ? [] : [to]));
  for (const members of stronglyConnectedComponents<TextPair>(first, alike, (t) => t.group !== undefined)) {
    const group = new Component();
    for (const member of members)
      if (member instanceof ForwardPair) member.group = group;
      else (member as ReversedPair).turned.group = group.turned;
    const found = new Set<TextPair | PairComponent>([group]);
    for (const { differingChildren = [] } of members) {
      for (const { to } of differingChildren) {
        const one = to.group ?? to;
        if (found.has(one)) continue;
        found.add(one);
        group.next.push(one);
      }
    }
  }
}
