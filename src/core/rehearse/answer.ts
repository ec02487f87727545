/** What a running service answered, held against what the model says of the request. */
import type { Expectation } from '../checks/engine/context.ts';
import type { RoutingOutcome } from '../routes/follow/outcome.ts';
import type { Request } from '../routes/request/request.ts';

/** An answer as it came. */
export interface Answer {
  readonly status: number;
  /** Names in lower case. */
  readonly headers: Readonly<Record<string, string>>;
  readonly body: string;
}

/** No answer: why, in words. */
export interface NoAnswer {
  readonly failed: string;
}

/** `open` where the answer says nothing about the router: it may be the handler's, a proxy's, or about who asks. */
export type Verdict = 'agrees' | 'contradicts' | 'open';

export interface Judged {
  readonly verdict: Verdict;
  /** What was expected, and what came, each as the rest of a sentence. */
  readonly expected: string;
  readonly came: string;
}

/** Statuses that say who asks, or how busy it is, and nothing about routes. */
const NOISE = new Set([401, 403, 407, 429]);
/** Statuses that a router answers by itself. */
const OF_ROUTER = new Set([404, 405, 406, 415]);

/** Holds an answer against the following of its request. O(1). */
export function judgeAnswer(following: RoutingOutcome, answer: Answer, handlerHeader?: string): Judged {
  const { outcome, status, allow, leaf } = following;
  const handler = leaf?.route.handler;
  const expected =
    outcome === 'routed'
      ? `handled by ${handler}`
      : `answered ${status ?? outcome}${allow === null ? '' : `, Allow: ${allow.join(', ')}`}`;
  const said = handlerHeader === undefined ? undefined : answer.headers[handlerHeader.toLowerCase()];
  const came = cameText(answer, said);
  const judged = (verdict: Verdict): Judged => ({ verdict, expected, came });
  if (said !== undefined && outcome === 'routed') return judged(said === handler ? 'agrees' : 'contradicts');
  if (isNoise(answer)) return judged('open');
  if (outcome === 'ambiguous' || outcome === 'undecided') return judged('open');
  // A redirect to the same path with or without a slash is the router's; what it leads to is not followed.
  if (answer.status >= 300 && answer.status < 400)
    return judged(isSlashRedirect(following.request, answer) ? 'contradicts' : 'open');
  if (outcome === 'routed') {
    if (!OF_ROUTER.has(answer.status)) return judged('agrees');
    // The handler may know no such item, or lack what the request changes.
    const isRead = following.request.method === 'GET' || following.request.method === 'HEAD';
    return judged(answer.status === 404 && (following.parameters.size > 0 || !isRead) ? 'open' : 'contradicts');
  }
  if (status === null) return judged('open');
  if (answer.status !== status) return judged('contradicts');
  return judged(allow !== null && !isSameAllow(allow, answer.headers.allow) ? 'contradicts' : 'agrees');
}

/** Holds an answer against what somebody wrote down of it; what only the model knows, as for any request. O(1). */
export function judgeExpectation(
  { status, allow, handler }: Expectation,
  following: RoutingOutcome,
  answer: Answer,
  handlerHeader?: string,
): Judged {
  const modelled = judgeAnswer(following, answer, handlerHeader);
  const said = handlerHeader === undefined ? undefined : answer.headers[handlerHeader.toLowerCase()];
  const wanted = [
    ...(status === undefined ? [] : [`answered ${status}`]),
    ...(allow === undefined ? [] : [`Allow: ${allow.join(', ')}`]),
    ...(handler === undefined ? [] : [`handled by ${handler}`]),
  ];
  const isWrong =
    (status !== undefined && answer.status !== status) ||
    (allow !== undefined && !isSameAllow(allow, answer.headers.allow)) ||
    (handler !== undefined && said !== undefined && said !== handler);
  const expected = wanted.length === 0 ? modelled.expected : wanted.join(', ');
  if (isWrong) return { verdict: isNoise(answer) ? 'open' : 'contradicts', expected, came: modelled.came };
  return status === undefined ? { ...modelled, expected } : { verdict: 'agrees', expected, came: modelled.came };
}

/** Holds the answer for an item that was deleted against what is left of it: nothing. O(1). */
export function goneAfter(answer: Answer): Judged {
  const expected = 'answered 404 or 410, for it was deleted';
  const isGone = answer.status === 404 || answer.status === 410;
  const isThere = answer.status >= 200 && answer.status < 300;
  return { verdict: isGone ? 'agrees' : isThere ? 'contradicts' : 'open', expected, came: cameText(answer, undefined) };
}

/** It says who asks, or that something failed, and nothing about routes. */
function isNoise({ status }: Answer): boolean {
  return NOISE.has(status) || status >= 500;
}

function cameText({ status, headers }: Answer, handler: string | undefined): string {
  const more = [
    ...(handler === undefined ? [] : [`handled by ${handler}`]),
    ...(headers.allow === undefined ? [] : [`Allow: ${headers.allow}`]),
    ...(headers.location === undefined ? [] : [`Location: ${headers.location}`]),
  ];
  return [String(status), ...more].join(', ');
}

/** No Allow contradicts nothing: many routers leave it out. */
function isSameAllow(expected: readonly string[], came: string | undefined): boolean {
  if (came === undefined) return true;
  const bare = (list: readonly string[]): string =>
    [...new Set(list.map((m) => m.trim().toUpperCase()))]
      .filter((m) => m !== 'HEAD' && m !== 'OPTIONS' && m !== '')
      .sort()
      .join();
  return bare(expected) === bare(came.split(','));
}

function isSlashRedirect({ target }: Request, { headers }: Answer): boolean {
  const bare = (text: string): string =>
    (text.split(/[?#]/u)[0] as string).replace(/^[a-z]+:\/\/[^/]*/iu, '').replace(/\/+$/u, '');
  const { location } = headers;
  return location !== undefined && bare(location) === bare(target);
}
