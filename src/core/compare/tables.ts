/** Two route tables, by what happens to requests. */

import { decide } from '../language/limits.ts';
import { literalText } from '../paths/pattern.ts';
import { changedLeaves } from '../routes/changed.ts';
import { cutsOf } from '../routes/cuts.ts';
import { exampleFor, examplesAmong } from '../routes/examples.ts';
import { follow } from '../routes/follow.ts';
import type { Following } from '../routes/following.ts';
import { samePath } from '../routes/precedence.ts';
import type { Request } from '../routes/request.ts';
import { routeTitle } from '../routes/route.ts';
import type { Router } from '../routes/router.ts';
import type { Leaf } from '../routes/tree.ts';
import { type Change, folded, type Made, plain, verdictOf } from './change.ts';
import type { Comparison } from './contracts.ts';
import type { ChangeRuleId } from './rules/index.ts';

/** More classes than this of one route's requests leave it undecided. */
const MOST_CLASSES = 300;

/**
 * One request for each class that the routes of both sides make of the reach of what is not the same in both; those that
 * fare otherwise now are told.
 */
export function compareTables(old: Router, now: Router): Comparison {
  const made: Made[] = [];
  const seen = new Set<string>();
  for (const asked of [...requestsOf(old, now), ...requestsOf(now, old)]) {
    if (!('target' in asked)) {
      made.push(asked);
      continue;
    }
    const key = `${asked.method} ${asked.target} ${JSON.stringify(asked.headers)}`;
    if (seen.has(key)) continue;
    seen.add(key);
    const change = differing(old, now, asked, follow(old, asked), follow(now, asked));
    if (change !== undefined) made.push(change);
  }
  const changes = folded(made.map((m) => ({ ...m, touches: [[m.at]] })));
  return { verdict: verdictOf(changes, true), claimed: null, changes };
}

/** The requests, and what could not be decided. */
function requestsOf(router: Router, other: Router): readonly (Request | Made)[] {
  return changedLeaves(router, other).flatMap((leaf) =>
    leaf.route.methods.flatMap((method) => requestsFor(router, other, leaf, method)),
  );
}

function requestsFor(router: Router, other: Router, leaf: Leaf, method: string): readonly (Request | Made)[] {
  const others = [...cutsOf(router, leaf), ...cutsOf(other, leaf)];
  // Who says nothing of Accept is answered by all that return something.
  const silent = [leaf, ...others].some((l) => l.route.conditions.returns !== undefined);
  const found = decide(() => [
    ...examplesAmong([router, other], leaf, method, others, MOST_CLASSES),
    ...(silent ? examplesAmong([router, other], returning(leaf), method, others.map(returning), MOST_CLASSES) : []),
  ]);
  if (found.decided) return found.value;
  const { route } = leaf;
  const at = { method, path: route.path, part: 'routing' as const, status: null, media: null };
  const message = `whether all requests of ${routeTitle(route)} fare as before could not be decided`;
  return [
    exampleFor(router, leaf, method),
    { ...plain(at, 'versions/routing-lost', 'undecided', route, route), message, undecided: found.why },
  ];
}

/** The same for those who take whatever is returned. */
function returning(leaf: Leaf): Leaf {
  const { returns: _, ...conditions } = leaf.route.conditions;
  return { ...leaf, route: { ...leaf.route, conditions } };
}

function differing(old: Router, now: Router, request: Request, was: Following, is: Following): Made | undefined {
  const [a, b] = [was.leaf, is.leaf];
  const at = {
    method: request.method,
    path: (a ?? b)?.route.path ?? request.target,
    part: 'routing' as const,
    status: is.status === null ? null : String(is.status),
    media: null,
  };
  const change = (rule: ChangeRuleId, effect: Change['effect'], message: string, advice: string | null = null): Made => ({
    ...plain(at, rule, effect, a?.route, b?.route),
    message,
    advice,
    witness: { kind: 'request', ...request, wasTakenBy: a?.route.handler ?? null, isTakenBy: b?.route.handler ?? null },
  });
  if (a !== undefined && b !== undefined && sameRoute(old, now, a, b)) {
    const typed = refused(was, is, change);
    if (typed !== undefined || a.route.handler === b.route.handler) return typed;
    // Only where the one is gone and the other was not there before is it a new name for the same.
    const had = (router: Router, handler: string): boolean => router.table.routes.some((r) => r.handler === handler);
    if (!had(old, b.route.handler) && !had(now, a.route.handler))
      return change(
        'versions/handler-renamed',
        'compatible',
        `the handler of ${routeTitle(a.route)} is called ${b.route.handler} now`,
      );
  }
  const [from, to] = [takerOf(was), takerOf(is)];
  const [before, after] = [was.status ?? was.outcome, is.status ?? is.outcome];
  if (from === undefined && to === undefined) {
    if (was.status === is.status) return undefined;
    return change(
      'versions/routing-answer',
      'risky',
      `${request.method} ${request.target} was answered ${before} and is answered ${after} now`,
    );
  }
  if (from === undefined)
    return change(
      'versions/routing-added',
      'compatible',
      `${request.method} ${request.target} is taken by ${to?.route.handler} now`,
    );
  if (to === undefined) {
    return change(
      'versions/routing-lost',
      'breaking',
      `${request.method} ${request.target} was taken by ${from.route.handler} and is answered ${after} now`,
      `Declare ${routeTitle(from.route)} again, or redirect.`,
    );
  }
  const literal = from.shape.every((p) => literalText(p) !== undefined) && to.shape.some((p) => literalText(p) === undefined);
  if (literal) {
    return change(
      'versions/routing-fell-through',
      'breaking',
      `${request.method} ${request.target} was ${from.route.handler}'s own and falls into ${routeTitle(to.route)} now`,
      `Declare ${routeTitle(from.route)} again, ahead of it.`,
    );
  }
  if (from.route.handler === to.route.handler) return undefined;
  return change(
    'versions/routing-taken',
    'breaking',
    `${request.method} ${request.target} was taken by ${from.route.handler} and is taken by ${to.route.handler} now`,
    'Restore the order, or the pattern.',
  );
}

/** Whose handler does what the request asks for: one that refuses a value doesn't. */
function takerOf({ leaf, outcome }: Following): Leaf | undefined {
  return outcome === 'refused' ? undefined : leaf;
}

function sameRoute(old: Router, now: Router, a: Leaf, b: Leaf): boolean {
  return samePath(old, a, b) && samePath(now, a, b);
}

/** A value that the handler refuses now, or no longer refuses. */
function refused(
  was: Following,
  is: Following,
  change: (rule: ChangeRuleId, effect: Change['effect'], message: string, advice?: string) => Made,
): Made | undefined {
  if (was.outcome === is.outcome) return undefined;
  const { method, target } = is.request;
  const answered = (f: Following): string => `refused${f.status === null ? '' : ` (${f.status})`}`;
  const handler = is.leaf?.route.handler;
  if (is.outcome !== 'refused')
    return change(
      'versions/routing-type',
      'compatible',
      `${method} ${target} was ${answered(was)} and is taken by ${handler} now`,
    );
  const why = is.why === undefined ? '' : `: ${is.why}`;
  return change(
    'versions/routing-type',
    'breaking',
    `${method} ${target} was taken by ${was.leaf?.route.handler} and is ${answered(is)} now${why}`,
    'Go on taking what was taken; what is narrower needs a version of its own.',
  );
}
