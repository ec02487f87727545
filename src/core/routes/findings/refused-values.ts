/** Values that a pattern lets through and its handler refuses. */
import { example } from '../../language/example.ts';
import { isEmpty, subtract } from '../../language/language.ts';
import { decide } from '../../language/limits.ts';
import { type ParameterType, TEXT } from '../../paths/types.ts';
import { exampleFor } from '../examples/example-request.ts';
import { follow } from '../follow/follow.ts';
import type { RoutingOutcome } from '../follow/outcome.ts';
import type { Router } from '../index/router.ts';
import type { RouteShape } from '../index/segment-tree.ts';
import type { Request } from '../request/request.ts';
import { decodedText, pathOf } from '../request/target.ts';
import type { Route } from '../table/route.ts';

export interface Refusal {
  readonly route: Route;
  readonly parameter: string;
  readonly type: ParameterType;
  readonly value: string;
  readonly following: RoutingOutcome;
}

/** For each route the first parameter with a value that is matched and then refused, shown by a request. */
export function refusals(router: Router): readonly Refusal[] {
  return router.table.routes.flatMap((route): Refusal[] => {
    if (route.isBarrier || (route.handlerTypes.size === 0 && router.facts.types !== 'after-match')) return [];
    for (const leaf of router.leavesOf(route)) {
      const found = decide(() => refusalIn(router, leaf));
      if (found.decided && found.value !== undefined) return [found.value];
    }
    return [];
  });
}

function refusalIn(router: Router, leaf: RouteShape): Refusal | undefined {
  for (const [at, piece] of leaf.shape.entries()) {
    const [only] = piece.parts;
    if (piece.kind === 'span' || piece.parts.length !== 1 || only?.kind !== 'parameter') continue;
    const type = leaf.route.handlerTypes.get(only.name) ?? (router.facts.types === 'after-match' ? only.type : undefined);
    if (type === undefined || type === TEXT) continue;
    const left = subtract(router.tree.compiler.segment(piece), router.typeLanguage(type));
    if (isEmpty(left)) continue;
    const value = example(left, ['abc', 'a-1', '7.5']) as string;
    const usual = exampleFor(router, leaf, leaf.route.methods[0] as string);
    const segments = usual.target.split('?')[0]?.split('/').slice(1).map(decodedText) ?? [];
    const request: Request = { ...usual, target: pathOf(segments.map((s, i) => (i === at ? value : s))) };
    const following = follow(router, request);
    if (following.outcome === 'refused' && following.leaf?.route === leaf.route)
      return { route: leaf.route, parameter: only.name, type, value, following };
  }
  return undefined;
}
