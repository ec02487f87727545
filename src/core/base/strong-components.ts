/** What leads to each other in a graph. */

interface Visit<N> {
  readonly node: N;
  readonly next: readonly N[];
  readonly index: number;
  low: number;
  at: number;
  done: boolean;
}

/**
 * The strongly connected components that can be reached, each behind all that it leads to (Tarjan 1972); what `known` says
 * of is not looked at. Without recursion: chains may be long. O(nodes + edges).
 */
export function stronglyConnectedComponents<N extends object>(
  root: N,
  next: (node: N) => readonly N[],
  known: (node: N) => boolean,
): readonly (readonly N[])[] {
  const out: N[][] = [];
  if (known(root)) return out;
  const visits = new Map<N, Visit<N>>();
  const waiting: Visit<N>[] = [];
  const stack: Visit<N>[] = [];
  const enter = (node: N): void => {
    const visit = { node, next: next(node), index: visits.size, low: visits.size, at: 0, done: false };
    visits.set(node, visit);
    waiting.push(visit);
    stack.push(visit);
  };
  enter(root);
  for (let top = stack.at(-1); top !== undefined; top = stack.at(-1)) {
    const to = top.next[top.at];
    top.at += 1;
    if (to !== undefined) {
      const other = visits.get(to);
      if (other === undefined) {
        if (!known(to)) enter(to);
      } else if (!other.done) top.low = Math.min(top.low, other.index);
      continue;
    }
    stack.pop();
    const above = stack.at(-1);
    if (above !== undefined) above.low = Math.min(above.low, top.low);
    if (top.low !== top.index) continue;
    const group = waiting.splice(waiting.lastIndexOf(top));
    for (const visit of group) visit.done = true;
    out.push(group.map((v) => v.node));
  }
  return out;
}
