/** Whose reach overlaps a shape, found in the tree without looking at routes that start differently. */
import { disjoint, type Language } from '../../language/language.ts';
import { decide } from '../../language/limits.ts';
import { literalSegment, literalText, type Segment, type Shape } from '../../paths/pattern.ts';
import { branchKey, literalChild, type Node, type RouteShape, type SegmentTrie } from '../index/segment-tree.ts';
import { disjointPaths } from './product.ts';

/** Lists longer than this are found again rather than kept. */
const MOST_KEPT = 64;

/**
 * All leaves whose path language shares a path with the shape's, and those of which a limit leaves that open; remembered,
 * because every check asks, and the methods of a path share their shapes.
 */
export function overlapping(tree: SegmentTrie, shape: Shape): readonly RouteShape[] {
  const known = tree.overlaps.get(shape);
  if (known !== undefined) return known;
  const all: RouteShape[] = [];
  overlap(tree, tree.root, shape, 0, all);
  const found = tree.sharedBranch ? all.filter((l) => !disjointPaths(shape, l.shape, tree.compiler)) : all;
  if (found.length <= MOST_KEPT) tree.overlaps.set(shape, found);
  return found;
}

function overlap(tree: SegmentTrie, node: Node, shape: Shape, at: number, found: RouteShape[]): void {
  const { compiler } = tree;
  const piece = shape[at];
  if (piece?.kind === 'span') {
    everyLeaf(node, (leaf) => {
      if (mayMeet(() => [compiler.rest(shape, at), compiler.rest(leaf.shape, at)])) found.push(leaf);
    });
    return;
  }
  for (const leaf of node.spans) {
    if (mayMeet(() => [leaf.language, compiler.rest(shape, at)])) found.push(leaf);
  }
  if (piece === undefined) {
    for (const leaf of node.ends) found.push(leaf);
    return;
  }
  overlapSegment(tree, node, shape, at, piece, found);
}

function overlapSegment(tree: SegmentTrie, node: Node, shape: Shape, at: number, piece: Segment, found: RouteShape[]): void {
  const text = literalText(piece);
  if (text !== undefined) {
    const literal = literalChild(tree, node, text);
    if (literal !== undefined) overlap(tree, literal, shape, at + 1, found);
    for (const branch of node.branches) if (meetsWord(tree, branch.piece, text)) overlap(tree, branch.node, shape, at + 1, found);
    return;
  }
  for (const [word, next] of node.literals) {
    if (meetsWord(tree, piece, word)) overlap(tree, next, shape, at + 1, found);
  }
  for (const branch of node.branches) {
    const meets =
      branch.key === branchKey(tree, piece) || mayMeet(() => [tree.compiler.segment(branch.piece), tree.compiler.segment(piece)]);
    if (meets) overlap(tree, branch.node, shape, at + 1, found);
  }
}

/** Do the languages share a text? True where a limit leaves it open: what is asked next decides. */
function mayMeet(pair: () => readonly [Language, Language]): boolean {
  const found = decide(() => disjoint(...pair()));
  return !found.decided || !found.value;
}

/** With either case the word stands for all its spellings, of which a typed parameter may take some. */
export function meetsWord({ eitherCase, compiler }: SegmentTrie, piece: Segment, word: string): boolean {
  if (!eitherCase) return compiler.test(piece)(word);
  return mayMeet(() => [compiler.segment(piece), compiler.segment(literalSegment(word))]);
}

function everyLeaf(node: Node, use: (leaf: RouteShape) => void): void {
  for (const leaf of node.spans) use(leaf);
  for (const leaf of node.ends) use(leaf);
  for (const next of node.literals.values()) everyLeaf(next, use);
  for (const branch of node.branches) everyLeaf(branch.node, use);
}
