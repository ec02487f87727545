/** Who takes requests away from a route: those that its router asks first. */
import type { Shape } from '../paths/pattern.ts';
import { ofAnyMethod } from './cuts.ts';
import { isOneWay, REST } from './forks.ts';
import { orderOf, samePath } from './precedence.ts';
import { sharesMethod } from './reach.ts';
import type { Route } from './route.ts';
import type { Router } from './router.ts';
import { detours, type Leaf, overlapping } from './tree.ts';

/** A reach that is asked first, and the route to name for it; where they differ, the router stops there by its facts. */
export interface Rival {
  readonly leaf: Leaf;
  readonly route: Route;
}

/** The reaches of other routes that share a path with this leaf and go before it. */
export function rivalsOf(router: Router, leaf: Leaf): readonly Rival[] {
  const others = overlapping(router.tree, leaf.shape).filter((o) => o.route !== leaf.route);
  const refuse = router.facts.wrongMethod === 'refuse';
  const before = refuse
    ? beforeByPath(router, leaf, others)
    : others
        .filter((o) => sharesMethod(o.route, leaf.route) && orderOf(router, o, leaf) === 'first')
        .map((o): Rival => ({ leaf: o, route: o.route }));
  const rivals = [...before].sort((a, b) => a.route.index - b.route.index);
  return isOneWay(router) ? [...rivals, ...deadEndsOf(router, leaf)] : rivals;
}

/**
 * A router that answers as soon as a path fits: routes of one pattern are one path, as early as the first of them, and
 * a path that goes before takes every method.
 */
function beforeByPath(router: Router, leaf: Leaf, others: readonly Leaf[]): readonly Rival[] {
  const all = [leaf, ...others];
  /** The route that gives a path its place in the order. */
  const leaderOf = (l: Leaf): Leaf =>
    all.filter((o) => samePath(router, o, l)).reduce((first, o) => (orderOf(router, o, first) === 'first' ? o : first));
  return others.flatMap((other): Rival[] => {
    const leader = leaderOf(other);
    const order = samePath(router, other, leaf) ? 'tie' : orderOf(router, leader, leaderOf(leaf));
    // Of paths that nothing puts in order, and of one path, each route counts for itself.
    if (order === 'tie')
      return sharesMethod(other.route, leaf.route) && orderOf(router, other, leaf) === 'first'
        ? [{ leaf: other, route: other.route }]
        : [];
    return order === 'first' ? [{ leaf: ofAnyMethod(other), route: leader.route }] : [];
  });
}

/** What a better branch takes and never gives back, whether or not a route ends behind it. */
function deadEndsOf(router: Router, leaf: Leaf): readonly Rival[] {
  return detours(router.tree, leaf.shape).map(({ at, piece, route }): Rival => {
    const shape: Shape = [...leaf.shape.slice(0, at), piece, REST];
    return { leaf: ofAnyMethod({ shape, route: { ...route, conditions: {} } }), route };
  });
}
