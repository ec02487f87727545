/** Routes with equal reach, and patterns that differ in names alone. */
import { parametersOf } from '../../paths/pattern.ts';
import { exampleFor } from '../examples/example-request.ts';
import type { Router } from '../index/router.ts';
import type { RouteShape } from '../index/segment-tree.ts';
import { samePath } from '../precedence/precedence.ts';
import { overlapping } from '../reach/overlapping.ts';
import { sharesMethod } from '../reach/product.ts';
import type { Request } from '../request/request.ts';
import type { Route } from '../table/route.ts';
import { equalReach } from './shadow.ts';

export interface Duplicate {
  readonly route: Route;
  /** The one declared before it. */
  readonly other: Route;
  readonly witness: Request;
}

/** Each route that matches the same requests as an earlier one, whatever its parameters are called. */
export function duplicates(router: Router): readonly Duplicate[] {
  return earlier(router, (a, b) => sharesMethod(a.route, b.route, router.facts) && equalReach(router, a, b));
}

/** Each route whose path is an earlier one's with other parameter names; with `perMethod` only where their methods meet. */
export function renamed(router: Router, perMethod: boolean): readonly Duplicate[] {
  const names = (l: RouteShape): string =>
    parametersOf(l.route.pattern)
      .map((p) => p.name)
      .join();
  const meet = (a: RouteShape, b: RouteShape): boolean => !perMethod || sharesMethod(a.route, b.route, router.facts);
  return earlier(router, (a, b) => names(a) !== names(b) && meet(a, b) && samePath(router, a, b));
}

function earlier(router: Router, same: (a: RouteShape, b: RouteShape) => boolean): readonly Duplicate[] {
  const found: Duplicate[] = [];
  for (const route of router.table.routes) {
    const [leaf, ...more] = router.leavesOf(route);
    if (route.isBarrier || leaf === undefined) continue;
    const others = overlapping(router.tree, leaf.shape);
    if (others.length < 2) continue;
    const other = others.find(
      (o) =>
        o.route.index < route.index &&
        !o.route.isBarrier &&
        router.leavesOf(o.route).length === more.length + 1 &&
        same(leaf, o) &&
        more.every((m) => router.leavesOf(o.route).some((x) => same(m, x))),
    );
    if (other !== undefined)
      found.push({ route, other: other.route, witness: exampleFor(router, leaf, route.methods[0] as string) });
  }
  return found;
}
