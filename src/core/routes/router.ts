/** A table made ready for questions: its shapes in a tree, its facts turned into readings. */
import type { Language } from '../language/language.ts';
import { type Compiler, compiler, type Reading } from '../paths/compile.ts';
import { literalSegment, literalText, type Pattern, rawPiece, type Shape } from '../paths/pattern.ts';
import { languageOfType, type ParameterType } from '../paths/types.ts';
import type { Facts } from './facts.ts';
import type { Route, RouteTable } from './route.ts';
import { emptyTree, insert, type Leaf, type Tree } from './tree.ts';
import type { Versioning } from './version.ts';

export interface Router {
  readonly table: RouteTable;
  readonly facts: Facts;
  readonly tree: Tree;
  /** Where a request names its version, if anywhere but in the path. */
  readonly versioning: Versioning | undefined;
  /** What a written type takes, whether or not it is part of the match. */
  readonly typeLanguage: (type: ParameterType) => Language;
  /** The shapes of a route under this router's facts, a trailing slash that may be there or not among them. */
  readonly leavesOf: (route: Route) => readonly Leaf[];
}

/** Builds the index. O(total segments). Throws `LimitReached` where a type is too large. */
export function buildRouter(table: RouteTable, versioning?: Versioning): Router {
  const { facts } = table;
  const eitherCase = facts.letterCase === 'either';
  const tree = emptyTree(compilerFor(facts), eitherCase, facts.types !== 'after-match');
  const leaves: Leaf[][] = table.routes.map((route) => shapesUnder(route.pattern, facts).map((shape) => ({ route, shape })));
  for (const leaf of leaves.flat()) insert(tree, leaf);
  return {
    table,
    facts,
    tree,
    versioning,
    // Plain text may be empty where the router lets it; a handler that wants text has no reason to refuse it.
    typeLanguage: (type) => (type.name === 'text' ? tree.compiler.value(type) : languageOfType(type)),
    leavesOf: (route) => leaves[route.index] as readonly Leaf[],
  };
}

/** One for each reading, because many routers of one run share their patterns. */
const COMPILERS = new Map<string, Compiler>();

function compilerFor(facts: Facts): Compiler {
  const reading = readingOf(facts);
  const key = Object.values(reading).join();
  const known = COMPILERS.get(key) ?? compiler(reading);
  COMPILERS.set(key, known);
  return known;
}

export function readingOf(facts: Facts): Reading {
  return {
    eitherCase: facts.letterCase === 'either',
    emptyValue: facts.emptyValue === 'accepted',
    longest: facts.longestValue,
    typesMatch: facts.types !== 'after-match',
  };
}

/** With `either`, each shape once with and once without a slash at its end; with `may-add`, only those without. */
export function shapesUnder(pattern: Pattern, facts: Facts): readonly Shape[] {
  const shapes = facts.decoding === 'values-only' ? pattern.shapes.map((s) => s.map(rawPiece)) : pattern.shapes;
  if (facts.trailingSlash !== 'either' && facts.trailingSlash !== 'may-add') return shapes;
  return shapes.flatMap((shape) => {
    const last = shape[shape.length - 1];
    if (last === undefined || last.kind === 'span' || (shape.length === 1 && literalText(last) === '')) return [shape];
    const slashed = literalText(last) === '';
    if (slashed) return facts.trailingSlash === 'either' ? [shape, shape.slice(0, -1)] : [shape];
    return [shape, [...shape, literalSegment('')]];
  });
}
