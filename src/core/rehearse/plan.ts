/** Which requests are sent to a running service, and why each. */
import type { Context, Expectation } from '../checks/engine/context.ts';
import { requestWith } from '../routes/findings/shadow.ts';
import type { RoutingOutcome } from '../routes/follow/outcome.ts';
import { followWithFacts } from '../routes/follow/with-facts.ts';
import type { Router } from '../routes/index/router.ts';
import type { Request } from '../routes/request/request.ts';
import { ANY_METHOD } from '../routes/table/route.ts';

export interface Planned {
  readonly request: Request;
  readonly following: RoutingOutcome;
  /** `expectation` of the settings, or the `route` that it reaches. */
  readonly why: 'expectation' | 'route';
  readonly expectation?: Expectation;
}

export interface Plan {
  readonly planned: readonly Planned[];
  /** Routes whose methods are not sent, because they may change something. */
  readonly unsafe: number;
  /** Routes of which no request is known. */
  readonly unreached: number;
}

/** One request for each expectation, and one for each route and method that may be sent. O(routes), each as `check` finds it. */
export function planFor(context: Context, router: Router, methods: ReadonlySet<string>): Plan {
  const planned: Planned[] = [];
  const seen = new Set<string>();
  let [unsafe, unreached] = [0, 0];
  const add = (request: Request, more: Pick<Planned, 'why' | 'expectation'>): void => {
    const key = `${request.method} ${request.target} ${JSON.stringify(request.headers)}`;
    if (seen.has(key)) return;
    seen.add(key);
    planned.push({ request, following: followWithFacts(router, request), ...more });
  };
  for (const expectation of context.service.expectations ?? [])
    if (methods.has(expectation.request.method)) add(expectation.request, { why: 'expectation', expectation });
  const dead = context.dead();
  for (const route of router.table.routes) {
    if (route.isBarrier || dead.has(route)) continue;
    const own = route.methods.map((m) => (m === ANY_METHOD ? 'GET' : m));
    const sent = own.filter((m) => methods.has(m));
    if (sent.length < own.length) unsafe += 1;
    for (const method of sent) {
      const request = requestWith(router, route, method);
      if (request === undefined) unreached += 1;
      else add(request, { why: 'route' });
    }
  }
  return { planned, unsafe, unreached };
}
