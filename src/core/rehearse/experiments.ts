/** Requests whose answers tell the values of assumed router facts apart, computed on the table itself. */

import { grouped } from '../base/grouped.ts';
import { parametersOf } from '../paths/pattern.ts';
import { exampleFor } from '../routes/examples/example-request.ts';
import { probesFor } from '../routes/examples/fact-probes.ts';
import { follow } from '../routes/follow/follow.ts';
import type { RoutingOutcome } from '../routes/follow/outcome.ts';
import type { Router } from '../routes/index/router.ts';
import { variantOf } from '../routes/index/variants.ts';
import type { Request } from '../routes/request/request.ts';
import { ANY_METHOD } from '../routes/table/route.ts';
import { FACT_NAMES, FACTS, type FactName } from '../routes/table/router-facts.ts';
import { type Answer, judgeAnswer } from './answer.ts';

/** What one request would get under each value of a fact. */
export interface Experiment {
  readonly fact: FactName;
  readonly request: Request;
  /** The usual request of the route: an answer counts where this one fares as the model says. */
  readonly control: RoutingOutcome;
  readonly byValue: ReadonlyMap<string, RoutingOutcome>;
}

export interface Experiments {
  /** For each fact the fewest requests that were found to tell its values apart. */
  readonly list: readonly Experiment[];
  /** Assumed facts that no request on this table shows: nothing rests on them. */
  readonly withoutEffect: readonly FactName[];
}

/** So many routes are tried for one fact. */
const MOST_ROUTES = 60;

/** O(assumed facts x values x routes tried), each request followed once for each value. */
export function experimentsFor(router: Router, methods: ReadonlySet<string>): Experiments {
  const list: Experiment[] = [];
  const withoutEffect: FactName[] = [];
  for (const fact of FACT_NAMES) {
    if (!router.facts.assumed.has(fact)) continue;
    const found = experimentsOn(router, fact, methods);
    if (found.length === 0) withoutEffect.push(fact);
    else list.push(...found);
  }
  return { list, withoutEffect };
}

/** Requests, until all values that can be told apart from the assumed one are. */
function experimentsOn(router: Router, fact: FactName, methods: ReadonlySet<string>): readonly Experiment[] {
  const values = FACTS[fact].values as readonly string[];
  const variants = new Map(values.map((value) => [value, variantOf(router, fact, value)]));
  const facts = [...variants.values()].map((v) => v.facts);
  const open = new Set(values.filter((v) => v !== router.facts[fact]));
  const out: Experiment[] = [];
  // Of a path without parameters no answer can mean that there is no such item.
  const routes = [...router.table.routes].sort((a, b) => parametersOf(a.pattern).length - parametersOf(b.pattern).length);
  for (const route of routes.slice(0, MOST_ROUTES)) {
    if (open.size === 0) break;
    const [leaf] = router.leavesOf(route);
    const method = route.methods.map((m) => (m === ANY_METHOD ? 'GET' : m)).find((m) => methods.has(m)) ?? 'GET';
    if (leaf === undefined || route.isBarrier) continue;
    const usual = { ...exampleFor(router, leaf, method), method };
    for (const request of [usual, ...probesFor(usual, leaf, facts, [fact])]) {
      if (!methods.has(request.method)) continue;
      const byValue = new Map([...variants].map(([value, variant]) => [value, follow(variant, request)]));
      const own = outwardly(byValue.get(String(router.facts[fact])) as RoutingOutcome);
      const told = [...open].filter((v) => outwardly(byValue.get(v) as RoutingOutcome) !== own);
      if (told.length === 0) continue;
      for (const v of told) open.delete(v);
      out.push({ fact, request, control: follow(router, usual), byValue });
    }
  }
  return out;
}

/** What can be seen of an outcome from outside: handlers can't, unless their answers differ in status. */
function outwardly({ outcome, status, allow }: RoutingOutcome): string {
  if (outcome === 'routed') return 'routed';
  return `${status ?? outcome} ${[...(allow ?? [])].sort().join()}`;
}

export interface FactResult {
  readonly fact: FactName;
  readonly assumed: string;
  /** Values that no answer contradicts. */
  readonly consistent: readonly string[];
  readonly state: 'confirmed' | 'contradicted' | 'open';
  /** Where no value explains the answers alone: what explains them together with another fact, each as `fact: value, fact: value`. */
  readonly together: readonly string[];
  /** The requests that told it. */
  readonly requests: readonly Request[];
}

/**
 * The values of each fact that are consistent with all answers. An answer counts where the usual request of its route fared as
 * the model says: of a service that does not have the route no answer tells anything. Where none decides a fact stays open.
 */
export function factsBy(
  router: Router,
  experiments: readonly Experiment[],
  answerTo: (request: Request) => Answer | undefined,
): readonly FactResult[] {
  const isSound = ({ control }: Experiment): boolean => {
    const answer = answerTo(control.request);
    return answer !== undefined && judgeAnswer(control, answer).verdict === 'agrees';
  };
  return grouped(experiments, (e) => e.fact).map((own): FactResult => {
    const [{ fact }] = own;
    const values = FACTS[fact].values as readonly string[];
    const assumed = String(router.facts[fact]);
    const told = own.filter(isSound).map((e) => [e, answerTo(e.request)] as const);
    const consistent = values.filter((value) =>
      told.every(([e, a]) => a === undefined || judgeAnswer(e.byValue.get(value) as RoutingOutcome, a).verdict !== 'contradicts'),
    );
    const together = consistent.length > 0 ? [] : pairsFor(router, fact, told);
    // An answer decides where it contradicts one of the values at least.
    const decides = consistent.length < values.length;
    const state =
      !decides || consistent.length + together.length === 0
        ? 'open'
        : consistent.includes(assumed)
          ? 'confirmed'
          : 'contradicted';
    return { fact, assumed, consistent, state, together, requests: own.map((e) => e.request) };
  });
}

/** So many pairs are named. */
const MAX_PAIRS = 3;

/** Values of the fact and of one other assumed fact that explain all answers together. O(facts x values squared x answers). */
function pairsFor(
  router: Router,
  fact: FactName,
  told: readonly (readonly [Experiment, Answer | undefined])[],
): readonly string[] {
  const pairs: string[] = [];
  for (const other of FACT_NAMES) {
    if (other === fact || !router.facts.assumed.has(other)) continue;
    for (const theirs of FACTS[other].values as readonly string[]) {
      if (theirs === String(router.facts[other])) continue;
      const changed = variantOf(router, other, theirs);
      for (const own of FACTS[fact].values as readonly string[]) {
        const variant = variantOf(changed, fact, own);
        if (told.some(([e, a]) => a !== undefined && judgeAnswer(follow(variant, e.request), a).verdict === 'contradicts'))
          continue;
        pairs.push(`${fact}: ${own}, ${other}: ${theirs}`);
        if (pairs.length === MAX_PAIRS) return pairs;
      }
    }
  }
  return pairs;
}
