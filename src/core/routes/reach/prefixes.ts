/** Where a router that never comes back may be led astray: the beginnings of its paths, whether or not a route ends behind. */
import { ANY, repeat } from '../../language/expression.ts';
import { literalSegment, type Piece, type Segment, type Shape } from '../../paths/pattern.ts';
import { isOneWay, type Router } from '../index/router.ts';
import { emptyTree, insert, type Leaf, type Node, type Tree } from '../index/segment-tree.ts';
import { ANY_METHOD, type Route } from '../table/route.ts';
import { overlapping } from './overlapping.ts';

/** Every beginning of a path that takes some paths of the shape, as a leaf of any method; none where the router comes back. */
export function forks(router: Router, shape: Shape): readonly Leaf[] {
  if (!isOneWay(router)) return [];
  const found = overlapping(beginnings(router), shape);
  // Where the length is known it is compared segment by segment, which costs far less.
  return shape.some((p) => p.kind === 'span') ? found : found.map((leaf) => asLongAs(shape, leaf));
}

/** Whatever comes, or nothing. */
export const REST: Shape[number] = { kind: 'span', parts: [{ kind: 'tail', name: 'rest', takes: 'all' }] };

const WHATEVER: Segment = {
  kind: 'segment',
  parts: [{ kind: 'expression', expression: repeat(ANY), source: '(.*)' }],
  text: undefined,
};

function asLongAs(shape: Shape, leaf: Leaf): Leaf {
  const beginning = leaf.shape.slice(0, -1);
  return { ...leaf, shape: shape.map((_, at) => beginning[at] ?? WHATEVER) };
}

const made = new WeakMap<Tree, Tree>();

/** Each beginning once, and what goes on behind a whole path. O(segments of the table). */
function beginnings(router: Router): Tree {
  const written = router.written();
  const known = made.get(written);
  if (known !== undefined) return known;
  const { compiler, eitherCase, typesMatch } = written;
  const tree = emptyTree({ compiler, eitherCase, typesMatch, sharedBranch: false });
  const visit = (node: Node, pieces: readonly Piece[]): void => {
    const { first } = node;
    if (first !== undefined) insert(tree, { route: ofAnyRequest(first), shape: [...pieces, REST] });
    for (const [word, next] of node.literals) visit(next, [...pieces, literalSegment(word)]);
    for (const branch of node.branches) visit(branch.node, [...pieces, branch.piece]);
  };
  visit(written.root, []);
  made.set(written, tree);
  return tree;
}

function ofAnyRequest(route: Route): Route {
  return { ...route, methods: [ANY_METHOD], conditions: {} };
}
