/**
 * The index over segments: a tree whose edges are segments, literal ones in a map, the others by their structure, and
 * whose nodes hold the routes that end there or go on with a span. It answers who matches a path without looking at routes
 * that start differently.
 */
import { BOUNDARY_TEXT } from '../../language/charset.ts';
import { accepts, type Language } from '../../language/language.ts';
import type { Compiler } from '../../paths/compile.ts';
import { literalText, type Segment, type Shape, segmentOf } from '../../paths/pattern.ts';
import { TEXT } from '../../paths/types.ts';
import type { Route } from '../table/route.ts';
import { matchesPath } from './route-languages.ts';

/** One shape of one route. */
export interface RouteShape {
  readonly route: Route;
  readonly shape: Shape;
  /** An optional part is left out of it. */
  readonly partial?: boolean;
  /** Its slash at the end is not as the pattern has it. */
  readonly otherSlash?: boolean;
}

export interface SpanLeaf extends RouteShape {
  readonly key: string;
  readonly language: Language;
}

export interface Branch {
  /** Its structure; equal keys are one branch. */
  readonly key: string;
  readonly piece: Segment;
  readonly node: Node;
  readonly matches: (text: string) => boolean;
}

export interface Node {
  literals: ReadonlyMap<string, Node>;
  branches: readonly Branch[];
  ends: readonly RouteShape[];
  spans: readonly SpanLeaf[];
  /** The first declared of the routes behind it, by which it got its place. */
  readonly first: Route | undefined;
}

/** Most nodes lack most of their parts. What all of them share is near at hand when a walk looks, and costs nothing. */
const NO_LITERALS: ReadonlyMap<string, Node> = new Map();
const NO_BRANCHES: readonly Branch[] = [];
const NO_LEAVES: readonly RouteShape[] = [];
const NO_SPANS: readonly SpanLeaf[] = [];

/** The list with one more; in place, unless it is the one that all nodes without share. */
function pushed<T>(list: readonly T[], none: readonly T[], item: T): readonly T[] {
  if (list === none) return [item];
  (list as T[]).push(item);
  return list;
}

export interface TreeOptions {
  readonly compiler: Compiler;
  /** Literals are compared in lower case. */
  readonly eitherCase: boolean;
  /** A written type is part of the match. */
  readonly typesMatch: boolean;
  /** Typed and plain parameters at one place are one branch; what a type asks is looked at behind it. */
  readonly sharedBranch: boolean;
}

export interface SegmentTrie extends TreeOptions {
  readonly root: Node;
  readonly overlaps: WeakMap<Shape, readonly RouteShape[]>;
}

export function emptyTree(options: TreeOptions): SegmentTrie {
  return { ...options, root: newNode(undefined), overlaps: new WeakMap() };
}

/** Adds a shape. O(segments) plus the branches that stand beside its parameters. */
export function insert(tree: SegmentTrie, leaf: RouteShape): void {
  let node = tree.root;
  for (let i = 0; i < leaf.shape.length; i++) {
    const piece = leaf.shape[i] as Shape[number];
    if (piece.kind === 'span') {
      node.spans = pushed(node.spans, NO_SPANS, spanLeaf(tree, leaf, i));
      return;
    }
    node = child(tree, node, piece, leaf.route);
  }
  node.ends = pushed(node.ends, NO_LEAVES, leaf);
}

function spanLeaf({ compiler }: SegmentTrie, leaf: RouteShape, at: number): SpanLeaf {
  const { shape } = leaf;
  return {
    ...leaf,
    key: compiler.restKey(shape, at),
    get language() {
      return compiler.rest(shape, at);
    },
  };
}

/** The text that the segments from an index on make for the language of a span. */
export function restText(segments: readonly string[], at: number): string {
  let text = '';
  for (let i = at; i < segments.length; i++) text += BOUNDARY_TEXT + segments[i];
  return text;
}

/** Where a path ends: at a node, or in a span that holds the rest of it. */
export type End = Node | SpanLeaf;

export interface Ends {
  readonly ends: readonly End[];
  /** At some node there was more than one way to go on. */
  readonly isForked: boolean;
}

/** All places at which the path ends, given as decoded segments: their leaves are all that match. */
export function endsOf(tree: SegmentTrie, segments: readonly string[]): Ends {
  const ends: End[] = [];
  const isForked = visitEnds(tree, tree.root, segments, 0, ends);
  return { ends, isForked };
}

const single = new WeakMap<End, readonly RouteShape[]>();

