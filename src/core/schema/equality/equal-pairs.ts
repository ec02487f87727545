/**
 * Schemas that are the same text, what they refer to included: about these nothing has to be decided. And those that are
 * the same text by themselves, which only lead to what differs.
 */

import { type Mapping, sameJson } from '../../base/json.ts';
import { components } from '../../base/strong-components.ts';
import {
  type Both,
  type Group,
  idOf,
  type Keywords,
  type Likeness,
  type Schema,
  type Twin,
  type TwinPart,
} from '../model/schema.ts';
import { isUnsent } from '../model/side-view.ts';
import { inside as children } from '../model/subschemas.ts';

/** As it was asked first. */
export class Made implements Twin {
  readonly a: Schema;
  readonly b: Schema;
  parts: readonly TwinPart[] | undefined = undefined;
  differs = false;
  steady = true;
  from: Made[] | undefined = [];
  group: Group | undefined = undefined;
  private other: Turned | undefined = undefined;

  constructor(a: Schema, b: Schema) {
    this.a = a;
    this.b = b;
  }

  get turned(): Turned {
    this.other ??= new Turned(this);
    return this.other;
  }
}

/** The other way round, which needs no second look. */
class Turned implements Twin {
  readonly turned: Made;
  private read: readonly TwinPart[] | undefined = undefined;

  constructor(made: Made) {
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
  get from() {
    return this.turned.from;
  }
  get group() {
    const { group } = this.turned;
    return group === undefined ? undefined : turnedGroup(group);
  }
  get parts() {
    const { parts } = this.turned;
    if (parts !== undefined) this.read ??= parts.map(({ pointer, to }) => ({ pointer, to: turnedTwin(to) }));
    return parts === undefined ? undefined : this.read;
  }
}

/** Every twin is one of the two. */
function turnedTwin(twin: Twin): Twin {
  return (twin as Made | Turned).turned;
}

class Gathered implements Group {
  readonly next: (Twin | Group)[] = [];
  readonly turned = new TurnedGroup(this);
}

class TurnedGroup implements Group {
  readonly turned: Gathered;
  private read: Group['next'] | undefined = undefined;

  constructor(group: Gathered) {
    this.turned = group;
  }

