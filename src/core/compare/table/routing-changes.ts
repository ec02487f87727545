/** What became of one request under two route tables, as a change. */
import { literalText } from '../../paths/pattern.ts';
import { follow } from '../../routes/follow/follow.ts';
import type { RoutingOutcome } from '../../routes/follow/outcome.ts';
import { followWithFacts } from '../../routes/follow/with-facts.ts';
import type { Router } from '../../routes/index/router.ts';
import type { RouteShape } from '../../routes/index/segment-tree.ts';
import { samePath } from '../../routes/precedence/precedence.ts';
import type { Request } from '../../routes/request/request.ts';
import { headerOf } from '../../routes/request/requested-version.ts';
import { routeTitle } from '../../routes/table/route.ts';
import { type Change, type ChangeDraft, newChange } from '../changes/change.ts';
import type { ChangeRuleId } from '../changes/rules/index.ts';

/** One request with its two answers, and the path that it was made for. */
export interface Asked {
  readonly path: string;
  readonly was: RoutingOutcome;
  readonly is: RoutingOutcome;
  /** The services behind a gateway that answer, where it is another one now. */
  readonly moved?: Moved | undefined;
}

export interface Moved {
  /** As a sentence names them: a service, or the gateway that passes it to none. */
  readonly from: string;
  readonly to: string;
  /** The service that answered has no route with that handler any more. */
  readonly hasLeft: boolean;
}

/** What is unknown of a router leaves an outcome undecided where it matters. */
export function outcomeOf(router: Router, request: Request): RoutingOutcome {
  return Object.values(router.facts).includes('unknown') ? followWithFacts(router, request) : follow(router, request);
}

/** Whose handler does what the request asks for: one that refuses a value doesn't. */
export function takerOf({ leaf, outcome }: RoutingOutcome): RouteShape | undefined {
  return outcome === 'routed' ? leaf : undefined;
}

/** What a client sees of an answer; equal ones are no change. */
export function seen(following: RoutingOutcome): string {
  const { outcome, status, allow, responseType } = following;
  const handler = takerOf(following)?.route.handler;
  return JSON.stringify([
    outcome,
    status,
    handler ?? null,
    handler === undefined ? (allow ?? null) : null,
    responseType?.type ?? null,
  ]);
}

/** Is it all the same to a client? The same handler of another service is another handler. */
export function fareAlike({ was, is, moved }: Asked): boolean {
  return seen(was) === seen(is) && (moved === undefined || takerOf(is) === undefined);
}

/** The change that the request shows; undefined where nobody is told apart by it. */
export function routingChange(old: Router, now: Router, question: Asked): ChangeDraft | undefined {
  if (fareAlike(question)) return undefined;
  const { path, was, is, moved } = question;
  const [a, b] = [was.leaf, is.leaf];
  const { method, target } = was.request;
  const status = is.status === null ? null : String(is.status);
  const at = { method, path, part: 'routing' as const, status, media: null };
  const change: NewChange = (rule, effect, message, advice = null) => ({
    ...newChange(at, rule, effect, a?.route, b?.route),
    message,
    advice,
    witness: witnessOf(was, is),
  });
  const asked = `${method} ${target}${negotiated(was)}`;
  if (was.outcome === 'undecided' || is.outcome === 'undecided') {
    const why = (is.outcome === 'undecided' ? is.why : was.why) ?? 'its outcome is unknown';
    return {
      ...change('versions/routing-answer', 'undecided', `whether ${asked} fares as before could not be decided`),
      undecided: why,
    };
  }
  const [from, to] = [takerOf(was), takerOf(is)];
  if (from !== undefined && to !== undefined && moved !== undefined) return movedChange(now, from, to, asked, moved, change);
  if (from !== undefined && to !== undefined) return handlerChange([old, was, from], [now, is, to], asked, change);
  if (
    moved === undefined &&
    a !== undefined &&
    b !== undefined &&
    (was.outcome === 'refused') !== (is.outcome === 'refused') &&
    samePath(now, a, b)
  )
    return refused(asked, was, is, change);
  return answerChange(question, asked, change);
}

