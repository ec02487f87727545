/** Where a router that never comes back may be led astray: the beginnings of its paths, whether or not a route ends behind. */
import type { Language } from '../language/language.ts';
import { literalText, type Shape } from '../paths/pattern.ts';
import { ANY_METHOD } from './route.ts';
import type { Router } from './router.ts';
import { emptyTree, insert, type Leaf, overlapping, type Tree } from './tree.ts';

/** Does the router take the best branch at each segment, and never another one? */
export function isOneWay({ facts }: Router): boolean {
  return facts.deadEnds === 'give-up' && facts.precedence === 'most-specific' && facts.specificity === 'left-to-right';
}

/** Every beginning of a path that takes some paths of the shape, as a leaf of any method; none where the router comes back. */
export function forks(router: Router, shape: Shape): readonly Leaf[] {
  return isOneWay(router) ? overlapping(beginnings(router), shape) : [];
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
            shape: [...shape.slice(0, at + 1), { kind: 'span', parts: [{ kind: 'tail', name: 'rest', takes: 'all' }] }],
          });
        begun.set(key, next ?? new Map());
        begun = begun.get(key) as Begun;
      }
    }
  }
  made.set(router, tree);
  return tree;
}
