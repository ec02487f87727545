/** Why a route whose path fits does not take a request. */

import { accepts } from '../../language/language.ts';
import { chooseType, takesType } from '../../media/media.ts';
import { longValue } from '../index/bind-parameters.ts';
import { conditionLanguage, methodLanguage } from '../index/route-languages.ts';
import type { Router } from '../index/router.ts';
import type { RouteShape } from '../index/segment-tree.ts';
import type { RequestContext } from '../request/asking.ts';
import { headerOf } from '../request/requested-version.ts';
import { mayRefuse } from './media-outcome.ts';
import type { Mismatch } from './outcome.ts';

/** The first condition of the route that the request does not meet. */
export function firstMismatch(
  router: Router,
  leaf: RouteShape,
  asking: RequestContext,
  segments: readonly string[],
): Mismatch | undefined {
  const { methods, conditions } = leaf.route;
  const { request } = asking;
  const longer = longValue(router, leaf, segments);
  if (longer !== undefined) return { cause: 'length', why: longer };
  const fixed = fixedMiss(leaf, asking);
  if (fixed !== undefined) return fixed;
  const { version } = asking;
  if (
    conditions.version !== undefined &&
    version !== undefined &&
    (version.kind !== 'version' || !conditions.version.includes(version.id))
  ) {
    return { cause: 'version', why: `is for version ${conditions.version.join(', ')}` };
  }
  const method = request.method === 'HEAD' && router.facts.head === 'is-get' ? 'GET' : request.method;
  if (!accepts(methodLanguage(methods, router.facts), method)) return { cause: 'method', why: `takes ${methods.join(', ')}` };
  return mediaMiss(router, leaf, asking);
}

/** Content-Type is judged before Accept (RFC 9110, 15.5.16 and 12.5.1). */
function mediaMiss(router: Router, leaf: RouteShape, asking: RequestContext): Mismatch | undefined {
  const { conditions } = leaf.route;
  const { sent } = asking;
  const useParameters = router.facts.mediaParameters !== 'ignored';
  if (sent !== undefined && router.facts.unsupported === 'refuse' && isHeldToRefuse(router, leaf, asking, 'takes'))
    return { cause: 'takes', why: 'does not say what it takes' };
  if (
    conditions.takes !== undefined &&
    sent !== undefined &&
    router.facts.unsupported === 'refuse' &&
    !takesType(conditions.takes, sent, useParameters)
  ) {
    return { cause: 'takes', why: `takes ${conditions.takes.join(', ')}` };
  }
  if (mayRefuse(asking.accept, router.facts) && isHeldToRefuse(router, leaf, asking, 'returns'))
    return { cause: 'returns', why: 'does not say what it returns' };
  if (
    conditions.returns !== undefined &&
    router.facts.unacceptable === 'refuse' &&
    chooseType(asking.accept, conditions.returns, useParameters) === undefined
  ) {
    return { cause: 'returns', why: `returns ${conditions.returns.join(', ')}` };
  }
  return undefined;
}

/** With `undeclared: unknown` alone. */
function isHeldToRefuse(router: Router, { route }: RouteShape, asking: RequestContext, side: 'takes' | 'returns'): boolean {
  const { open, refusing, request } = asking;
  if (open === undefined || route.conditions[side] !== undefined || route.isBarrier) return false;
  // What its document says is known.
  if (router.described?.(route, request.method === 'HEAD' ? 'GET' : request.method) !== undefined) return false;
  const key = `${route.index} ${side}`;
  open.push({ key, words: `${route.handler} does not say what it ${side}` });
  return refusing?.has(key) === true;
}

function fixedMiss(leaf: RouteShape, { request, host, query }: RequestContext): Mismatch | undefined {
  const { conditions } = leaf.route;
  if (conditions.host !== undefined && !accepts(conditionLanguage(conditions, 'host'), host ?? ''))
    return { cause: 'host', why: `is for host ${conditions.host}` };
  for (const [name, value] of Object.entries(conditions.headers ?? {})) {
    if (headerOf(request, name) !== value) return { cause: 'header', why: `wants the header ${name}: ${value}` };
  }
  for (const [name, value] of Object.entries(conditions.query ?? {})) {
    if (query.get(name) !== value) return { cause: 'query', why: `wants ${name}=${value} in the query` };
  }
  return undefined;
}
