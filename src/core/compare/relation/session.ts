/** The questions of one comparison, each asked once, whatever asks: pairs of schemas, and what is wrong with them. */

import { once } from '../../base/lazy.ts';
import { twinOf } from '../../schema/equality/equal-pairs.ts';
import { PairMap } from '../../schema/model/pair-map.ts';
import { type Schema, target } from '../../schema/model/schema.ts';
import type { Side } from '../../schema/model/side.ts';
import { isSideless } from '../../schema/model/side-view.ts';
import { type Effort, newAnswers } from '../../schema/search/cache.ts';
import { type Given, INSIDE, inside, type Verdict } from '../../schema/search/witness.ts';
import type { Look, Pair, Step } from '../../schema/subschema/pair.ts';
import { Web } from '../../schema/subschema/pair-graph.ts';
import { implied } from '../../schema/subschema/structural.ts';
import { newTelling, type Telling, touchedBefore } from '../changes/cause-log.ts';
import type { Affected } from '../changes/change.ts';
import { cutAbsorbed, newAbsorbing } from './absorbed-branches.ts';
import type { KeyLost } from './item-keys.ts';
import { lifted, soundIn } from './lift-witness.ts';
import { type LossWeb, lossLook } from './lost-properties.ts';
import type { Blamed, Body, Direction, Flaw } from './pair-flaw.ts';
import { explain, restore } from './root-cause.ts';

/** How many flaws are tried to be shown in a whole body before all of it is searched. */
const MOST_SHOWN = 12;
/** How many ways may turn out to be none, for one question. */
const MOST_CUTS = 300;

export interface Memory extends Telling {
  readonly directions: Readonly<Record<Side, Direction>>;
  readonly losses: Readonly<Record<'request' | 'response', LossWeb>>;
  /** How hard it is looked for what changes nothing for clients: as for all else where the answers are the same ones. */
  readonly brief: Effort;
  /** The extension that marks an enumeration as open. */
  readonly openEnumerations: string | undefined;
  readonly keyLost: KeyLost;
}

/** `sideless` where nothing is said of requests or responses alone: then what is found for one holds for the other. */
export function newMemory(
  openEnumerations?: string,
  sideless: () => boolean = () => false,
  keyLost: KeyLost = () => undefined,
): Memory {
  const direction = (side: Side): Direction => ({
    web: new Web(implies(side)),
    answers: newAnswers(),
    verdicts: new Map(),
    absorbing: newAbsorbing(),
    explained: new Map(),
  });
  const implies = inBoth(
    (side: Side): Look<Flaw> =>
      (a, b) => {
        const { plain, steps } = implied(a, b, side);
        return { flaw: plain ? undefined : { kind: 'open' }, steps };
      },
  );
  const loses = inBoth(lossLook);
  // Asked when something differs.
  const both = once(() => {
    const shared = sideless();
    const [request, lost] = [direction('request'), new Web(loses('request'))];
    return {
      brief: shared ? ('full' as const) : ('little' as const),
      directions: { request, response: shared ? request : direction('response'), either: direction('either') },
      losses: { request: lost, response: shared ? lost : new Web(loses('response')) },
    };
  });
  return {
    get directions() {
      return both().directions;
    },
    get losses() {
      return both().losses;
    },
    get brief() {
      return both().brief;
    },
    openEnumerations,
    keyLost,
    ...newTelling(),
  };
}

/** Pairs that are the same in requests and responses are looked at once. */
function inBoth<S, T>(lookOn: (side: S) => Look<T>): (side: S) => Look<T> {
  const seen = new PairMap<ReturnType<Look<T>>>();
  return (side) => {
    const look = lookOn(side);
    return (a, b) => {
      const known = seen.get(a, b);
      if (known !== undefined) return known;
      const found = look(a, b);
      if (isSideless(a) && isSideless(b)) seen.set(a, b, found);
      return found;
    };
  };
}

/** Asks about every open pair that this one rests on, each by itself: what others answer is given. */
function settled(direction: Direction, root: Pair<Flaw>, side: Side, effort: Effort): void {
  const { web, answers, explained } = direction;
  for (;;) {
    const open = web.flaws(root).filter((pair) => pair.flaw?.kind === 'open');
    if (open.length === 0) break;
    let fewer = false;
    for (const pair of open) {
      const steps: Step[] = [];
      const given: Given = ({ pos, neg, at }) => {
        const [one, ...others] = pos;
        if (one === undefined || others.length > 0 || one.group === 0) return false;
        const [no, ...more] = neg;
        if (no === undefined) return false;
        // All or nothing is told at once.
        if (typeof no.keywords() === 'boolean') return false;
        if (more.length > 0) return neg.some((n) => web.known(one.schema, n)?.fails === false);
        if (!corresponds(web, one.schema, no)) return false;
        steps.push({ pointer: at ?? '', a: one.schema, b: no });
        return true;
      };
      const verdict = inside(pair.a, pair.b, side, 'sent', answers, given, effort);
      web.amend(pair, verdict.kind === 'inside' ? undefined : verdict, verdict.kind === 'inside' ? steps : []);
      fewer ||= verdict.kind === 'inside';
    }
    // What fails still fails where all of them are wrong.
    if (fewer) web.settle();
    const more = explain(open, side, web, explained);
    if (more) web.settle();
    if (!more && !fewer) break;
  }
  cutAbsorbed(direction, root, side);
}

