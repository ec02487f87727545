/** Two route tables, by what happens to requests. */

import { literalText } from '../paths/pattern.ts';
import { exampleFor } from '../routes/examples.ts';
import { follow } from '../routes/follow.ts';
import type { Following } from '../routes/following.ts';
import { samePath } from '../routes/precedence.ts';
import type { Request } from '../routes/request.ts';
import { routeTitle } from '../routes/route.ts';
import type { Router } from '../routes/router.ts';
import type { Leaf } from '../routes/tree.ts';
import { type Change, folded, type Made, plain, verdictOf } from './change.ts';
import type { Comparison } from './contracts.ts';

/** One witness for each route of either side and method whose requests fare otherwise now. */
export function compareTables(old: Router, now: Router): Comparison {
  const made: Made[] = [];
  const seen = new Set<string>();
  for (const request of [...requestsOf(old), ...requestsOf(now)]) {
    const key = `${request.method} ${request.target} ${JSON.stringify(request.headers)}`;
    if (seen.has(key)) continue;
    seen.add(key);
    const change = differing(old, now, request, follow(old, request), follow(now, request));
    if (change !== undefined) made.push(change);
  }
  const changes = folded(made.map((m) => ({ ...m, affects: [m.at] })));
  return { verdict: verdictOf(changes, true), claimed: null, changes };
}

function requestsOf(router: Router): readonly Request[] {
  return router.table.routes
    .filter((r) => !r.ends)
    .flatMap((route) =>
      router.leavesOf(route).flatMap((leaf) => route.methods.map((method) => exampleFor(router, leaf, method))),
    );
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
  const change = (rule: string, effect: Change['effect'], message: string, advice: string | null = null): Made => ({
    ...plain(at, `versions/${rule}`, effect, a?.route, b?.route),
    message,
    advice,
    witness: { kind: 'request', ...request, wasTakenBy: a?.route.handler ?? null, isTakenBy: b?.route.handler ?? null },
  });
  if (a === undefined && b === undefined) {
    if (was.status === is.status) return undefined;
    return change(
      'routing-answer',
      'risky',
      `${request.method} ${request.target} was answered ${was.status ?? was.outcome} and is answered ${is.status ?? is.outcome} now`,
    );
  }
  if (a === undefined)
    return change('routing-added', 'compatible', `${request.method} ${request.target} is taken by ${b?.route.handler} now`);
  if (b === undefined) {
    return change(
      'routing-lost',
      'breaking',
      `${request.method} ${request.target} was taken by ${a.route.handler} and is answered ${is.status ?? is.outcome} now`,
      `Declare ${routeTitle(a.route)} again, or redirect.`,
    );
  }
  if (sameRoute(old, now, a, b)) {
    if (a.route.handler === b.route.handler) return refused(was, is, change);
    return change('handler-renamed', 'compatible', `the handler of ${routeTitle(a.route)} is called ${b.route.handler} now`);
  }
  const literal = a.shape.every((p) => literalText(p) !== undefined) && b.shape.some((p) => literalText(p) === undefined);
  if (literal) {
    return change(
      'routing-fell-through',
      'breaking',
      `${request.method} ${request.target} was ${a.route.handler}'s own and falls into ${routeTitle(b.route)} now`,
      `Declare ${routeTitle(a.route)} again, ahead of it.`,
    );
  }
  if (a.route.handler === b.route.handler) return undefined;
  return change(
    'routing-taken',
    'breaking',
    `${request.method} ${request.target} was taken by ${a.route.handler} and is taken by ${b.route.handler} now`,
    'Restore the order, or the pattern.',
  );
}

function sameRoute(old: Router, now: Router, a: Leaf, b: Leaf): boolean {
  return samePath(old, a, b) && samePath(now, a, b);
}

function refused(
  was: Following,
  is: Following,
  change: (rule: string, effect: Change['effect'], message: string) => Made,
): Made | undefined {
  if (was.outcome === is.outcome) return undefined;
  const { request } = is;
  const worse = is.outcome === 'refused';
  return change(
    'routing-type',
    worse ? 'breaking' : 'compatible',
    `${request.method} ${request.target} was ${was.outcome} and is ${is.outcome}${is.status === null ? '' : ` (${is.status})`} now`,
  );
}
