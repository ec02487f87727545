/** Routes as people look them up: by the segments of their paths. */
import type { Route } from '../../core/routes/table/route.ts';

export interface RouteNode {
  /** `locks`, `{lockId:int}`, or several that have nothing beside them: `v2/locks`. */
  readonly text: string;
  /** Those that end here, in the order in which they are tried. */
  readonly routes: readonly Route[];
  readonly children: readonly RouteNode[];
}

interface Building {
  readonly routes: Route[];
  readonly children: Map<string, Building>;
}

/** A node for each segment, in the order of the table. O(segments). */
export function routeTree(routes: readonly Route[]): readonly RouteNode[] {
  const root: Building = { routes: [], children: new Map() };
  for (const route of routes) {
    if (route.isBarrier) continue;
    let node = root;
    for (const segment of segmentsOf(route.path)) {
      const next = node.children.get(segment) ?? { routes: [], children: new Map() };
      node.children.set(segment, next);
      node = next;
    }
    node.routes.push(route);
  }
  const top = nodesOf(root);
  return root.routes.length === 0 ? top : [{ text: '', routes: root.routes, children: [] }, ...top];
}

/** Slashes within braces and parentheses are part of a pattern. */
function segmentsOf(path: string): readonly string[] {
  const parts = path.match(/(?:\{[^{}]*\}|\([^()]*\)|\[[^[\]]*\]|[^/])+/gu) ?? [];
  return path.endsWith('/') && path !== '/' ? [...parts, ''] : parts;
}

function nodesOf({ children }: Building): readonly RouteNode[] {
  return [...children].map(([segment, own]) => {
    let [text, node] = [segment, own];
    while (node.routes.length === 0 && node.children.size === 1) {
      const [[next, only]] = [...node.children] as [[string, Building]];
      text += `/${next}`;
      node = only;
    }
    return { text, routes: node.routes, children: nodesOf(node) };
  });
}