type NewChange = (rule: ChangeRuleId, effect: Change['effect'], message: string, advice?: string | null) => ChangeDraft;

type Handled = readonly [router: Router, outcome: RoutingOutcome, taker: RouteShape];

/** Both sides have a handler for it. */
function handlerChange(
  [old, was, from]: Handled,
  [now, is, to]: Handled,
  asked: string,
  change: NewChange,
): ChangeDraft | undefined {
  const hasSameName = from.route.handler === to.route.handler;
  if (!hasSameName && !isRenamed(old, now, from, to)) return taken(asked, from, to, change);
  if (was.responseType !== undefined && is.responseType !== undefined && was.responseType.type !== is.responseType.type)
    return otherType(was, is, change);
  // The same handler by another route is no change at all.
  if (hasSameName) return undefined;
  const message = `the handler of ${routeTitle(from.route)} is called ${to.route.handler} now`;
  return change('versions/handler-renamed', 'compatible', message);
}

/** Another service behind the gateway handles it: one that took the route over, or one that gets in its way. */
function movedChange(
  now: Router,
  from: RouteShape,
  to: RouteShape,
  asked: string,
  moved: Moved,
  change: NewChange,
): ChangeDraft | undefined {
  if (moved.hasLeft && samePath(now, from, to))
    return change(
      'versions/routing-moved',
      'risky',
      `${routeTitle(from.route)} was handled by ${moved.from} and is handled by ${moved.to} now`,
      'Nothing, if it was meant.',
    );
  const [before, after] = [`${from.route.handler} of ${moved.from}`, `${to.route.handler} of ${moved.to}`];
  return change(
    'versions/routing-taken',
    'breaking',
    `${asked} was handled by ${before} and is handled by ${after} now`,
    'Restore the mounts, or their order.',
  );
}

/** One side or both have no handler for it. */
function answerChange({ was, is, moved }: Asked, asked: string, change: NewChange): ChangeDraft {
  const [from, to] = [takerOf(was), takerOf(is)];
  const [before, after] = [answerOf(was), answerOf(is)];
  if (from === undefined && to === undefined) {
    // A path that nobody knew is one now, or knows more methods; whoever asked for it got less than that.
    const came = was.outcome === 'not-found' && is.outcome !== 'not-found';
    const hasGrown = was.status === is.status && was.allow?.every((method) => is.allow?.includes(method)) === true;
    const message = `${asked} was answered ${before} and is answered ${after} now`;
    return change('versions/routing-answer', came || hasGrown ? 'compatible' : 'risky', message);
  }
  if (from === undefined)
    return change('versions/routing-added', 'compatible', `${asked} is handled by ${to?.route.handler ?? 'the router'} now`);
  const who = moved === undefined ? '' : `by ${moved.to} `;
  const message = `${asked} was handled by ${from.route.handler} and is answered ${after} ${who}now`;
  return change('versions/routing-lost', 'breaking', message, moved === undefined ? adviceFor(was, is) : MOUNT_ADVICE);
}

const MOUNT_ADVICE = 'Declare the route in the service that is asked now, or restore the mounts.';

function adviceFor(was: RoutingOutcome, is: RoutingOutcome): string {
  if (is.outcome === 'not-acceptable' && was.responseType !== undefined) return `Keep returning ${was.responseType.type}.`;
  if (is.outcome === 'unsupported-media-type') return 'Keep accepting this type.';
  return `Declare ${was.leaf === undefined ? 'it' : routeTitle(was.leaf.route)} again, or redirect.`;
}

/** The request as a witness, with who took it and who takes it. */
export function witnessOf(was: RoutingOutcome, is: RoutingOutcome): NonNullable<Change['witness']> {
  const { method, target, headers } = was.request;
  return {
    kind: 'request',
    method,
    target,
    headers,
    wasTakenBy: was.leaf?.route.handler ?? null,
    isTakenBy: is.leaf?.route.handler ?? null,
  };
}

