/**
 * The index over segments: a tree whose edges are segments, literal ones in a map, the others by their language, and
 * whose nodes hold the routes that end there or go on with a span. It answers who matches a path, and whose reach
 * overlaps a shape, without looking at routes that start differently.
 */
import { BOUNDARY_TEXT } from '../language/charset.ts';
import { disjoint, holds, type Language } from '../language/language.ts';
import type { Compiler } from '../paths/compile.ts';
import { literalSegment, literalText, type Segment, type Shape } from '../paths/pattern.ts';
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
  readonly node: Node;
}

interface Node {
  readonly literals: Map<string, Node>;
  readonly branches: Branch[];
  readonly ends: Leaf[];
  readonly spans: SpanLeaf[];
}

export interface Tree {
  readonly root: Node;
  readonly compiler: Compiler;
  /** Literals are compared in lower case. */
  readonly eitherCase: boolean;
}

export function emptyTree(compiler: Compiler, eitherCase: boolean): Tree {
  return { root: newNode(), compiler, eitherCase };
}

/** Adds a shape. O(segments) plus the branches that stand beside its parameters. */
export function insert(tree: Tree, leaf: Leaf): void {
  let node = tree.root;
  for (let i = 0; i < leaf.shape.length; i++) {
    const piece = leaf.shape[i] as Shape[number];
    if (piece.kind === 'span') {
      node.spans.push({ ...leaf, language: tree.compiler.rest(leaf.shape, i) });
      return;
    }
    node = child(tree, node, piece);
  }
  node.ends.push(leaf);
}

/** All leaves whose reach holds the path, given as decoded segments. Visits only branches that hold its segments. */
export function matching(tree: Tree, segments: readonly string[]): Leaf[] {
  const found: Leaf[] = [];
  visit(tree, tree.root, segments, 0, found);
  return found;
}

/** All leaves whose path language shares a path with the shape's. Throws `LimitReached`. */
export function overlapping(tree: Tree, shape: Shape): Leaf[] {
  const found: Leaf[] = [];
  overlap(tree, tree.root, shape, 0, found);
  return found;
}

function newNode(): Node {
  return { literals: new Map(), branches: [], ends: [], spans: [] };
}

function child(tree: Tree, node: Node, segment: Segment): Node {
  const text = literalText(segment);
  if (text !== undefined) {
    const key = tree.eitherCase ? text.toLowerCase() : text;
    const known = node.literals.get(key) ?? newNode();
    node.literals.set(key, known);
    return known;
  }
  const language = tree.compiler.segment(segment);
  const known = node.branches.find((b) => b.language === language);
  if (known !== undefined) return known.node;
  const made = { language, node: newNode() };
  node.branches.push(made);
  return made.node;
}

function visit(tree: Tree, node: Node, segments: readonly string[], at: number, found: Leaf[]): void {
  if (node.spans.length > 0) {
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
