/** Path prefixes to which a router without backtracking commits, even if no route ends below them. */
import { ANY, repeat } from '../../language/expression.ts';
import { literalSegment, type Piece, type Segment, type Shape } from '../../paths/pattern.ts';
import { neverBacktracks, type Router } from '../index/router.ts';
import { emptyTree, insert, type Node, type RouteShape, type SegmentTrie } from '../index/segment-tree.ts';
import { ANY_METHOD, type Route } from '../table/route.ts';
import { overlapping } from './overlapping.ts';

/** Every beginning of a path that takes some paths of the shape, as a leaf of any method; none where the router comes back. */
export function committingPrefixes(router: Router, shape: Shape): readonly RouteShape[] {
  if (!neverBacktracks(router)) return [];
  const found = overlapping(prefixTrie(router), shape);
  // Where the length is known it is compared segment by segment, which costs far less.
  return shape.some((p) => p.kind === 'span') ? found : found.map((leaf) => padToLength(shape, leaf));
}

/** Whatever comes, or nothing. */
export const ANY_TAIL: Shape[number] = { kind: 'span', parts: [{ kind: 'tail', name: 'rest', takes: 'all' }] };

const ANY_SEGMENT: Segment = {
  kind: 'segment',
  parts: [{ kind: 'expression', expression: repeat(ANY), source: '(.*)' }],
  text: undefined,
};

function padToLength(shape: Shape, leaf: RouteShape): RouteShape {
  const beginning = leaf.shape.slice(0, -1);
  return { ...leaf, shape: shape.map((_, at) => beginning[at] ?? ANY_SEGMENT) };
}

const prefixTrieCache = new WeakMap<SegmentTrie, SegmentTrie>();

/** Each beginning once, and what goes on behind a whole path. O(segments of the table). */
function prefixTrie(router: Router): SegmentTrie {
  const written = router.written();
  const known = prefixTrieCache.get(written);
  if (known !== undefined) return known;
  const { compiler, eitherCase, typesMatch } = written;
  const tree = emptyTree({ compiler, eitherCase, typesMatch, sharedBranch: false });
  const visit = (node: Node, pieces: readonly Piece[]): void => {
    const { first } = node;
    if (first !== undefined) insert(tree, { route: ofAnyRequest(first), shape: [...pieces, ANY_TAIL] });
    for (const [word, next] of node.literals) visit(next, [...pieces, literalSegment(word)]);
    for (const branch of node.branches) visit(branch.node, [...pieces, branch.piece]);
  };
  visit(written.root, []);
  prefixTrieCache.set(written, tree);
  return tree;
}

function ofAnyRequest(route: Route): Route {
  return { ...route, methods: [ANY_METHOD], conditions: {} };
}
