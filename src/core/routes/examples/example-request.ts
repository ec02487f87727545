/** Requests that show something, such as a person would send. */
import { example } from '../../language/example.ts';
import type { Language } from '../../language/language.ts';
import type { Shape } from '../../paths/pattern.ts';
import { parseTemplate } from '../../paths/template.ts';
import { follow } from '../follow/follow.ts';
import type { RoutingOutcome } from '../follow/outcome.ts';
import type { Router } from '../index/router.ts';
import type { RouteShape } from '../index/segment-tree.ts';
import { cellRepresentatives } from '../reach/cover.ts';
import { hintsFor } from '../reach/hints.ts';
import { withoutUnnormalised } from '../reach/normal-paths.ts';
import { axesOf, projection } from '../reach/product.ts';
import { requestFrom } from '../reach/request-from.ts';
import type { Request } from '../request/request.ts';
import { ANY_METHOD, bareRoute } from '../table/route.ts';

/** A request that a leaf matches, such as a person would send: without headers that change nothing. */
export function exampleFor(router: Router, leaf: RouteShape, method: string): Request {
  const axes = axesOf([leaf], router);
  const texts = axes.map((axis) => {
    if (axis.kind === 'method') return method === ANY_METHOD ? 'GET' : method;
    return (
      example(
        withoutUnnormalised(projection(leaf, axis, router.reach, router.facts), axis, axes, router.facts),
        hintsFor(leaf, axis, router),
      ) ?? ''
    );
  });
  return withoutIdleHeaders([router], requestFrom(axes, texts, router));
}

/**
 * A request of the first router's leaf for each class that the others make of its reach: who takes it in any of the routers
 * can differ from class to class alone. Throws `LimitReached` beyond `most` classes.
 */
export function examplesAmong(
  [router, ...also]: readonly [Router, ...Router[]],
  leaf: RouteShape,
  method: string,
  others: readonly RouteShape[],
  most: number,
  paths: 'usual' | 'all' = 'usual',
): readonly Request[] {
  return requestsAmong([router, ...also], leaf, method, others, most, paths).map((r) => withoutIdleHeaders([router, ...also], r));
}

/** The same with everything that tells the classes apart, whether or not it makes a difference to these routers. */
export function requestsAmong(
  [router]: readonly [Router, ...Router[]],
  leaf: RouteShape,
  method: string,
  others: readonly RouteShape[],
  most: number,
  paths: 'usual' | 'all' = 'usual',
): readonly Request[] {
  const one: RouteShape = { ...leaf, route: { ...leaf.route, methods: [method] } };
  const axes = axesOf([one, ...others], router);
  const box = (l: RouteShape): readonly Language[] => axes.map((axis) => projection(l, axis, router.tree.compiler, router.facts));
  const target = axes.map((axis) => {
    const side = projection(one, axis, router.tree.compiler, router.facts);
    return withoutUnnormalised(side, axis, axes, router.facts, paths);
  });
  const hints = axes.map((axis) => hintsFor(leaf, axis, router));
  return cellRepresentatives(target, others.map(box), hints, most).map((texts) => requestFrom(axes, texts, router));
}

/** The request without each header that makes no difference to what becomes of it, whichever of the routers it is asked of. */
export function withoutIdleHeaders(routers: readonly Router[], request: Request): Request {
  if (Object.keys(request.headers).length === 0) return request;
  const fates = (r: Request): readonly RoutingOutcome[] => routers.map((router) => follow(router, r));
  const wanted = fates(request);
  return withoutHeaders(request, (r) =>
    fates(r).every(({ leaf, outcome }, i) => leaf?.route === wanted[i]?.leaf?.route && outcome === wanted[i]?.outcome),
  );
}

/** The request without each header without which it is still the same to somebody. */
export function withoutHeaders(request: Request, isSame: (request: Request) => boolean): Request {
  let current = request;
  for (const name of Object.keys(request.headers)) {
    const { [name]: _, ...headers } = current.headers;
    const without: Request = { ...request, headers };
    if (isSame(without)) current = without;
  }
  return current;
}

/** A request for a documented operation. */
export function templateExample(router: Router, method: string, path: string): Request {
  const pattern = parseTemplate(path);
  const route = bareRoute({ index: -1, methods: [method], path, pattern, handler: '', place: router.table.place });
  return exampleFor(router, { route, shape: pattern.shapes[0] as Shape }, method);
}
