/** The questions of one comparison, each asked once, whatever asks: pairs of schemas, and what is wrong with them. */

import { lazy } from '../../base/lazy.ts';
import { compareText } from '../../schema/equality/equal-pairs.ts';
import { PairMap } from '../../schema/model/pair-map.ts';
import { dereference, type Schema } from '../../schema/model/schema.ts';
import type { Side } from '../../schema/model/side.ts';
import { isSideIndependent } from '../../schema/model/side-view.ts';
import { type Budget, newSearchCache } from '../../schema/search/cache.ts';
import { type AssumedEmpty, CONTAINED, type Containment, isSubschema } from '../../schema/search/witness.ts';
import type { Dependency, LocalCheck, PairNode } from '../../schema/subschema/pair.ts';
import { PairGraph } from '../../schema/subschema/pair-graph.ts';
import { checkStructurally } from '../../schema/subschema/structural.ts';
import { addAffectedIfReported, newTelling, type ReportLog } from '../changes/cause-log.ts';
import type { Affected } from '../changes/change.ts';
import { dropSubsumedBranches, newAbsorbing } from './absorbed-branches.ts';
import type { DescribeLostKey } from './item-keys.ts';
import { assumeProven, liftWitness } from './lift-witness.ts';
import { checkLostProperties, type LossGraph } from './lost-properties.ts';
import type { ContainmentFailure, RootCause, SideState, WholeWitness } from './pair-flaw.ts';
import { isEmptySchema } from './possible-properties.ts';
import { attributeToBranch, reinstate } from './root-cause.ts';

/** How many flaws are tried to be shown in a whole body before all of it is searched. */
const MOST_SHOWN = 12;
/** How many ways may turn out to be none, for one question. */
const MOST_CUTS = 300;

export interface ComparisonSession extends ReportLog {
  readonly directions: Readonly<Record<Side, SideState>>;
  readonly losses: Readonly<Record<'request' | 'response', LossGraph>>;
  /** Search budget for compatible changes: full where request and response share a cache, small otherwise. */
  readonly advisoryBudget: Budget;
  /** The extension that marks an enumeration as open. */
  readonly openEnumerations: string | undefined;
  readonly keyLost: DescribeLostKey;
}

/** `sideless` where nothing is said of requests or responses alone: then what is found for one holds for the other. */
export function newSession(
  openEnumerations?: string,
  sideless: () => boolean = () => false,
  keyLost: DescribeLostKey = () => undefined,
): ComparisonSession {
  const direction = (side: Side): SideState => ({
    web: new PairGraph(implies(side)),
    answers: newSearchCache(),
    verdicts: new Map(),
    absorbing: newAbsorbing(),
    explained: new Map(),
  });
  const implies = shareSideIndependent(
    (side: Side): LocalCheck<ContainmentFailure> =>
      (a, b) => {
        const { plain, steps } = checkStructurally(a, b, side);
        // Nobody sends what nothing fits.
        if ((!plain || steps.length > 0) && isEmptySchema(a, side)) return { flaw: undefined, steps: [] };
        return { flaw: plain ? undefined : { kind: 'open' }, steps };
      },
  );
  const loses = shareSideIndependent(checkLostProperties);
  // Asked when something differs.
  const both = lazy(() => {
    const shared = sideless();
    const [request, lost] = [direction('request'), new PairGraph(loses('request'))];
    return {
      brief: shared ? ('full' as const) : ('little' as const),
      directions: { request, response: shared ? request : direction('response'), either: direction('either') },
      losses: { request: lost, response: shared ? lost : new PairGraph(loses('response')) },
    };
  });
  return {
    get directions() {
      return both().directions;
    },
    get losses() {
      return both().losses;
    },
    get advisoryBudget() {
      return both().brief;
    },
    openEnumerations,
    keyLost,
    ...newTelling(),
  };
}

