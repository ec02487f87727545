/** How a path misses a shape: by one segment missing, extra or different, by its spelling, or by a prefix. */
import leven from 'leven';
import { literalText, type Piece, type Segment } from '../../paths/pattern.ts';
import type { RouteShape, SegmentTrie } from '../index/segment-tree.ts';

export interface Edit {
  /** What the request does that the route does not: it lacks segments, has some too many, or has another one. */
  readonly kind: 'missing' | 'extra' | 'different' | 'spelling';
  readonly at: number;
  /** How many segments are missing or extra; for others 1. */
  readonly count: number;
  /** What stands there in the route. */
  readonly pieces: readonly Piece[];
}

/** The most segments that a prefix which was left out, or put before, may have. */
const LONGEST_PREFIX = 3;
const LONGEST_EXTRA = 2;
/** The most words that may be misspelt at once. */
const MOST_MISSPELT = 2;

/** The edit that leads from a path to a leaf's shape; undefined where one is not enough. O(segments). */
export function editTo(tree: SegmentTrie, leaf: RouteShape, segments: readonly string[]): Edit | undefined {
  const { shape } = leaf;
  const span = shape.findIndex((p) => p.kind === 'span');
  if (span >= 0 && (span !== shape.length - 1 || segments.length <= span)) return undefined;
  const pieces = (span < 0 ? shape : shape.slice(0, span)) as readonly Segment[];
  // Behind the beginning of a tail anything may stand.
  const own = span < 0 ? segments : segments.slice(0, span);
  const fits = (piece: number, segment: number): boolean => fitsPiece(tree, pieces[piece] as Segment, own[segment] as string);
  const more = pieces.length - own.length;
  if (more === 0) return different(pieces, own, fits);
  if (span >= 0) return undefined;
  return more > 0 ? missing(pieces, own, more, fits) : extra(pieces, -more, fits);
}

type Fits = (piece: number, segment: number) => boolean;

function different(pieces: readonly Segment[], segments: readonly string[], fits: Fits): Edit | undefined {
  const wrong = pieces.flatMap((_, i) => (fits(i, i) ? [] : [i]));
  const [at] = wrong;
  if (at === undefined) return undefined;
  const alike = wrong.filter((i) => isMisspelt(pieces[i] as Segment, segments[i] as string));
  if (alike.length === wrong.length && wrong.length <= MOST_MISSPELT)
    return { kind: 'spelling', at, count: wrong.length, pieces: wrong.map((i) => pieces[i] as Segment) };
  return wrong.length === 1 ? { kind: 'different', at, count: 1, pieces: [pieces[at] as Segment] } : undefined;
}

function missing(pieces: readonly Segment[], segments: readonly string[], count: number, fits: Fits): Edit | undefined {
  if (count > LONGEST_PREFIX) return undefined;
  const places = gaps(
    segments.length,
    (i) => fits(i, i),
    (i) => fits(i + count, i),
  );
  // Several at once are left out where they are a prefix of words.
  if (count > 1 && (places[0] !== 0 || pieces.slice(0, count).some((p) => literalText(p) === undefined))) return undefined;
  const text = (at: number): string | undefined => literalText(pieces[at] as Segment);
  // A parameter is left out sooner than a word, and nobody leaves out one of two equal words in a row.
  const at = places[0] === 0 ? 0 : (places.find((i) => text(i) === undefined) ?? places.find((i) => text(i) !== segments[i - 1]));
  return at === undefined ? undefined : { kind: 'missing', at, count, pieces: pieces.slice(at, at + count) };
}

function extra(pieces: readonly Segment[], count: number, fits: Fits): Edit | undefined {
  if (count > LONGEST_EXTRA) return undefined;
  const places = gaps(
    pieces.length,
    (i) => fits(i, i),
    (i) => fits(i, i + count),
  );
  // The last of several places: what was matched before it was most likely meant.
  const at = places[0] === 0 ? 0 : places.at(-1);
  return at === undefined || (count > 1 && at !== 0) ? undefined : { kind: 'extra', at, count, pieces: [] };
}

/** The places at which a stretch can be put in or taken out so that all before it and all behind it fits. */
function gaps(length: number, before: (i: number) => boolean, behind: (i: number) => boolean): readonly number[] {
  let from = length;
  while (from > 0 && behind(from - 1)) from -= 1;
  let to = 0;
  while (to < length && before(to)) to += 1;
  return Array.from({ length: Math.max(0, to - from + 1) }, (_, i) => from + i);
}

export function fitsPiece(tree: SegmentTrie, piece: Segment, segment: string): boolean {
  const text = literalText(piece);
  if (text === undefined) return tree.compiler.test(piece)(segment);
  return tree.eitherCase ? text.toLowerCase() === segment.toLowerCase() : text === segment;
}

/** Is the segment the literal text in other letters' case, in the singular, or with a slip of the finger? */
export function isMisspelt(piece: Segment, segment: string): boolean {
  const text = literalText(piece);
  if (text === undefined || text === '' || segment === '' || (/^v\d/iu.test(text) && /^v\d/iu.test(segment))) return false;
  return misspelling(text, segment) <= Math.max(segment.length > 3 ? 2 : 1, segment.length * 0.34);
}

export function misspelling(text: string, segment: string): number {
  return leven(segment.toLowerCase(), text.toLowerCase());
}
