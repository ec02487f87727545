/** Where a router that never comes back may be led astray: the beginnings of its paths, whether or not a route ends behind. */
import { ANY, repeat } from '../language/expression.ts';
import type { Language } from '../language/language.ts';
import { literalText, type Segment, type Shape } from '../paths/pattern.ts';
import { ANY_METHOD } from './route.ts';
import type { Router } from './router.ts';
import { emptyTree, insert, type Leaf, overlapping, type Tree } from './tree.ts';

/** Does the router take the best branch at each segment, and never another one? */
export function isOneWay({ facts }: Router): boolean {
  return facts.deadEnds === 'give-up' && facts.precedence === 'most-specific' && facts.specificity === 'left-to-right';
}

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

const made = new WeakMap<Router, Tree>();

type Begun = Map<string | Language, Begun>;

/** Each beginning once, and what goes on behind a whole path. O(segments of the table). */
function beginnings(router: Router): Tree {
  const known = made.get(router);
  if (known !== undefined) return known;
  const { compiler, eitherCase, typesMatch } = router.tree;
  const tree = emptyTree(compiler, eitherCase, typesMatch);
  const first: Begun = new Map();
  for (const route of router.table.routes) {
    for (const { shape } of router.leavesOf(route)) {
      let begun = first;
      for (const [at, piece] of shape.entries()) {
        if (piece.kind === 'span') break;
        const key = literalText(piece) ?? compiler.segment(piece);
        const next = begun.get(key);
        if (next === undefined)
          insert(tree, {
            route: { ...route, methods: [ANY_METHOD], conditions: {} },
            shape: [...shape.slice(0, at + 1), REST],
          });
        begun.set(key, next ?? new Map());
        begun = begun.get(key) as Begun;
      }
    }
  }
  made.set(router, tree);
  return tree;
}
