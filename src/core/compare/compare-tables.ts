/** Two route tables, by what happens to requests. */

import { grouped } from '../base/grouped.ts';
import { type Decided, decide } from '../language/limits.ts';
import { exampleFor, requestsAmong, withoutHeaders, withoutIdleHeaders } from '../routes/examples/example-request.ts';
import { type AnyFact, changedFacts, probesFor } from '../routes/examples/fact-probes.ts';
import { changedLeaves } from '../routes/findings/changed-routes.ts';
import { follow } from '../routes/follow/follow.ts';
import type { Router } from '../routes/index/router.ts';
import type { RouteShape } from '../routes/index/segment-tree.ts';
import { partitioningShapes } from '../routes/reach/partition.ts';
import type { Request } from '../routes/request/request.ts';
import { ANY_METHOD, routeTitle } from '../routes/table/route.ts';
import { type Change, type ChangeDraft, mergeByCause, newChange, verdictOf } from './changes/change.ts';
import type { Comparison } from './compare-contracts.ts';
import { factChange, factOf, factText } from './table/router-fact-changes.ts';
import { type Asked, fareAlike, outcomeOf, routingChange, seen } from './table/routing-changes.ts';
import { askBoth, choosesOtherwise, inOtherLetters, mountsAmong, type Through } from './table/through-gateway.ts';

/** More classes than this of one route's requests leave it undecided. */
const MOST_CLASSES = 300;

/** A request, and the path of the route that it was made for. */
interface Question {
  readonly path: string;
  readonly request: Request;
}

/** Both tables, and what stands before them. */
interface Sides {
  readonly old: Router;
  readonly now: Router;
  readonly facts: readonly AnyFact[];
  readonly through: Through | undefined;
}

/**
 * One request for each class that the routes of both sides make of the reach of what is not the same in both, and for each
 * router fact that changed those by which it shows; those that fare otherwise now are told, one change for one cause.
 * Facts of which no request shows anything are named beside the changes. Where the tables are those of a service behind a
 * gateway, its other services may answer, and the routes whose requests it may pass on otherwise now are looked at too.
 */
export function compareTables(old: Router, now: Router, through?: Through): Comparison {
  const made: ChangeDraft[] = [];
  const known = new Set<string>();
  const facts = changedFacts(old.facts, now.facts);
  const sides = { old, now, facts, through };
  const shown = new Set<AnyFact>();
  const together = new Map<ChangeDraft, string>();
  for (const asked of [...questionsOf(old, now, sides), ...questionsOf(now, old, sides)]) {
    if (!('request' in asked)) {
      made.push(asked);
      continue;
    }
    const key = `${asked.request.method} ${asked.request.target} ${JSON.stringify(asked.request.headers)}`;
    if (known.has(key)) continue;
    known.add(key);
    const pair = differing(sides, asked);
    if (pair === undefined) continue;
    const fact = pair.moved === undefined ? factOf(old, now, pair, facts, outcomeOf) : undefined;
    const change = routingChange(old, now, pair);
    if (change === undefined) continue;
    for (const name of fact ?? []) shown.add(name);
    if (pair.moved !== undefined && MOVED.test(change.rule)) together.set(change, `${pair.moved.from} -> ${pair.moved.to}`);
    made.push(fact === undefined ? change : factChange(old, now, fact, change));
  }
  const changes = mergeByCause(oneForEach(made, together));
  const unshown = facts.filter((f) => !shown.has(f));
  return {
    verdict: verdictOf(changes, true),
    claimed: null,
    changes,
    factsWithoutEffect: unshown.map((name) => describedFact(old, now, name)),
  };
}

