/** Why a route whose path fits does not take a request. */
import { holds } from '../language/language.ts';
import { methodLanguage } from './reach.ts';
import type { Request } from './request.ts';
import type { Router } from './router.ts';
import type { Target } from './target.ts';
import type { Leaf } from './tree.ts';

export interface Miss {
  readonly cause: 'method' | 'host' | 'version' | 'header' | 'query';
  readonly why: string;
}

/** The first condition of the route that the request does not meet. */
export function missOf(router: Router, leaf: Leaf, request: Request, target: Extract<Target, { ok: true }>): Miss | undefined {
  void target;
  const { methods } = leaf.route;
  if (!holds(methodLanguage(methods, router.facts), request.method))
    return { cause: 'method', why: `takes ${methods.join(', ')}` };
  return undefined;
}
