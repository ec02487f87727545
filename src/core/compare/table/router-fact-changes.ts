/** Changes that come of a router fact and not of a route. */

import type { AnyFact } from '../../routes/examples/fact-probes.ts';
import type { RoutingOutcome } from '../../routes/follow/outcome.ts';
import type { Router } from '../../routes/index/router.ts';
import { rebuilt } from '../../routes/index/variants.ts';
import type { Request } from '../../routes/request/request.ts';
import type { Facts } from '../../routes/table/router-facts.ts';
import type { ChangeDraft } from '../changes/change.ts';
import { type Asked, seen } from './routing-changes.ts';

type Follow = (router: Router, request: Request) => RoutingOutcome;

/**
 * The fact because of which a request fares otherwise: with its old value it would fare as before. All that changed where
 * only together they do it; undefined where the routes are the cause.
 */
export function factOf(
  old: Router,
  now: Router,
  { was }: Asked,
  facts: readonly AnyFact[],
  follow: Follow,
): readonly AnyFact[] | undefined {
  const fixes = (names: readonly AnyFact[]): boolean => seen(follow(withFacts(now, old.facts, names), was.request)) === seen(was);
  const one = facts.find((name) => fixes([name]));
  if (one !== undefined) return [one];
  return facts.length > 1 && fixes(facts) ? facts : undefined;
}

/** The change under the name of the fact. */
export function factChange(old: Router, now: Router, names: readonly AnyFact[], change: ChangeDraft): ChangeDraft {
  const said = names.map((name) => `${name} was ${factText(old, name)} and is ${factText(now, name)} now`).join(', ');
  const place = ({ table }: Router): ChangeDraft['old'] => ({ file: table.place.file, pointer: '/router' });
  return {
    ...change,
    rule: 'versions/router-fact',
    value: names.join(),
    message: `${said}: ${change.message}`,
    old: place(old),
    new: place(now),
    advice: 'Leave the fact as it was, or say in the new version what changes for whom.',
  };
}

/** The value of a fact, as a table says it. */
export function factText({ facts }: Router, name: AnyFact): string {
  const value = facts[name];
  return typeof value === 'object' ? JSON.stringify(value) : value === Number.POSITIVE_INFINITY ? 'none' : String(value);
}

const routerCache = new WeakMap<Router, Map<string, Router>>();

/** The router with some facts of another. */
function withFacts(router: Router, facts: Facts, names: readonly AnyFact[]): Router {
  const known = routerCache.get(router) ?? new Map<string, Router>();
  routerCache.set(router, known);
  const key = names.join();
  const found = known.get(key) ?? rebuilt(router, router.table.routes, { ...router.facts, ...pick(facts, names) });
  known.set(key, found);
  return found;
}

function pick(facts: Facts, names: readonly AnyFact[]): Partial<Facts> {
  return Object.fromEntries(names.map((name) => [name, facts[name]]));
}