/** Is one the other's new or old form, so that they are asked about by themselves? What stands elsewhere is no answer to rest on. */
function corresponds(web: Web<Flaw>, sent: Schema, taken: Schema): boolean {
  const [a, b] = [target(sent), target(taken)];
  return a.place.pointer === b.place.pointer || web.known(a, b) !== undefined || twinOf(a, b).parts !== undefined;
}

/** Is what `a`'s sender may send held by `b`? Remembered. */
export function decided(memory: Memory, a: Schema, b: Schema, side: Side, effort: Effort = 'full'): Verdict {
  const direction = memory.directions[side];
  const root = direction.web.pair(a, b);
  if (!root.fails) return INSIDE;
  settled(direction, root, side, effort);
  if (!root.fails) return INSIDE;
  const known = direction.verdicts.get(root);
  if (known !== undefined) return known;
  const verdict = shown(direction, root, side, effort);
  direction.verdicts.set(root, verdict);
  return verdict;
}

function shown(direction: Direction, root: Pair<Flaw>, side: Side, effort: Effort): Verdict {
  for (let cuts = 0; cuts < MOST_CUTS; cuts++) {
    const reached = direction.web.nearestFlaws(root, MOST_SHOWN);
    if (!root.fails) return INSIDE;
    let cut = false;
    for (const one of reached) {
      const found = lifted(direction, one, side);
      if (typeof found === 'object' && 'value' in found) return { kind: 'outside', witness: found.value };
      cut ||= found === 'cut';
    }
    if (!cut) break;
    restore(direction.explained, direction.web);
  }
  return inside(root.a, root.b, side, 'sent', direction.answers, soundIn(direction.web), effort);
}

/**
 * Was all that is to blame for this pair told before? Then this is one more that it touches, and nothing is put together
 * anew to show it. `but` leaves some of it out.
 */
export function toldBefore(
  memory: Memory,
  { sent, taken, side }: { readonly sent: Schema; readonly taken: Schema; readonly side: Side },
  rule: string,
  at: Affected,
  { but, effort = 'full' }: { readonly but?: Leaves | undefined; readonly effort?: Effort } = {},
): boolean {
  const direction = memory.directions[side];
  const root = direction.web.pair(sent, taken);
  if (root.fails) settled(direction, root, side, effort);
  const flaws = direction.web.flaws(root);
  return touchedBefore(memory, but === undefined ? flaws : without(flaws, but), () => rule, rule, at);
}

type Leaves = (part: Pick<Blamed, 'sent' | 'taken'>) => boolean;

const left = new WeakMap<readonly Pair<Flaw>[], WeakMap<Leaves, readonly Pair<Flaw>[]>>();

/** The same list for the same question. */
function without(flaws: readonly Pair<Flaw>[], but: Leaves): readonly Pair<Flaw>[] {
  const row = left.get(flaws) ?? new WeakMap<Leaves, readonly Pair<Flaw>[]>();
  left.set(flaws, row);
  const list = row.get(but) ?? flaws.filter((p) => !but({ sent: p.a, taken: p.b }));
  row.set(but, list);
  return list;
}

/** What is to blame for a pair that is not inside: the pair itself where no part of it is. */
export function blame(memory: Memory, sent: Schema, taken: Schema, side: Side, effort?: Effort): readonly Blamed[] {
  const whole = decided(memory, sent, taken, side, effort);
  if (whole.kind === 'inside') return [];
  const direction = memory.directions[side];
  const root = direction.web.pair(sent, taken);
  const flaws = direction.web.flaws(root);
  const { blamed } = direction;
  if (blamed?.root === root && blamed.flaws === flaws && blamed.whole === whole) return blamed.list;
  const list = blamedFor(direction, root, flaws, whole, side);
  direction.blamed = { root, flaws, whole, list };
  return list;
}

function blamedFor(
  direction: Direction,
  root: Pair<Flaw>,
  flaws: readonly Pair<Flaw>[],
  whole: Exclude<Verdict, { kind: 'inside' }>,
  side: Side,
): readonly Blamed[] {
  // What shows the whole shows its only flaw.
  const only = (): { readonly value: unknown } | undefined =>
    whole.kind === 'outside' && flaws.length === 1 ? { value: whole.witness } : undefined;
  const all = flaws.flatMap((pair): Blamed[] => {
    if (pair.flaw === undefined || pair.flaw.kind === 'open') return [];
    const body = (): Body => {
      for (let cuts = 0; cuts < MOST_CUTS; cuts++) {
        const reached = direction.web.wayBetween(root, pair);
        if (reached === undefined) return 'never';
        const found = lifted(direction, reached, side);
        if (found !== 'cut') return 'value' in found ? found : (only() ?? found);
        restore(direction.explained, direction.web);
      }
      return { why: `more than ${MOST_CUTS} ways` };
    };
    const pointer = (): string => direction.web.wayBetween(root, pair)?.pointer ?? '';
    return [{ cause: pair, sent: pair.a, taken: pair.b, pointer, verdict: pair.flaw, body }];
  });
  // Where the whole could not be shown, what is wrong with its parts proves nothing: what is unknown of them is told alone.
  const kept = whole.kind === 'outside' ? all : all.filter((b) => b.verdict.kind === 'undecided');
  if (kept.some((b) => b.verdict.kind === 'outside') || (whole.kind === 'undecided' && kept.length > 0)) return kept;
  const body: Body = whole.kind === 'outside' ? { value: whole.witness } : whole;
  return [{ cause: root, sent: root.a, taken: root.b, pointer: () => '', verdict: whole, body: () => body }];
}
