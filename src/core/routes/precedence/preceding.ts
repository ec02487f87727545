/** Who takes requests away from a route: those that its router asks first. */

import type { Router } from '../index/router.ts';
import type { RouteShape } from '../index/segment-tree.ts';
import { overlapping } from '../reach/overlapping.ts';
import { sharesMethod } from '../reach/product.ts';
import { orderOf } from './precedence.ts';

/** The leaves of other routes that share a path with this one and go before it, in declared order. */
export function predecessorsOf(router: Router, leaf: RouteShape): readonly RouteShape[] {
  return overlapping(router.tree, leaf.shape)
    .filter(
      (o) => o.route !== leaf.route && sharesMethod(o.route, leaf.route, router.facts) && orderOf(router, o, leaf) === 'first',
    )
    .sort((a, b) => a.route.index - b.route.index);
}