/** Both answers where they differ, to the request without headers that make no difference. */
function differing({ old, now, through }: Sides, { path, request }: Question): Asked | undefined {
  const pair = (r: Request): Asked & { readonly isOwn?: boolean } =>
    through === undefined ? { path, was: outcomeOf(old, r), is: outcomeOf(now, r) } : askBoth(through, path, r);
  const whole = pair(request);
  if (fareAlike(whole) || whole.isOwn === false) return undefined;
  const isAs = ({ was, is, moved, isOwn }: ReturnType<typeof pair>): boolean =>
    seen(was) === seen(whole.was) && seen(is) === seen(whole.is) && moved?.to === whole.moved?.to && isOwn === whole.isOwn;
  const plain = pair(
    through === undefined ? withoutIdleHeaders([old, now], request) : withoutHeaders(request, (r) => isAs(pair(r))),
  );
  return isAs(plain) ? plain : whole;
}

function describedFact(old: Router, now: Router, name: AnyFact): NonNullable<Comparison['factsWithoutEffect']>[number] {
  return { fact: name, was: factText(old, name), is: factText(now, name) };
}

/** What a mount does to all routes below it is one change; another handler is one for each pair of them. */
const MOVED = /\/routing-(?:lost|moved|answer|added)$/u;

/**
 * Merges changes that have one cause, and keeps the text of the first: those of a path that nobody handles, those of the same two
 * routes, and those of all routes that went from one service to another (`together` names the two).
 */
function oneForEach(made: readonly ChangeDraft[], together: ReadonlyMap<ChangeDraft, string>): readonly Change[] {
  const groups = grouped(made, (m) => causeKey(m, together.get(m)));
  return groups.map((group): Change => {
    const [first] = group;
    const value = first.rule === 'versions/router-fact' ? null : first.value;
    // What nobody handles is asked with two methods for each path.
    const named = new Set(
      group.map(({ at, rule }) => (rule === 'versions/routing-answer' ? at.path : `${at.method} ${at.path}`)),
    );
    const more = together.has(first) ? named.size - 1 : 0;
    const message = more > 0 ? `${first.message} (and ${more} more)` : first.message;
    return { ...first, value, message, touches: [group.map((m) => m.at)] };
  });
}

function causeKey({ rule, effect, at, value, undecided, old, new: now }: ChangeDraft, together: string | undefined): string {
  const spot = (p: ChangeDraft['old']): string => (p === undefined ? '' : `${p.file}#${p.pointer}`);
  if (undecided !== null && rule !== 'versions/router-fact') return `${rule} ${undecided}`;
  if (together !== undefined) return `${rule} ${effect} ${together}`;
  if (rule === 'versions/routing-answer') return `${rule} ${effect} ${at.path}`;
  if (rule === 'versions/router-fact') return `${rule} ${effect} ${value}`;
  return [rule, effect, spot(old), spot(now)].join(' ');
}

/** The requests, and what could not be decided. */
function questionsOf(router: Router, other: Router, sides: Sides): readonly (Question | ChangeDraft)[] {
  const { through } = sides;
  const isEvery = through !== undefined && choosesOtherwise(through);
  const leaves = isEvery ? router.table.routes.flatMap((route) => router.leavesOf(route)) : changedLeaves(router, other);
  return leaves.flatMap((leaf): readonly (Question | ChangeDraft)[] => {
    const { route } = leaf;
    if (route.conditions.version !== undefined && router.versioning === undefined) return [versionUnknown(leaf)];
    const methods = route.methods.flatMap((m) => (m === 'GET' && (hasHead(router) || hasHead(other)) ? [m, 'HEAD'] : [m]));
    return [...methods.flatMap((method) => questionsFor(router, other, leaf, method, sides)), ...unhandled(router, other, leaf)];
  });
}

/** Do routes of their own answer HEAD? */
function hasHead({ table }: Router): boolean {
  return table.routes.some((r) => r.methods.includes('HEAD'));
}

function versionUnknown({ route }: RouteShape): ChangeDraft {
  const at = { method: route.methods[0] ?? ANY_METHOD, path: route.path, part: 'routing' as const, status: null, media: null };
  return {
    ...newChange(at, 'versions/routing-answer', 'undecided', route, route),
    message: `whether requests of ${routeTitle(route)} for version ${route.conditions.version?.join(', ')} fare as before could not be decided`,
    undecided: 'that nothing says where a request names its version (versioning: in elm-gate.yaml)',
  };
}

