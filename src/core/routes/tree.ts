/**
 * The index over segments: a tree whose edges are segments, literal ones in a map, the others by their language, and
 * whose nodes hold the routes that end there or go on with a span. It answers who matches a path, and whose reach
 * overlaps a shape, without looking at routes that start differently.
 */
import { BOUNDARY_TEXT } from '../language/charset.ts';
import { disjoint, holds, type Language } from '../language/language.ts';
import type { Compiler } from '../paths/compile.ts';
import { literalSegment, literalText, type Segment, type Shape } from '../paths/pattern.ts';
import { comparePieces } from './places.ts';
import type { Route } from './route.ts';

/** One shape of one route. */
export interface Leaf {
  readonly route: Route;
  readonly shape: Shape;
}

interface SpanLeaf extends Leaf {
  readonly language: Language;
}

interface Branch {
  readonly language: Language;
  readonly piece: Segment;
  readonly node: Node;
}

export interface Node {
  literals: ReadonlyMap<string, Node>;
  branches: readonly Branch[];
  ends: readonly Leaf[];
  spans: readonly SpanLeaf[];
  /** The first declared of the routes behind it, by which it got its place. */
  readonly first: Route | undefined;
}

/** Most nodes lack most of their parts. What all of them share is near at hand when a walk looks, and costs nothing. */
const NO_LITERALS: ReadonlyMap<string, Node> = new Map();
const NO_BRANCHES: readonly Branch[] = [];
const NO_LEAVES: readonly Leaf[] = [];
const NO_SPANS: readonly SpanLeaf[] = [];

/** The list with one more; in place, unless it is the one that all nodes without share. */
function pushed<T>(list: readonly T[], none: readonly T[], item: T): readonly T[] {
  if (list === none) return [item];
  (list as T[]).push(item);
  return list;
}

export interface Tree {
  readonly root: Node;
  readonly compiler: Compiler;
  /** Literals are compared in lower case. */
  readonly eitherCase: boolean;
  /** A written type is part of the match. */
  readonly typesMatch: boolean;
  readonly overlaps: WeakMap<Shape, readonly Leaf[]>;
}

export function emptyTree(compiler: Compiler, eitherCase: boolean, typesMatch: boolean): Tree {
  return { root: newNode(undefined), compiler, eitherCase, typesMatch, overlaps: new WeakMap() };
}

/** Adds a shape. O(segments) plus the branches that stand beside its parameters. */
export function insert(tree: Tree, leaf: Leaf): void {
  let node = tree.root;
  for (let i = 0; i < leaf.shape.length; i++) {
    const piece = leaf.shape[i] as Shape[number];
    if (piece.kind === 'span') {
      node.spans = pushed(node.spans, NO_SPANS, { ...leaf, language: tree.compiler.rest(leaf.shape, i) });
      return;
    }
    node = child(tree, node, piece, leaf.route);
  }
  node.ends = pushed(node.ends, NO_LEAVES, leaf);
}

/**
 * The nodes at which the path ends, given as decoded segments, when no span holds it: their leaves are all that match.
 * Undefined where a span stands on the way.
 */
export function endNodes(tree: Tree, segments: readonly string[]): readonly Node[] | undefined {
  const found: Node[] = [];
  return visitNodes(tree, tree.root, segments, 0, found) ? found : undefined;
}

function visitNodes(tree: Tree, node: Node, segments: readonly string[], at: number, found: Node[]): boolean {
  if (node.spans !== NO_SPANS) return false;
  if (at === segments.length) {
    if (node.ends !== NO_LEAVES) found.push(node);
    return true;
  }
  const segment = segments[at] as string;
  const literal = node.literals.get(tree.eitherCase ? segment.toLowerCase() : segment);
  if (literal !== undefined && !visitNodes(tree, literal, segments, at + 1, found)) return false;
  for (const branch of node.branches) {
    if (holds(branch.language, segment) && !visitNodes(tree, branch.node, segments, at + 1, found)) return false;
  }
  return true;
}

