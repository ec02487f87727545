/** The ways from one failing pair to those that it rests on, the nearest first, found as far as somebody asks. */
import type { Schema } from '../model/schema.ts';
import type { FailurePath, PairNode, PathNode } from './pair.ts';

export class ShortestPaths<T> {
  /** How each was reached. */
  private readonly predecessors: Map<PathNode<T>, { readonly from: PathNode<T>; readonly pointer: string } | undefined>;
  private readonly queue: PathNode<T>[];
  /** So many of the queue were gone on from. */
  private at = 0;
  private readonly pairAt: (a: Schema, b: Schema) => PairNode<T>;

  constructor(root: PairNode<T>, pairAt: (a: Schema, b: Schema) => PairNode<T>) {
    const first = root.twin ?? root;
    this.predecessors = new Map([[first, undefined]]);
    this.queue = [first];
    this.pairAt = pairAt;
  }

  /** Advances the search until `enough` returns true for a visited node. */
  advanceUntil(enough: (seen: PathNode<T>) => boolean): void {
    for (;;) {
      const from = this.queue[this.at];
      if (from === undefined) return;
      this.at += 1;
      this.expand(from);
      if (enough(from)) return;
    }
  }

  /** The shortest way to a pair; undefined where none leads there. */
  pathTo(pair: PairNode<T>): FailurePath<T> | undefined {
    const spot = pair.twin ?? pair;
    if (!this.predecessors.has(spot)) this.advanceUntil(() => this.predecessors.has(spot));
    if (!this.predecessors.has(spot)) return undefined;
    const path: PathNode<T>[] = [pair];
    const pointers: string[] = [];
    for (let at = this.predecessors.get(spot); at !== undefined; at = this.predecessors.get(at.from)) {
      pointers.push(at.pointer);
      path.push(at.from);
    }
    pointers.reverse();
    path.reverse();
    return { pair, path, pointers, pointer: pointers.join('') };
  }

  private visit(to: PathNode<T>, from: PathNode<T>, pointer: string): void {
    if (this.predecessors.has(to)) return;
    this.predecessors.set(to, { from, pointer });
    this.queue.push(to);
  }

  private expand(from: PathNode<T>): void {
    if ('localFailure' in from) {
      for (const { pointer, to } of from.dependencies) {
        if (to.isRefuted) this.visit(to.twin ?? to, from, pointer);
      }
      return;
    }
    for (const { pointer, to } of from.differingChildren ?? []) {
      // Those that are alike lead on, whether or not to something that fails.
      const spot = to.differingChildren === undefined ? this.pairAt(to.a, to.b) : to;
      if (!('localFailure' in spot) || spot.isRefuted) this.visit(spot, from, pointer);
    }
  }
}