function questionsFor(
  router: Router,
  other: Router,
  leaf: RouteShape,
  method: string,
  { facts, through }: Sides,
): readonly (Question | ChangeDraft)[] {
  const { route } = leaf;
  const own = [...partitioningShapes(router, leaf), ...partitioningShapes(other, leaf)];
  const among = through === undefined ? undefined : mountsAmong(through, router, leaf);
  const found = classesOf([router, other], leaf, method, [...own, ...(among?.mounts ?? [])], among?.rivals);
  if (found.decided) {
    const asked = found.value.requests.flatMap((request) => [
      request,
      ...(found.value.isSilent ? formats(router, other, request) : []),
      ...(facts.length > 0 ? probesFor(request, leaf, [router.facts, other.facts], facts) : []),
    ]);
    const spelled = through === undefined ? [] : asked.flatMap((request) => inOtherLetters(through, request));
    return [...asked, ...spelled].map((request) => ({ path: route.path, request }));
  }
  const at = { method, path: route.path, part: 'routing' as const, status: null, media: null };
  const message = `whether all requests of ${routeTitle(route)} fare as before could not be decided`;
  return [
    { path: route.path, request: exampleFor(router, leaf, method) },
    { ...newChange(at, 'versions/routing-lost', 'undecided', route, route), message, undecided: found.why },
  ];
}

interface Classes {
  readonly requests: readonly Request[];
  /** Some route returns a type: who says nothing of Accept is answered by all that do. */
  readonly isSilent: boolean;
}

/** One request for each class; `more` tells them apart more finely, where there are few enough then. */
function classesOf(
  routers: readonly [Router, Router],
  leaf: RouteShape,
  method: string,
  others: readonly RouteShape[],
  more: (() => readonly RouteShape[]) | undefined,
): Decided<Classes> {
  const isSilent = [leaf, ...others].some((l) => l.route.conditions.returns !== undefined);
  const among = (shapes: readonly RouteShape[]): Decided<Classes> =>
    decide(() => ({
      isSilent,
      requests: [
        ...requestsAmong(routers, leaf, method, shapes, MOST_CLASSES, 'all'),
        ...(isSilent ? requestsAmong(routers, returning(leaf), method, shapes.map(returning), MOST_CLASSES, 'all') : []),
      ],
    }));
  const finer = more?.() ?? [];
  const fine = finer.length === 0 ? undefined : among([...others, ...finer]);
  return fine?.decided === true ? fine : among(others);
}

/** The same for those who take whatever is returned. */
function returning(leaf: RouteShape): RouteShape {
  const { returns: _, ...conditions } = leaf.route.conditions;
  return { ...leaf, route: { ...leaf.route, conditions } };
}

/** The same request of clients that ask for each type which either side returns, and of one that asks for none. */
function formats(router: Router, other: Router, request: Request): readonly Request[] {
  const { Accept: _, ...headers } = request.headers;
  const bare = { ...request, headers };
  const types = [router, other].flatMap((r) => [request, bare].flatMap((q) => follow(r, q).leaf?.route.conditions.returns ?? []));
  return [bare, ...[...new Set(types)].map((Accept) => ({ ...bare, headers: { ...headers, Accept } }))];
}

/** What is answered to a method that nobody handles, and to OPTIONS. */
function unhandled(router: Router, other: Router, leaf: RouteShape): readonly Question[] {
  const usual = decide(() => exampleFor(router, leaf, leaf.route.methods[0] as string));
  if (!usual.decided) return [];
  const free = ['DELETE', 'PATCH', 'PUT', 'POST', 'GET'].find((method) =>
    [router, other].every((r) => follow(r, { ...usual.value, method }).leaf === undefined),
  );
  return [free ?? 'TRACE', 'OPTIONS'].map((method) => ({ path: leaf.route.path, request: { ...usual.value, method } }));
}