/** All leaves whose reach holds the path, given as decoded segments. Visits only branches that hold its segments. */
export function matching(tree: Tree, segments: readonly string[]): Leaf[] {
  const found: Leaf[] = [];
  visit(tree, tree.root, segments, 0, found);
  return found;
}

/**
 * The leaves that a router reaches which takes the best branch at each place and never comes back: a literal, then the
 * narrowest parameter that holds the segment, then a tail.
 */
export function matchingWithoutReturn(tree: Tree, segments: readonly string[]): Leaf[] {
  let node = tree.root;
  for (let at = 0; at < segments.length; at++) {
    const next = bestBranch(tree, node, segments[at] as string);
    if (next === undefined) return matchingSpans(node, segments, at);
    node = next;
  }
  return [...node.ends, ...matchingSpans(node, segments, segments.length)];
}

function bestBranch(tree: Tree, node: Node, segment: string): Node | undefined {
  const literal = node.literals.get(tree.eitherCase ? segment.toLowerCase() : segment);
  if (literal !== undefined) return literal;
  return ranked(tree, node).find((b) => holds(b.language, segment))?.node;
}

/** The branches in the order in which a router without return looks at them: by kind, then as they were declared. */
function ranked(tree: Tree, node: Node): readonly Branch[] {
  return [...node.branches].sort((a, b) => {
    const order = comparePieces(a.piece, b.piece, tree.typesMatch);
    return order === 'tie' ? node.branches.indexOf(a) - node.branches.indexOf(b) : order === 'first' ? -1 : 1;
  });
}

function matchingSpans(node: Node, segments: readonly string[], at: number): Leaf[] {
  const rest = segments
    .slice(at)
    .map((s) => BOUNDARY_TEXT + s)
    .join('');
  return node.spans.filter((leaf) => holds(leaf.language, rest));
}

/** Lists longer than this are found again rather than kept. */
const MOST_KEPT = 64;

/**
 * All leaves whose path language shares a path with the shape's; remembered, because every check asks, and the methods of
 * a path share their shapes. Throws `LimitReached`.
 */
export function overlapping(tree: Tree, shape: Shape): readonly Leaf[] {
  const known = tree.overlaps.get(shape);
  if (known !== undefined) return known;
  const found: Leaf[] = [];
  overlap(tree, tree.root, shape, 0, found);
  if (found.length <= MOST_KEPT) tree.overlaps.set(shape, found);
  return found;
}

/** A branch that a router prefers to the shape's own at some place, and a route behind it. */
export interface Detour {
  readonly at: number;
  readonly piece: Segment;
  readonly route: Route;
}

/** The branches beside a shape's own that take some of its segments first, in a router that never comes back. */
export function detours(tree: Tree, shape: Shape): readonly Detour[] {
  const found: Detour[] = [];
  let node: Node | undefined = tree.root;
  for (let at = 0; at < shape.length && node !== undefined; at++) {
    const piece = shape[at] as Shape[number];
    const text = literalText(piece);
    const own: Language | undefined = piece.kind === 'segment' ? tree.compiler.segment(piece) : undefined;
    if (text === undefined) found.push(...detoursAt(tree, node, own, at));
    if (piece.kind === 'span') return found;
    node =
      text === undefined
        ? node.branches.find((b) => b.language === own)?.node
        : node.literals.get(tree.eitherCase ? text.toLowerCase() : text);
  }
  return found;
}

function detoursAt(tree: Tree, node: Node, own: Language | undefined, at: number): readonly Detour[] {
  const literals = [...node.literals].filter(([word]) => own === undefined || holdsWord(tree, own, word));
  const order = ranked(tree, node);
  const before =
    own === undefined
      ? order
      : order.slice(
          0,
          order.findIndex((b) => b.language === own),
        );
  const branches = before.filter((b) => own === undefined || !disjoint(b.language, own));
  return [
    ...literals.map(([word, next]): Detour => ({ at, piece: literalSegment(word), route: next.first as Route })),
    ...branches.map((b): Detour => ({ at, piece: b.piece, route: b.node.first as Route })),
  ];
}

