/** Which requests are sent to a running service, and why each. */

import type { Context, Expectation } from '../checks/engine/context.ts';
import { isPassedTo } from '../checks/engine/follow-services.ts';
import type { Operation } from '../contract/model/contract.ts';
import { sampleRequest } from '../contract/request/sample-request.ts';
import { requestWith } from '../routes/findings/shadow.ts';
import type { RoutingOutcome } from '../routes/follow/outcome.ts';
import { followWithFacts } from '../routes/follow/with-facts.ts';
import type { Router } from '../routes/index/router.ts';
import type { Request } from '../routes/request/request.ts';
import { ANY_METHOD, type Route } from '../routes/table/route.ts';
import { slotsOf, templateOf } from './keys.ts';

export interface Planned {
  readonly request: Request;
  readonly following: RoutingOutcome;
  /** `expectation` of the settings, the `route` that it reaches, a step of a `life`, or its `end`: the item was deleted. */
  readonly why: 'expectation' | 'route' | 'life' | 'end';
  readonly expectation?: Expectation;
}

/** What is created is read, changed and deleted again. */
export interface Life {
  readonly create: Planned;
  /** The name of the parameter that takes the key of what was created. */
  readonly parameter: string;
  /** In the order in which they are sent. */
  readonly steps: readonly Planned[];
}

export interface Plan {
  readonly planned: readonly Planned[];
  readonly lives: readonly Life[];
  /** Routes whose methods are not sent, because they may change something. */
  readonly unsafe: number;
  /** Routes of which no request is known. */
  readonly unreached: number;
}

const LIFE = ['GET', 'PUT', 'PATCH', 'DELETE'] as const;

/** One request for each expectation, and one for each route and method that may be sent. O(routes), each as `check` finds it. */
export function planFor(context: Context, router: Router, methods: ReadonlySet<string>): Plan {
  const planned = new Map<string, Planned>();
  let [unsafe, unreached] = [0, 0];
  const add = (request: Request, more: Pick<Planned, 'why' | 'expectation'>): void => {
    const key = `${request.method} ${request.target} ${JSON.stringify(request.headers)}`;
    if (!planned.has(key)) planned.set(key, { request, following: followWithFacts(router, request), ...more });
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
      const request = requestOf(context, router, route, method);
      // What a gateway passes to another service reaches no route of this one.
      if (request === undefined || !isPassedTo(context.service, request)) unreached += 1;
      else add(request, { why: 'route' });
    }
  }
  const all = [...planned.values()];
  const lives = livesOf(all);
  const inLives = new Set(lives.flatMap((l) => [l.create, ...l.steps].map((s) => s.request)));
  return { planned: all.filter((p) => p.request.method === 'GET' || !inLives.has(p.request)), lives, unsafe, unreached };
}

/** As the document describes it, where that reaches the route; otherwise as the table alone has it. */
function requestOf(context: Context, router: Router, route: Route, method: string): Request | undefined {
  const plain = requestWith(router, route, method);
  const documented = context
    .pairing()
    ?.documentedBy.get(route)
    ?.find((d) => d.operation.method === method);
  if (plain === undefined || documented === undefined) return plain;
  const sample = sampleRequest(documented.operation as Operation, '');
  if (typeof sample === 'string') return plain;
  const [, query] = sample.target.split(/\?(.*)/su);
  const target = plain.target.includes('?') || query === undefined ? plain.target : `${plain.target}?${query}`;
  const request = { ...sample, target, headers: { ...sample.headers, ...plain.headers } };
  return followWithFacts(router, request).leaf?.route === route ? request : plain;
}

/** A creation and what may be done with its item; where nothing deletes it nothing is created. */
function livesOf(planned: readonly Planned[]): readonly Life[] {
  return planned.flatMap((create) => {
    const shape = create.following.leaf?.shape;
    if (create.why !== 'route' || create.request.method !== 'POST' || shape === undefined) return [];
    const template = templateOf(shape, shape.length);
    const items = planned.filter(({ why, following: { leaf } }) => {
      if (why !== 'route' || leaf === undefined || leaf.shape.length !== shape.length + 1) return false;
      return templateOf(leaf.shape, shape.length) === template && slotsOf(leaf.shape).some((s) => s.at === shape.length);
    });
    const by = (method: string): Planned | undefined => items.find((p) => p.request.method === method);
    const [read, gone] = [by('GET'), by('DELETE')];
    const [slot] = slotsOf(gone?.following.leaf?.shape ?? []).slice(-1);
    if (gone === undefined || slot === undefined) return [];
    const steps = LIFE.flatMap((m) => by(m) ?? []).map((p): Planned => ({ ...p, why: 'life' }));
    const end: readonly Planned[] = read === undefined ? [] : [{ ...read, why: 'end' }];
    return [{ create, parameter: slot.name, steps: [...steps, ...end] }];
  });
}