/** Pairs that are the same in requests and responses are looked at once. */
function shareSideIndependent<S, T>(lookOn: (side: S) => LocalCheck<T>): (side: S) => LocalCheck<T> {
  const seen = new PairMap<ReturnType<LocalCheck<T>>>();
  return (side) => {
    const look = lookOn(side);
    return (a, b) => {
      const known = seen.get(a, b);
      if (known !== undefined) return known;
      const found = look(a, b);
      if (isSideIndependent(a) && isSideIndependent(b)) seen.set(a, b, found);
      return found;
    };
  };
}

/** Asks about every open pair that this one rests on, each by itself: what others answer is given. */
function resolveOpenPairs(direction: SideState, root: PairNode<ContainmentFailure>, side: Side, effort: Budget): void {
  const { web, answers, explained } = direction;
  for (;;) {
    const open = web.failuresBelow(root).filter((pair) => pair.localFailure?.kind === 'open');
    if (open.length === 0) break;
    let fewer = false;
    for (const pair of open) {
      const steps: Dependency[] = [];
      const given: AssumedEmpty = ({ pos, neg, at }) => {
        const [one, ...others] = pos;
        if (one === undefined || others.length > 0 || one.producerId === 0) return false;
        const [no, ...more] = neg;
        if (no === undefined) return false;
        // All or nothing is told at once.
        if (typeof no.keywords() === 'boolean') return false;
        if (more.length > 0) return neg.some((n) => web.find(one.schema, n)?.isRefuted === false);
        if (!isSuccessorPair(web, one.schema, no)) return false;
        steps.push({ pointer: at ?? '', a: one.schema, b: no });
        return true;
      };
      const verdict = isSubschema(pair.a, pair.b, side, 'producer', answers, given, effort);
      web.refine(pair, verdict.kind === 'contained' ? undefined : verdict, verdict.kind === 'contained' ? steps : []);
      fewer ||= verdict.kind === 'contained';
    }
    // What fails still fails where all of them are wrong.
    if (fewer) web.recomputeFixedPoint();
    const more = attributeToBranch(open, side, web, explained);
    if (more) web.recomputeFixedPoint();
    if (!more && !fewer) break;
  }
  dropSubsumedBranches(direction, root, side);
}

/**
 * Is one the other's new or old form, so that they are asked about by themselves? What stands elsewhere is no answer to rest on.
 */
function isSuccessorPair(web: PairGraph<ContainmentFailure>, sent: Schema, taken: Schema): boolean {
  const [a, b] = [dereference(sent), dereference(taken)];
  return a.place.pointer === b.place.pointer || web.find(a, b) !== undefined || compareText(a, b).differingChildren !== undefined;
}

/** Is what `a`'s sender may send held by `b`? Remembered. */
export function containment(memory: ComparisonSession, a: Schema, b: Schema, side: Side, effort: Budget = 'full'): Containment {
  const direction = memory.directions[side];
  const root = direction.web.nodeFor(a, b);
  if (!root.isRefuted) return CONTAINED;
  resolveOpenPairs(direction, root, side, effort);
  if (!root.isRefuted) return CONTAINED;
  const known = direction.verdicts.get(root);
  if (known !== undefined) return known;
  const verdict = findWholeWitness(direction, root, side, effort);
  direction.verdicts.set(root, verdict);
  return verdict;
}

function findWholeWitness(direction: SideState, root: PairNode<ContainmentFailure>, side: Side, effort: Budget): Containment {
  for (let cuts = 0; cuts < MOST_CUTS; cuts++) {
    const reached = direction.web.nearestFailures(root, MOST_SHOWN);
    if (!root.isRefuted) return CONTAINED;
    let cut = false;
    for (const one of reached) {
      const found = liftWitness(direction, one, side);
      if (typeof found === 'object' && 'value' in found) return { kind: 'counterexample', witness: found.value };
      cut ||= found === 'cut';
    }
    if (!cut) break;
    reinstate(direction.explained, direction.web);
  }
  return isSubschema(root.a, root.b, side, 'producer', direction.answers, assumeProven(direction.web), effort);
}

/**
 * Was all that is to blame for this pair told before? Then this is one more that it touches, and nothing is put together
 * anew to show it. `but` leaves some of it out.
 */