/** The leaves of an end. */
export function leavesOfEnd(end: End): readonly RouteShape[] {
  if ('ends' in end) return end.ends;
  const known = single.get(end) ?? [end];
  single.set(end, known);
  return known;
}

function visitEnds(tree: SegmentTrie, node: Node, segments: readonly string[], at: number, found: End[]): boolean {
  let ways = 0;
  if (node.spans !== NO_SPANS) {
    const rest = restText(segments, at);
    for (const leaf of node.spans) if (accepts(leaf.language, rest)) found.push(leaf);
    ways = 1;
  }
  if (at === segments.length) {
    if (node.ends !== NO_LEAVES) found.push(node);
    return false;
  }
  let isForked = false;
  const segment = segments[at] as string;
  const literal = literalChild(tree, node, segment);
  if (literal !== undefined) {
    ways += 1;
    isForked = visitEnds(tree, literal, segments, at + 1, found);
  }
  for (const branch of node.branches) {
    if (!branch.matches(segment)) continue;
    ways += 1;
    isForked = visitEnds(tree, branch.node, segments, at + 1, found) || isForked;
  }
  return isForked || ways > 1;
}

/** All leaves whose reach holds the path, given as decoded segments. Visits only branches that hold its segments. */
export function lookup(tree: SegmentTrie, segments: readonly string[]): RouteShape[] {
  const found: RouteShape[] = [];
  visit(tree, tree.root, segments, 0, found);
  return tree.sharedBranch ? found.filter((l) => matchesPath(l.shape, segments, tree.compiler)) : found;
}

/** The leaves at a node whose spans hold the rest of the path. */
export function matchingSpans(node: Node, segments: readonly string[], at: number): readonly RouteShape[] {
  if (node.spans === NO_SPANS) return NO_LEAVES;
  const rest = restText(segments, at);
  return node.spans.filter((leaf) => accepts(leaf.language, rest));
}

/** The child of a literal segment. */
export function literalChild(tree: SegmentTrie, node: Node, segment: string): Node | undefined {
  return node.literals.get(tree.eitherCase ? segment.toLowerCase() : segment);
}

/** The child that a segment of a pattern leads to, if there is one. */
export function childOf(tree: SegmentTrie, node: Node, segment: Segment): Node | undefined {
  const text = literalText(segment);
  if (text !== undefined) return literalChild(tree, node, text);
  const key = branchKey(tree, segment);
  return node.branches.find((b) => b.key === key)?.node;
}

function newNode(first: Route | undefined): Node {
  return { literals: NO_LITERALS, branches: NO_BRANCHES, ends: NO_LEAVES, spans: NO_SPANS, first };
}

function child(tree: SegmentTrie, node: Node, segment: Segment, route: Route): Node {
  const known = childOf(tree, node, segment);
  if (known !== undefined) return known;
  const made = newNode(route);
  const text = literalText(segment);
  if (text !== undefined) {
    if (node.literals === NO_LITERALS) node.literals = new Map();
    (node.literals as Map<string, Node>).set(tree.eitherCase ? text.toLowerCase() : text, made);
    return made;
  }
  const piece = branchPiece(tree, segment);
  const branch = { key: branchKey(tree, segment), piece, node: made, matches: tree.compiler.test(piece) };
  node.branches = pushed(node.branches, NO_BRANCHES, branch);
  return made;
}

const PLAIN = segmentOf([{ kind: 'parameter', name: '', type: TEXT }]);

/** The segment as the tree tells it apart from others. */
function branchPiece(tree: SegmentTrie, segment: Segment): Segment {
  const [only] = segment.parts;
  return tree.sharedBranch && segment.parts.length === 1 && only?.kind === 'parameter' ? PLAIN : segment;
}

export function branchKey(tree: SegmentTrie, segment: Segment): string {
  return tree.compiler.key(branchPiece(tree, segment));
}

function visit(tree: SegmentTrie, node: Node, segments: readonly string[], at: number, found: RouteShape[]): void {
  if (node.spans !== NO_SPANS) found.push(...matchingSpans(node, segments, at));
  if (at === segments.length) {
    for (const leaf of node.ends) found.push(leaf);
    return;
  }
  const segment = segments[at] as string;
  const literal = literalChild(tree, node, segment);
  if (literal !== undefined) visit(tree, literal, segments, at + 1, found);
  for (const branch of node.branches) {
    if (branch.matches(segment)) visit(tree, branch.node, segments, at + 1, found);
  }
}