  get next() {
    this.read ??= this.turned.next.map((n) => ('next' in n ? turnedGroup(n) : turnedTwin(n)));
    return this.read;
  }
}

function turnedGroup(group: Group): Group {
  return (group as Gathered | TurnedGroup).turned;
}

/** Most schemas are held against one other alone, which then takes no map. */
function madeOf(a: Schema, b: Schema): Made | undefined {
  const { twins } = a;
  if (twins === undefined) return undefined;
  if (twins instanceof Map) return twins.get(idOf(b)) as Made | undefined;
  return twins.b === b ? (twins as Made) : undefined;
}

function keep(made: Made): void {
  const { a, b } = made;
  const { twins } = a;
  if (twins === undefined) a.twins = made;
  else if (twins instanceof Map) twins.set(idOf(b), made);
  else a.twins = new Map<number, Twin>([twins, made].map((t) => [idOf(t.b), t]));
}

/**
 * The two schemas as they are like each other. Linear in both, once for each pair that can be reached, and without
 * recursion: all pairs that references lead to are found first, then those are marked that differ or lead to one that does.
 */
export function twinOf(a: Schema, b: Schema): Twin {
  const known = metTwin(a, b);
  if (known !== undefined) return known;
  const fresh: Made[] = [];
  const first = twinAt(a, b, fresh);
  growAll(fresh);
  spread(fresh.filter((t) => t.differs));
  for (const twin of fresh) settle(twin);
  return first;
}

/** A loop by itself: the first is long and the others are short, for which the engine must not have to give up its code. */
function growAll(fresh: Made[]): void {
  for (const twin of fresh) grow(twin, fresh);
}

function spread(wrong: Made[]): void {
  for (const twin of wrong) {
    for (const source of twin.from ?? []) {
      if (source.differs) continue;
      source.differs = true;
      wrong.push(source);
    }
  }
}

function settle(twin: Made): void {
  twin.from = undefined;
  // What is sent at all may have changed behind the same reference.
  if (twin.parts?.every((p) => p.to.steady) === false) twin.parts = undefined;
  twin.parts &&= twin.parts.filter((p) => p.to.differs);
}

/** The same if somebody asked before. */
export function metTwin(a: Schema, b: Schema): Twin | undefined {
  return madeOf(a, b) ?? madeOf(b, a)?.turned;
}

/** The same text, what it refers to included. */
export function sameText(a: Schema, b: Schema): boolean {
  if (a === b) return true;
  const known = metTwin(a, b);
  if (known !== undefined) return !known.differs;
  // Most are short and refer to nothing, and need not be remembered.
  return (a.dialect !== undefined && a.dialect === b.dialect && samePlainly(a.raw, b.raw, SHORT) > 0) || !twinOf(a, b).differs;
}

export const alike = new WeakMap<Keywords, { readonly to: Keywords; readonly names: ReadonlySet<string> }>();

/** The names of which both say the same. Asked in both directions, and found once. */
export function sameProperties(a: Keywords, b: Keywords): ReadonlySet<string> {
  const known = alike.get(a);
  if (known?.to === b) return known.names;
  const names = new Set<string>();
  for (const [name, schema] of a.properties) {
    const other = b.properties.get(name);
    if (other !== undefined && sameText(schema, other)) names.add(name);
  }
  alike.set(a, { to: b, names });
  alike.set(b, { to: a, names });
  return names;
}

/** So many values are looked at before something is remembered. */
const SHORT = 30;

/** How many of so many values are left when two texts without references are found equal; none where that is not seen. */
function samePlainly(a: unknown, b: unknown, most: number): number {
  if (typeof a !== 'object' || a === null) return a === b ? most - 1 : 0;
  if (typeof b !== 'object' || b === null || Array.isArray(a) !== Array.isArray(b)) return 0;
  let left = most - 1;
  let more = 0;
  for (const key in a) {
    if (left <= 0 || key === '$ref' || key === '$dynamicRef' || !Object.hasOwn(b, key)) return 0;
    left = samePlainly((a as Mapping)[key], (b as Mapping)[key], left);
    more += 1;
  }
  for (const _ in b) more -= 1;
  return more === 0 ? left : 0;
}

function twinAt(a: Schema, b: Schema, fresh: Made[]): Twin {
  const known = metTwin(a, b);
  if (known !== undefined) return known;
  const made = new Made(a, b);
  keep(made);
  if (a === b) made.from = undefined;
  else fresh.push(made);
  return made;
}

/** Looks at one pair by itself; pairs that it leads to are told of it when they turn out to differ. */
function grow(twin: Made, fresh: Made[]): void {
  const { a, b } = twin;
  const like = likeness(a, b);
  if (like === 'unlike') twin.differs = true;
  else if (like === 'together') {
    const [p, q] = [children(a), children(b)];
    if (p.length !== q.length) twin.differs = true;
    else for (const [i, s] of p.entries()) lead(twin, { a: s, b: q[i] as Schema }, fresh);
  } else twin.parts = like.map(({ pointer, both }) => ({ pointer, to: lead(twin, both, fresh) }));
  if (twin.parts === undefined) twin.steady = (['request', 'response'] as const).every((s) => isUnsent(a, s) === isUnsent(b, s));
}

export function lead(twin: Made, both: Both, fresh: Made[]): Twin {
  both.twin ??= twinAt(both.a, both.b, fresh);
  const to = both.twin;
  // What was known before is settled.
  if (to.differs) twin.differs = true;
  else (to as Made).from?.push(twin);
  return to;
}

function likeness(a: Schema, b: Schema): Likeness {
  const told = a.like?.(b);
  if (told !== undefined) return told;
  // What was made for a question says itself what it says.
  return a.raw !== undefined && a.dialect === b.dialect && sameJson(a.raw, b.raw) ? 'together' : 'unlike';
}

/** Its parts as pairs of schemas. */
export function stepsOf({ parts = [] }: Twin): readonly { readonly pointer: string; readonly a: Schema; readonly b: Schema }[] {
  return parts.map(({ pointer, to }) => ({ pointer, a: to.a, b: to.b }));
}

/** The group of twins that are alike and lead to something that differs. Linear in what it leads to, once. */
export function groupOf(twin: Twin): Group {
  if (twin.group === undefined) gather(twin);
  return twin.group as Group;
}

function gather(first: Twin): void {
  const alike = ({ parts = [] }: Twin): readonly Twin[] => parts.flatMap(({ to }) => (to.parts === undefined ? [] : [to]));
  for (const members of components<Twin>(first, alike, (t) => t.group !== undefined)) {
    const group = new Gathered();
    for (const member of members)
      if (member instanceof Made) member.group = group;
      else (member as Turned).turned.group = group.turned;
    const found = new Set<Twin | Group>([group]);
    for (const { parts = [] } of members) {
      for (const { to } of parts) {
        const one = to.group ?? to;
        if (found.has(one)) continue;
        found.add(one);
        group.next.push(one);
      }
    }
  }
}
