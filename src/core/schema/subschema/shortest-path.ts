/** The ways from one failing pair to those that it rests on, the nearest first, found as far as somebody asks. */
import type { Schema } from '../model/schema.ts';
import type { Pair, Reached, Spot } from './pair.ts';

export class Reach<T> {
  /** How each was reached. */
  private readonly came: Map<Spot<T>, { readonly from: Spot<T>; readonly pointer: string } | undefined>;
  private readonly queue: Spot<T>[];
  /** So many of the queue were gone on from. */
  private at = 0;
  private readonly pairAt: (a: Schema, b: Schema) => Pair<T>;

  constructor(root: Pair<T>, pairAt: (a: Schema, b: Schema) => Pair<T>) {
    const first = root.twin ?? root;
    this.came = new Map([[first, undefined]]);
    this.queue = [first];
    this.pairAt = pairAt;
  }

  /** Until somebody has enough. */
  goOn(enough: (seen: Spot<T>) => boolean): void {
    for (;;) {
      const from = this.queue[this.at];
      if (from === undefined) return;
      this.at += 1;
      this.expand(from);
      if (enough(from)) return;
    }
  }

  /** The shortest way to a pair; undefined where none leads there. */
  wayTo(pair: Pair<T>): Reached<T> | undefined {
    const spot = pair.twin ?? pair;
    if (!this.came.has(spot)) this.goOn(() => this.came.has(spot));
    if (!this.came.has(spot)) return undefined;
    const path: Spot<T>[] = [pair];
    const pointers: string[] = [];
    for (let at = this.came.get(spot); at !== undefined; at = this.came.get(at.from)) {
      pointers.push(at.pointer);
      path.push(at.from);
    }
    pointers.reverse();
    path.reverse();
    return { pair, path, pointers, pointer: pointers.join('') };
  }

  private meet(to: Spot<T>, from: Spot<T>, pointer: string): void {
    if (this.came.has(to)) return;
    this.came.set(to, { from, pointer });
    this.queue.push(to);
  }

  private expand(from: Spot<T>): void {
    if ('flaw' in from) {
      for (const { pointer, to } of from.steps) {
        if (to.fails) this.meet(to.twin ?? to, from, pointer);
      }
      return;
    }
    for (const { pointer, to } of from.parts ?? []) {
      // Those that are alike lead on, whether or not to something that fails.
      const spot = to.parts === undefined ? this.pairAt(to.a, to.b) : to;
      if (!('flaw' in spot) || spot.fails) this.meet(spot, from, pointer);
    }
  }
}
