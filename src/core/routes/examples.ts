/** Requests that show something, such as a person would send. */
import { example } from '../language/example.ts';
import type { Shape } from '../paths/pattern.ts';
import { parseTemplate } from '../paths/template.ts';
import { follow } from './follow.ts';
import { hintsFor } from './hints.ts';
import { normalSide } from './normal-paths.ts';
import { axesOf, sideOf } from './reach.ts';
import { type Request, requestFrom } from './request.ts';
import { ANY_METHOD, bareRoute } from './route.ts';
import type { Router } from './router.ts';
import type { Leaf } from './tree.ts';

/** A request that a leaf matches, such as a person would send: without headers that change nothing. */
export function exampleFor(router: Router, leaf: Leaf, method: string): Request {
  const axes = axesOf([leaf], router.versioning);
  const texts = axes.map((axis) => {
    if (axis.kind === 'method') return method === ANY_METHOD ? 'GET' : method;
    return (
      example(
        normalSide(sideOf(leaf, axis, router.tree.compiler, router.facts), axis, axes, router.facts),
        hintsFor(leaf, axis),
      ) ?? ''
    );
  });
  return plainest(router, requestFrom(axes, texts, router));
}

/** The request without each header that makes no difference to who takes it. */
export function plainest(router: Router, request: Request): Request {
  if (Object.keys(request.headers).length === 0) return request;
  const taker = follow(router, request).leaf?.route;
  let current = request;
  for (const name of Object.keys(request.headers)) {
    const { [name]: _, ...headers } = current.headers;
    const without: Request = { ...request, headers };
    if (follow(router, without).leaf?.route === taker) current = without;
  }
  return current;
}

/** A request for a documented operation. */
export function templateExample(router: Router, method: string, path: string): Request {
  const pattern = parseTemplate(path);
  const route = bareRoute({ index: -1, methods: [method], path, pattern, handler: '', place: router.table.place });
  return exampleFor(router, { route, shape: pattern.shapes[0] as Shape }, method);
}