/** Status and Allow, where one comes. */
export function answerOf({ status, outcome, allow }: RoutingOutcome): string {
  const methods = allow === null ? '' : ` (Allow: ${allow.join(', ')})`;
  return `${status ?? (outcome === 'routed' ? 'by the router itself' : outcome)}${methods}`;
}

/** The headers that media types are told by. */
function negotiated({ request }: RoutingOutcome): string {
  const said = ['Accept', 'Content-Type'].flatMap((name) => {
    const text = headerOf(request, name);
    return text === undefined ? [] : [`${name}: ${text}`];
  });
  return said.length === 0 ? '' : ` (${said.join(', ')})`;
}

/** A new name for the same: the old one stands nowhere any more, and the new one stood nowhere before. */
function isRenamed(old: Router, now: Router, a: RouteShape, b: RouteShape): boolean {
  return !has(old, b.route.handler) && !has(now, a.route.handler) && samePath(old, a, b) && samePath(now, a, b);
}

const handlerNames = new WeakMap<Router['table'], ReadonlySet<string>>();

function has({ table }: Router, handler: string): boolean {
  const known = handlerNames.get(table) ?? new Set(table.routes.map((r) => r.handler));
  handlerNames.set(table, known);
  return known.has(handler);
}

type Make = (rule: ChangeRuleId, effect: Change['effect'], message: string, advice?: string) => ChangeDraft;

function taken(asked: string, from: RouteShape, to: RouteShape, change: Make): ChangeDraft {
  const isLiteral = (l: RouteShape): boolean => l.shape.every((p) => literalText(p) !== undefined);
  if (isLiteral(from) && !isLiteral(to)) {
    return change(
      'versions/routing-fell-through',
      'breaking',
      `${asked} was ${from.route.handler}'s own and falls into ${routeTitle(to.route)} now`,
      `Declare ${routeTitle(from.route)} again, ahead of it.`,
    );
  }
  return change(
    'versions/routing-taken',
    'breaking',
    `${asked} was handled by ${from.route.handler} and is handled by ${to.route.handler} now`,
    'Restore the order, or the pattern.',
  );
}

/** The same handler in another format: risky where nobody asked for one, breaking where the client did. */
function otherType(was: RoutingOutcome, is: RoutingOutcome, change: Make): ChangeDraft {
  const { leaf, request } = was;
  const title = leaf === undefined ? request.target : routeTitle(leaf.route);
  const types = [was, is].map((f) => f.responseType?.type ?? 'no declared type');
  if (headerOf(request, 'accept') === undefined)
    return change(
      'versions/default-type-changed',
      'risky',
      `${title} answers a client without Accept in ${types[1]}, and answered in ${types[0]}`,
      `Leave ${types[0]} first.`,
    );
  const gets = was.responseType === undefined || was.responseType.byDefault ? 'risky' : 'breaking';
  return change(
    'versions/routing-format',
    gets,
    `${title} answers Accept: ${headerOf(request, 'accept')} in ${types[1]}, and answered in ${types[0]}`,
    `Keep returning ${types[0]}.`,
  );
}

/** A value that the handler of the same path refuses now, or no longer refuses. */
function refused(asked: string, was: RoutingOutcome, is: RoutingOutcome, change: Make): ChangeDraft {
  const answered = (f: RoutingOutcome): string => `refused${f.status === null ? '' : ` (${f.status})`}`;
  if (is.outcome !== 'refused')
    return is.outcome === 'routed'
      ? change(
          'versions/routing-type',
          'compatible',
          `${asked} was ${answered(was)} and is handled by ${is.leaf?.route.handler} now`,
        )
      : change('versions/routing-answer', 'risky', `${asked} was ${answered(was)} and is answered ${answerOf(is)} now`);
  if (was.outcome !== 'routed')
    return change('versions/routing-answer', 'risky', `${asked} was answered ${answerOf(was)} and is ${answered(is)} now`);
  const why = is.why === undefined ? '' : `: ${is.why}`;
  return change(
    'versions/routing-type',
    'breaking',
    `${asked} was handled by ${was.leaf?.route.handler} and is ${answered(is)} now${why}`,
    'Keep accepting what was taken; what is narrower needs a version of its own.',
  );
}
