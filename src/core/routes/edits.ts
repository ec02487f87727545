/** Routes whose path a request misses by one segment: a walk through the tree that may once step beside the request. */
import { example } from '../language/example.ts';
import { holds } from '../language/language.ts';
import type { Segment } from '../paths/pattern.ts';
import type { Leaf, Node, Tree } from './tree.ts';

export interface Edit {
  /** What the request does that the route does not: it lacks a segment, has one too many, or has another one. */
  readonly kind: 'missing' | 'extra' | 'different';
  readonly at: number;
  /** What stands there in the route, as text and, for a parameter, as it is declared. */
  readonly text: string;
  readonly piece: Segment | undefined;
}

export interface NearLeaf {
  readonly leaf: Leaf;
  readonly edit: Edit;
  /** The segments that would have been matched. */
  readonly segments: readonly string[];
}

/** The most nodes looked at; a tree that branches wider is only partly searched. */
const MAX_VISITS = 20_000;

/** All leaves that the segments miss by one edit, as far as `MAX_VISITS` goes. */
export function nearMatches(tree: Tree, segments: readonly string[]): readonly NearLeaf[] {
  const found: NearLeaf[] = [];
  let visits = 0;
  const walk = (node: Node, at: number, edit: Edit | undefined, path: readonly string[]): void => {
    visits += 1;
    if (visits > MAX_VISITS) return;
    if (at === segments.length) {
      if (edit !== undefined) for (const leaf of node.ends) found.push({ leaf, edit, segments: path });
    } else {
      const segment = segments[at] as string;
      for (const [next] of matchingChildren(tree, node, segment)) walk(next, at + 1, edit, [...path, segment]);
      if (edit === undefined) walk(node, at + 1, { kind: 'extra', at, text: segment, piece: undefined }, path);
    }
    if (edit !== undefined) return;
    for (const { node: next, text, piece } of childrenOf(node)) {
      walk(next, at, { kind: 'missing', at, text, piece }, [...path, text]);
      const segment = segments[at];
      if (segment !== undefined && !fits(tree, text, piece, segment))
        walk(next, at + 1, { kind: 'different', at, text, piece }, [...path, text]);
    }
  };
  walk(tree.root, 0, undefined, []);
  return found;
}

function matchingChildren(tree: Tree, node: Node, segment: string): readonly (readonly [Node])[] {
  const literal = node.literals.get(tree.eitherCase ? segment.toLowerCase() : segment);
  const branches = node.branches.filter((b) => holds(b.language, segment)).map((b) => [b.node] as const);
  return literal === undefined ? branches : [[literal], ...branches];
}

function childrenOf(node: Node): readonly { node: Node; text: string; piece: Segment | undefined }[] {
  const literals = [...node.literals].map(([text, next]) => ({ node: next, text, piece: undefined }));
  return [...literals, ...node.branches.map((b) => ({ node: b.node, text: example(b.language) ?? '', piece: b.piece }))];
}

function fits(tree: Tree, text: string, piece: Segment | undefined, segment: string): boolean {
  if (piece !== undefined) return holds(tree.compiler.segment(piece), segment);
  return tree.eitherCase ? text === segment.toLowerCase() : text === segment;
}