function newNode(first: Route | undefined): Node {
  return { literals: NO_LITERALS, branches: NO_BRANCHES, ends: NO_LEAVES, spans: NO_SPANS, first };
}

function child(tree: Tree, node: Node, segment: Segment, route: Route): Node {
  const text = literalText(segment);
  if (text !== undefined) {
    const key = tree.eitherCase ? text.toLowerCase() : text;
    const known = node.literals.get(key) ?? newNode(route);
    if (node.literals === NO_LITERALS) node.literals = new Map();
    (node.literals as Map<string, Node>).set(key, known);
    return known;
  }
  const language = tree.compiler.segment(segment);
  const known = node.branches.find((b) => b.language === language);
  if (known !== undefined) return known.node;
  const made = { language, piece: segment, node: newNode(route) };
  node.branches = pushed(node.branches, NO_BRANCHES, made);
  return made.node;
}

function visit(tree: Tree, node: Node, segments: readonly string[], at: number, found: Leaf[]): void {
  if (node.spans !== NO_SPANS) {
    const rest = segments
      .slice(at)
      .map((s) => BOUNDARY_TEXT + s)
      .join('');
    for (const leaf of node.spans) if (holds(leaf.language, rest)) found.push(leaf);
  }
  if (at === segments.length) {
    for (const leaf of node.ends) found.push(leaf);
    return;
  }
  const segment = segments[at] as string;
  const literal = node.literals.get(tree.eitherCase ? segment.toLowerCase() : segment);
  if (literal !== undefined) visit(tree, literal, segments, at + 1, found);
  for (const branch of node.branches) {
    if (holds(branch.language, segment)) visit(tree, branch.node, segments, at + 1, found);
  }
}

function overlap(tree: Tree, node: Node, shape: Shape, at: number, found: Leaf[]): void {
  const piece = shape[at];
  if (piece?.kind === 'span') {
    const language = tree.compiler.rest(shape, at);
    everyLeaf(node, (leaf) => {
      if (!disjoint(language, tree.compiler.rest(leaf.shape, at))) found.push(leaf);
    });
    return;
  }
  for (const leaf of node.spans) {
    if (!disjoint(leaf.language, tree.compiler.rest(shape, at))) found.push(leaf);
  }
  if (piece === undefined) {
    for (const leaf of node.ends) found.push(leaf);
    return;
  }
  overlapSegment(tree, node, shape, at, piece, found);
}

function overlapSegment(tree: Tree, node: Node, shape: Shape, at: number, piece: Segment, found: Leaf[]): void {
  const language = tree.compiler.segment(piece);
  const text = literalText(piece);
  if (text !== undefined) {
    const literal = node.literals.get(tree.eitherCase ? text.toLowerCase() : text);
    if (literal !== undefined) overlap(tree, literal, shape, at + 1, found);
  } else {
    for (const [word, next] of node.literals) {
      if (holdsWord(tree, language, word)) overlap(tree, next, shape, at + 1, found);
    }
  }
  for (const branch of node.branches) {
    if (!disjoint(branch.language, language)) overlap(tree, branch.node, shape, at + 1, found);
  }
}

/** With either case the word stands for all its spellings, of which a typed parameter may take some. */
function holdsWord(tree: Tree, language: Language, word: string): boolean {
  if (!tree.eitherCase) return holds(language, word);
  const spellings = tree.compiler.segment(literalSegment(word));
  return !disjoint(language, spellings);
}

function everyLeaf(node: Node, use: (leaf: Leaf) => void): void {
  for (const leaf of node.spans) use(leaf);
  for (const leaf of node.ends) use(leaf);
  for (const next of node.literals.values()) everyLeaf(next, use);
  for (const branch of node.branches) everyLeaf(branch.node, use);
}
