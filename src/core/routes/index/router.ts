/** A table made ready for questions: its shapes in a tree, its facts turned into readings. */

import { lazy } from '../../base/lazy.ts';
import { KeyedMemo, RecentMap } from '../../base/memo.ts';
import { accepts, type Language } from '../../language/language.ts';
import { type Compiler, compiler, type MatchOptions } from '../../paths/compile.ts';
import { literalSegment, literalText, type Pattern, rawPiece, type Shape } from '../../paths/pattern.ts';
import { languageOfType, type ParameterType } from '../../paths/types.ts';
import type { Described } from '../request/asking.ts';
import type { Versioning } from '../request/requested-version.ts';
import type { Route, RouteTable } from '../table/route.ts';
import { type Facts, isOneWayBy, isTree } from '../table/router-facts.ts';
import { methodLanguage } from './route-languages.ts';
import { emptyTree, insert, type RouteShape, type SegmentTrie, type TreeOptions } from './segment-tree.ts';

export interface Router {
  readonly table: RouteTable;
  readonly facts: Facts;
  readonly tree: SegmentTrie;
  /** The languages of what a route handles: without values that are too long. */
  readonly reach: Compiler;
  /** The shapes as they are written alone, which a router walks that never comes back. */
  readonly written: () => SegmentTrie;
  /** The other spelling of a shape that is in `written`: with the slash at its end, or without. */
  readonly respelt: (leaf: RouteShape) => RouteShape | undefined;
  /** Values of parameters that the service's own document gives, by name; they make the best examples. */
  readonly samples: () => ReadonlyMap<string, readonly string[]>;
  /** Where a request names its version, if anywhere but in the path. */
  readonly versioning: Versioning | undefined;
  /** What a written type takes, whether or not it is part of the match. */
  readonly typeLanguage: (type: ParameterType) => Language;
  /** The shapes of a route under this router's facts, a trailing slash that may be there or not among them. */
  readonly leavesOf: (route: Route) => readonly RouteShape[];
  /** What its document says of the media types of a route and method, where they have one. */
  readonly described?: ((route: Route, method: string) => Described | undefined) | undefined;
  /** The method that this view of it is for. */
  readonly method?: string;
}

const NO_SAMPLES: Router['samples'] = () => new Map();

/** Builds the index. O(total segments). */
export function buildRouter(table: RouteTable, versioning?: Versioning, samples: Router['samples'] = NO_SAMPLES): Router {
  const { facts } = table;
  const options = {
    // How long a value may be is looked at once the segment is split.
    compiler: compilerFor(facts, Number.POSITIVE_INFINITY),
    eitherCase: facts.letterCase === 'either',
    typesMatch: facts.types !== 'after-match',
    sharedBranch: facts.typedBranch === 'shared',
  };
  const leaves = new Map<Route, readonly RouteShape[]>(table.routes.map((route) => [route, leavesUnder(route, facts)]));
  return {
    table,
    facts,
    reach: compilerFor(facts, facts.longestValue),
    ...treesOf(options, [...leaves.values()].flat()),
    respelt: (leaf) => {
      const own = leaves.get(leaf.route) ?? [];
      const next = own[own.indexOf(leaf) + 1];
      return next?.otherSlash === true ? next : undefined;
    },
    samples,
    versioning,
    // Plain text may be empty where the router lets it; a handler that wants text has no reason to refuse it.
    typeLanguage: (type) => (type.name === 'text' ? options.compiler.value(type) : languageOfType(type)),
    leavesOf: (route) => leaves.get(route) ?? [],
  };
}

function treesOf(options: TreeOptions, leaves: readonly RouteShape[]): Pick<Router, 'tree' | 'written'> {
  const treeOf = (some: readonly RouteShape[]): SegmentTrie => {
    const tree = emptyTree(options);
    for (const leaf of some) insert(tree, leaf);
    return tree;
  };
  return { tree: treeOf(leaves), written: lazy(() => treeOf(leaves.filter((l) => l.otherSlash !== true))) };
}

const viewCache = new KeyedMemo<Router, string, Router>();

/** The router for requests of one method, where that changes what it looks at: a tree of its own, or who goes first. */
export function viewFor(router: Router, asked: string): Router {
  const { facts, table, tree } = router;
  const ownTree = isTree(facts) && facts.trees === 'per-method';
  const beforeGet = facts.head === 'before-get' && asked === 'HEAD';
  if (!ownTree && !beforeGet) return router;
  // Any text may be sent as a method; those that no route names share one view.
  const method = asked === 'HEAD' || table.routes.some((r) => r.methods.includes(asked)) ? asked : '~';
  const found = viewCache.get(router, method);
  if (found !== undefined) return found;
  const own = (): readonly RouteShape[] =>
    table.routes.flatMap((r) => (accepts(methodLanguage(r.methods, facts), method) ? router.leavesOf(r) : []));
  const view: Router = { ...router, method, ...(ownTree ? treesOf(tree, own()) : {}) };
  viewCache.set(router, method, view);
  return view;
}

/** Does the router take the best branch at each segment, and never come back for another? */
export function neverBacktracks({ facts }: Router): boolean {
  return isOneWayBy(facts);
}

/** One for each reading, because many routers of one run share their patterns. */
const COMPILERS = new RecentMap<string, Compiler>(50);

function compilerFor(facts: Facts, longest: number): Compiler {
  const reading: MatchOptions = { ...matchOptionsOf(facts), longest };
  const key = Object.values(reading).join();
  return COMPILERS.remember(key, () => compiler(reading));
}

export function matchOptionsOf(facts: Facts): MatchOptions {
  return {
    eitherCase: facts.letterCase === 'either',
    emptyValue: facts.emptyValue === 'accepted',
    longest: facts.longestValue,
    typesMatch: facts.types !== 'after-match',
  };
}

function leavesUnder(route: Route, facts: Facts): readonly RouteShape[] {
  return route.pattern.shapes.flatMap((written) => {
    const isPartial = route.pattern.partial?.has(written) === true;
    return shapesUnder(written, facts).map(
      (shape, i): RouteShape => ({
        route,
        shape,
        ...(isPartial ? { partial: true } : {}),
        ...(i > 0 ? { otherSlash: true } : {}),
      }),
    );
  });
}

/**
 * The shape as this router reads it, then its other spelling, where the router takes one: with `either` and `either-last`
 * each shape with and without a slash at its end, with `may-add` those without alone. With `ignored` a slash at the end of
 * the pattern says nothing.
 */
function shapesUnder(written: Shape, facts: Facts): readonly Shape[] {
  const isRaw = facts.decoding === 'values-only' || facts.patternText === 'as-written';
  const shape = isRaw ? written.map(rawPiece) : written;
  const last = shape[shape.length - 1];
  if (last === undefined || last.kind === 'span' || (shape.length === 1 && literalText(last) === '')) return [shape];
  const isSlashed = literalText(last) === '';
  switch (facts.trailingSlash) {
    case 'ignored':
      return [isSlashed ? shape.slice(0, -1) : shape];
    case 'may-add':
      return isSlashed ? [shape] : [shape, [...shape, literalSegment('')]];
    case 'either':
    case 'either-last':
      return [shape, isSlashed ? shape.slice(0, -1) : [...shape, literalSegment('')]];
    default:
      return [shape];
  }
}

/** Does the pattern lose its slash, which this router takes off every request? */
export function losesItsSlash({ facts }: Router, { shapes }: Pattern): boolean {
  if (facts.trailingSlash !== 'removed') return false;
  return shapes.every((s) => s.length > 1 && literalText(s[s.length - 1] as never) === '');
}
