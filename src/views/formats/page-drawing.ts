/** Which requests two routes share, as sets: one circle within another, two that overlap, or one that is both. */
import type { Item } from '../items.ts';

export interface Drawing {
  readonly shape: 'within' | 'overlap' | 'equal';
  /** What is lost, and what takes it. */
  readonly own: string;
  readonly other: string;
  /** A request that both match. */
  readonly shared: string;
  /** The same in a sentence. */
  readonly words: string;
}

/** What the other route is to the one of the finding. */
const SHAPES: Readonly<Record<string, Drawing['shape']>> = {
  'shadowed by': 'within',
  'overlaps with': 'overlap',
  'matches it too': 'overlap',
  'matches the same': 'equal',
};

/** Undefined where a finding is not about sets of requests. */
export function drawingOf({ at, related, witness }: Item): Drawing | undefined {
  const [first] = related;
  const shape = first === undefined ? undefined : SHAPES[first.role];
  if (at === undefined || first === undefined || shape === undefined) return undefined;
  const bare = (what: string): string => what.split(' -> ')[0] as string;
  const others = related.filter((r) => r.role === first.role);
  const [own, other] = [bare(at.what), others.length > 1 ? `${others.length} routes together` : bare(first.what)];
  const words = {
    within: `every request of ${own} is one of those of ${other}`,
    overlap: `${own} and ${other} share requests`,
    equal: `${own} and ${other} match the same requests`,
  }[shape];
  const [shared = ''] = witness.split(/ is | would | gets /u);
  return { shape, own, other, shared: shared.length > 48 ? '' : shared, words };
}
