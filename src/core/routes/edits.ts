/** Routes whose path a request misses by one segment: a walk through the tree that may once step beside the request. */
import { usualText } from '../language/example.ts';
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
const MAX_VISITS = 5_000;

/**
 * The leaves that the segments miss by one edit, at the deepest place where one edit helps: what was matched before it
 * was most likely meant. Cost: the branches at that place, at most `MAX_VISITS` nodes in all.
 */
export function nearMatches(tree: Tree, segments: readonly string[]): readonly NearLeaf[] {
  let visits = 0;
  /** All nodes that the segments from `at` lead to. */
  const exact = (nodes: readonly Node[], at: number): readonly Node[] => {
    let current = nodes;
    for (let i = at; i < segments.length && current.length > 0; i++) {
      const next: Node[] = [];
      for (const node of current) for (const child of matchingChildren(tree, node, segments[i] as string)) next.push(child);
      visits += next.length + 1;
      current = next;
    }
    return current;
  };
  const frontiers: (readonly Node[])[] = [[tree.root]];
  for (let i = 0; i < segments.length; i++) {
    const next = (frontiers[i] as readonly Node[]).flatMap((node) => matchingChildren(tree, node, segments[i] as string));
    if (next.length === 0) break;
    frontiers.push(next);
  }
  for (let at = frontiers.length - 1; at >= 0; at--) {
    const found: NearLeaf[] = [];
    const segment = segments[at];
    const collect = (nodes: readonly Node[], from: number, edit: Edit, between: readonly string[]): void => {
      if (visits > MAX_VISITS) return;
      const path = [...segments.slice(0, at), ...between, ...segments.slice(from)];
      for (const node of exact(nodes, from)) for (const leaf of node.ends) found.push({ leaf, edit, segments: path });
    };
    for (const node of frontiers[at] as readonly Node[]) {
      for (const { node: next, text, piece } of childrenOf(tree, node)) {
        // Nobody leaves out one of two equal words in a row.
        if (piece !== undefined || text !== segments[at - 1]) collect([next], at, { kind: 'missing', at, text, piece }, [text]);
        if (segment !== undefined && !fits(tree, text, piece, segment))
          collect([next], at + 1, { kind: 'different', at, text, piece }, [text]);
      }
      if (segment !== undefined) collect([node], at + 1, { kind: 'extra', at, text: segment, piece: undefined }, []);
    }
    if (found.length > 0) return found;
  }
  return [];
}

function matchingChildren(tree: Tree, node: Node, segment: string): readonly Node[] {
  const literal = node.literals.get(tree.eitherCase ? segment.toLowerCase() : segment);
  const branches = node.branches.filter((b) => b.matches(segment)).map((b) => b.node);
  return literal === undefined ? branches : [literal, ...branches];
}

function childrenOf(tree: Tree, node: Node): readonly { node: Node; text: string; piece: Segment | undefined }[] {
  const literals = [...node.literals].map(([text, next]) => ({ node: next, text, piece: undefined }));
  return [
    ...literals,
    ...node.branches.map((b) => ({ node: b.node, text: usualText(tree.compiler.segment(b.piece)), piece: b.piece })),
  ];
}

function fits(tree: Tree, text: string, piece: Segment | undefined, segment: string): boolean {
  if (piece !== undefined) return tree.compiler.test(piece)(segment);
  return tree.eitherCase ? text === segment.toLowerCase() : text === segment;
}
