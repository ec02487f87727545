import { decide } from '../../language/limits.ts';
import { sharedRequest } from '../../routes/findings/overlaps.ts';
import { follow } from '../../routes/follow/follow.ts';
import { areApart } from '../../routes/follow/gateway.ts';
import type { Router } from '../../routes/index/router.ts';
import { overlapping } from '../../routes/reach/overlapping.ts';
import { sharesMethod } from '../../routes/reach/product.ts';
import { type Route, routeTitle } from '../../routes/table/route.ts';
import { routerOf, type Service, spotOf, witnessOf } from '../engine/context.ts';
import type { Found } from '../engine/finding.ts';
import type { Rule } from '../engine/rule.ts';

export const claimedTwice: Rule = {
  id: 'paths/claimed-twice',
  level: 'error',
  messages: {
    one: '{route} and {other} of {service} match the same requests, and both services stand behind one gateway',
    more: '{route} and {other} of {service} match the same requests, the first of {count} such pairs of routes; both services stand behind one gateway',
  },
  advice: {
    mount: 'Mount one of the services elsewhere, or give the parameter of {path} a type that leaves the other service out.',
  },
  meta: {
    what: 'Two services behind one gateway whose routes match the same requests.',
    why: 'The gateway hands the request to one of them; the other never sees it, or sees it depending on the order of its settings.',
    example:
      'services:\n  - { name: tolls, routes: tolls.routes.yaml, mount: /tolls }             # GET /{tollId}\n  - { name: quotes, routes: quotes.routes.yaml, mount: /tolls/quotes }    # GET /, which is a tollId too',
    fix: 'Give each service a prefix of its own, or give the parameter a type that excludes the paths of the other service.',
  },
  check: ({ router, service }) =>
    // A gateway that is declared decides it: see hidden-by-service.ts.
    router === undefined || service.gateway !== undefined
      ? []
      : (service.earlier ?? []).flatMap((other) =>
          areApart(service.mount ?? '/', other.mount ?? '/') ? [] : (claims(router, other) ?? []),
        ),
};

/** What a router shares with an earlier service: the first pair with a request, and how many more there are. */
function claims(router: Router, other: Service): Found | undefined {
  if (other.table === undefined) return undefined;
  const theirs = routerOf(other);
  const pairs = router.table.routes.flatMap((route) => sharedWith(router, route, theirs) ?? []);
  const [first, ...more] = pairs;
  if (first === undefined) return undefined;
  return {
    message: more.length === 0 ? 'one' : 'more',
    advice: 'mount',
    data: {
      route: routeTitle(first.route),
      other: routeTitle(first.other),
      service: other.name,
      count: pairs.length,
      path: first.other.path,
    },
    at: spotOf(first.route),
    related: [first, ...more].map((p) => ({ role: `of ${other.name}`, ...spotOf(p.other) })),
    witness: witnessOf(theirs, first.request),
  };
}

function sharedWith(router: Router, route: Route, theirs: Router) {
  if (route.isBarrier) return undefined;
  for (const leaf of router.leavesOf(route)) {
    for (const other of overlapping(theirs.tree, leaf.shape)) {
      if (other.route.isBarrier || !sharesMethod(route, other.route, router.facts)) continue;
      const taken = decide(() =>
        sharedRequest(theirs, other, leaf, (f) => f.leaf !== undefined && follow(router, f.request).leaf?.route === route),
      );
      if (taken.decided && taken.value !== undefined) return { route, other: other.route, request: taken.value };
    }
  }
  return undefined;
}