export function wasReported(
  memory: ComparisonSession,
  { sent, taken, side }: { readonly sent: Schema; readonly taken: Schema; readonly side: Side },
  rule: string,
  at: Affected,
  { but, effort = 'full' }: { readonly but?: IsExempt | undefined; readonly effort?: Budget } = {},
): boolean {
  const direction = memory.directions[side];
  const root = direction.web.nodeFor(sent, taken);
  if (root.isRefuted) resolveOpenPairs(direction, root, side, effort);
  const flaws = direction.web.failuresBelow(root);
  return addAffectedIfReported(memory, but === undefined ? flaws : without(flaws, but), () => rule, rule, at);
}

type IsExempt = (part: Pick<RootCause, 'sent' | 'taken'>) => boolean;

const withoutCache = new WeakMap<
  readonly PairNode<ContainmentFailure>[],
  WeakMap<IsExempt, readonly PairNode<ContainmentFailure>[]>
>();

/** The same list for the same question. */
function without(flaws: readonly PairNode<ContainmentFailure>[], but: IsExempt): readonly PairNode<ContainmentFailure>[] {
  const row = withoutCache.get(flaws) ?? new WeakMap<IsExempt, readonly PairNode<ContainmentFailure>[]>();
  withoutCache.set(flaws, row);
  const list = row.get(but) ?? flaws.filter((p) => !but({ sent: p.a, taken: p.b }));
  row.set(but, list);
  return list;
}

/** What is to blame for a pair that is not inside: the pair itself where no part of it is. */
export function rootCauses(
  memory: ComparisonSession,
  sent: Schema,
  taken: Schema,
  side: Side,
  effort?: Budget,
): readonly RootCause[] {
  const whole = containment(memory, sent, taken, side, effort);
  if (whole.kind === 'contained') return [];
  const direction = memory.directions[side];
  const root = direction.web.nodeFor(sent, taken);
  const flaws = direction.web.failuresBelow(root);
  const { blamed } = direction;
  if (blamed?.root === root && blamed.flaws === flaws && blamed.whole === whole) return blamed.list;
  const list = collectRootCauses(direction, root, flaws, whole, side);
  direction.blamed = { root, flaws, whole, list };
  return list;
}

function collectRootCauses(
  direction: SideState,
  root: PairNode<ContainmentFailure>,
  flaws: readonly PairNode<ContainmentFailure>[],
  whole: Exclude<Containment, { kind: 'contained' }>,
  side: Side,
): readonly RootCause[] {
  // What shows the whole shows its only flaw.
  const only = (): { readonly value: unknown } | undefined =>
    whole.kind === 'counterexample' && flaws.length === 1 ? { value: whole.witness } : undefined;
  const all = flaws.flatMap((pair): RootCause[] => {
    if (pair.localFailure === undefined || pair.localFailure.kind === 'open') return [];
    const body = (): WholeWitness => {
      for (let cuts = 0; cuts < MOST_CUTS; cuts++) {
        const reached = direction.web.shortestPath(root, pair);
        if (reached === undefined) return 'never';
        const found = liftWitness(direction, reached, side);
        if (found !== 'cut') return 'value' in found ? found : (only() ?? found);
        reinstate(direction.explained, direction.web);
      }
      return { why: `more than ${MOST_CUTS} ways` };
    };
    const pointer = (): string => direction.web.shortestPath(root, pair)?.pointer ?? '';
    return [{ cause: pair, sent: pair.a, taken: pair.b, pointer, verdict: pair.localFailure, body }];
  });
  // Where the whole could not be shown, what is wrong with its parts proves nothing: what is unknown of them is told alone.
  const kept = whole.kind === 'counterexample' ? all : all.filter((b) => b.verdict.kind === 'undecided');
  if (kept.some((b) => b.verdict.kind === 'counterexample') || (whole.kind === 'undecided' && kept.length > 0)) return kept;
  const body: WholeWitness = whole.kind === 'counterexample' ? { value: whole.witness } : whole;
  return [{ cause: root, sent: root.a, taken: root.b, pointer: () => '', verdict: whole, body: () => body }];
}
