/**
 * Why nobody takes a request: the nearest routes, each with the one thing that keeps the request away, and the target that
 * would have worked. Every target is followed before it is named.
 */
import { example } from '../../language/example.ts';
import { decide } from '../../language/limits.ts';
import { literalText, type Piece, type Segment } from '../../paths/pattern.ts';
import { follow } from '../follow/follow.ts';
import type { RoutingOutcome } from '../follow/outcome.ts';
import type { Router } from '../index/router.ts';
import type { RouteShape } from '../index/segment-tree.ts';
import type { Request } from '../request/request.ts';
import { parseTarget, pathOf } from '../request/target.ts';
import type { Route } from '../table/route.ts';
import { routeTitle } from '../table/route.ts';
import { nearIndex } from './near-index.ts';
import { type Edit, editTo, misspelling } from './segment-edits.ts';

export interface Near {
  readonly route: Route;
  readonly cause: 'slash' | 'suffix' | 'prefix' | 'missing' | 'extra' | 'different' | 'spelling' | 'type' | 'version';
  readonly message: string;
  readonly target: string;
  /** Lower is likelier to be what was meant. */
  readonly rank: number;
}

/** What is this much less likely than the likeliest is not named. */
const FAR = 2;
/** How many are named, and how many are followed. */
const MOST = 3;
const MOST_FOLLOWED = 40;

interface Try {
  readonly cause: Near['cause'];
  readonly message: string;
  readonly segments: readonly string[];
  /** Lower is likelier to be what was meant. */
  readonly rank: number;
  /** The route that is meant; any where it is undefined. */
  readonly leaf: RouteShape | undefined;
}

/** Whether the path of a request that a route takes is refused all the same, by its document. */
export type IsRefused = (following: RoutingOutcome) => boolean;

/** The nearest routes for a request that ended in 404; none for any other outcome. No target is named that `isRefused`. */
export function nearest(router: Router, following: RoutingOutcome, isRefused: IsRefused = () => false): readonly Near[] {
  if (following.outcome !== 'not-found' || following.alsoMatched.length > 0) return [];
  const target = parseTarget(following.request.target, 'kept');
  if (!target.ok) return [];
  const { segments, query } = target;
  const rest = query === undefined ? '' : `?${query}`;
  const tries = segments.every((s) => s === '')
    ? startTries(router)
    : [...plainTries(router, segments), ...editTries(router, segments)];
  return verified(router, following.request, tries, rest, isRefused);
}

/** The nearest routes of several services, the likeliest first. */
export function nearestOf(lists: readonly (readonly Near[])[]): readonly Near[] {
  const sorted = lists.flat().sort((a, b) => a.rank - b.rank);
  const [first] = sorted;
  return first === undefined ? [] : sorted.filter((n) => n.rank <= first.rank + FAR).slice(0, MOST);
}

/** Those that a route really takes, the likeliest first, a route once; none that is far less likely than the first. */
function verified(router: Router, request: Request, tries: readonly Try[], query: string, isRefused: IsRefused): readonly Near[] {
  const found: Near[] = [];
  let best: number | undefined;
  for (const t of [...tries].sort((a, b) => a.rank - b.rank).slice(0, MOST_FOLLOWED)) {
    if (best !== undefined && t.rank > best + FAR) break;
    const { leaf, outcome, target } = servedBy(router, request, t.segments, query, isRefused);
    if (leaf === undefined || outcome !== 'routed') continue;
    // Who else takes the target was not meant, and a tail takes whatever is put behind its prefix.
    if (t.leaf !== undefined && leaf.route.path !== t.leaf.route.path) continue;
    if (t.leaf === undefined && leaf.shape.some((p) => p.kind === 'span')) continue;
    if (found.some((f) => f.route === leaf.route || f.target === target)) continue;
    best ??= t.rank;
    found.push({ route: leaf.route, cause: t.cause, message: t.message, target, rank: t.rank });
    if (found.length === MOST) break;
  }
  return found;
}

/** Follows a target; where the document refuses its values, one with values that it takes, of the same route. */
function servedBy(
  router: Router,
  request: Request,
  segments: readonly string[],
  query: string,
  isRefused: IsRefused,
): Pick<RoutingOutcome, 'leaf' | 'outcome'> & { readonly target: string } {
  const target = pathOf(segments) + query;
  const given = follow(router, { ...request, target });
  if (given.leaf === undefined || !isRefused(given)) return { leaf: given.leaf, outcome: given.outcome, target };
  const { route, shape } = given.leaf;
  const mended = pathOf(segments.map((s, i) => (shape[i] === undefined ? s : (textFor(router, shape[i]) ?? s)))) + query;
  const again = follow(router, { ...request, target: mended });
  const isGood = again.leaf?.route === route && !isRefused(again);
  return { leaf: isGood ? again.leaf : undefined, outcome: again.outcome, target: mended };
}

/** A slash more or less, and a suffix: what needs no look at the routes. */
function plainTries(router: Router, segments: readonly string[]): readonly Try[] {
  const tries: Try[] = [];
  const add = (cause: Near['cause'], message: string, tried: readonly string[], rank: number): void => {
    tries.push({ cause, message, segments: tried, rank, leaf: undefined });
  };
  const last = segments[segments.length - 1] as string;
  if (last === '' && segments.length > 1)
    add('slash', 'there is a slash at the end, and the route has none', segments.slice(0, -1), 0);
  const { trailingSlash, emptyValue } = router.facts;
  const mayEnd = nearIndex(router).hasSlashes || emptyValue === 'accepted' || trailingSlash !== 'exact';
  if (last !== '' && mayEnd) add('slash', 'the route has a slash at its end', [...segments, ''], 0);
  const single = segments.filter((s, i) => s !== '' || i === segments.length - 1);
  if (single.length < segments.length) add('slash', 'there are two slashes in a row', single, 0);
  const dot = last.lastIndexOf('.');
  if (dot > 0) add('suffix', `the route has no suffix ${last.slice(dot)}`, [...segments.slice(0, -1), last.slice(0, dot)], 1);
  return tries;
}

/** What there is, where nothing was asked for: the shortest paths of words alone. */
function startTries(router: Router): readonly Try[] {
  return router.table.routes
    .filter((r) => !r.isBarrier && r.pattern.shapes[0]?.every((p) => literalText(p) !== undefined))
    .sort((a, b) => a.path.length - b.path.length || a.index - b.index)
    .slice(0, MOST_FOLLOWED)
    .map((route, i): Try => {
      const leaf = router.leavesOf(route)[0] as RouteShape;
      return {
        cause: 'missing',
        message: 'there is no route for /, but there are others',
        segments: leaf.shape.map((p) => literalText(p) ?? ''),
        rank: 5 + i / 100,
        leaf,
      };
    });
}

function editTries(router: Router, segments: readonly string[]): readonly Try[] {
  return nearIndex(router)
    .candidates(segments)
    .flatMap((leaf): readonly Try[] => {
      const edit = editTo(router.tree, leaf, segments);
      if (edit === undefined) return [];
      const meant = mendedBy(router, leaf, edit, segments);
      return meant === undefined ? [] : [{ ...explain(edit, segments, routeTitle(leaf.route)), segments: meant, leaf }];
    });
}

/** The segments that would have been matched. */
function mendedBy(router: Router, leaf: RouteShape, edit: Edit, segments: readonly string[]): readonly string[] | undefined {
  const texts = edit.pieces.map((piece) => textFor(router, piece));
  if (texts.some((t) => t === undefined)) return undefined;
  const put = texts as readonly string[];
  switch (edit.kind) {
    case 'missing':
      return [...segments.slice(0, edit.at), ...put, ...segments.slice(edit.at)];
    case 'extra':
      return [...segments.slice(0, edit.at), ...segments.slice(edit.at + edit.count)];
    case 'different':
      return segments.map((s, i) => (i === edit.at ? (put[0] as string) : s));
    case 'spelling':
      return segments.map((s, i) => {
        const at = edit.pieces.indexOf(leaf.shape[i] as Piece);
        return at < 0 ? s : (put[at] as string);
      });
    default:
      return edit.kind satisfies never;
  }
}

/** A text for a piece: what the document gives as an example, or a usual one. */
function textFor(router: Router, piece: Piece): string | undefined {
  const text = literalText(piece);
  if (text !== undefined || piece.kind === 'span') return text;
  const [only] = piece.parts;
  const hints = only?.kind === 'parameter' ? [...(router.samples().get(only.name) ?? []), ...only.type.hints] : [];
  const made = decide(() => example(router.tree.compiler.segment(piece), hints));
  return made.decided ? made.value : undefined;
}

type Told = Pick<Try, 'cause' | 'rank' | 'message'>;

function explain(edit: Edit, segments: readonly string[], title: string): Told {
  const found = segments[edit.at] ?? '';
  const quoted = found === '' ? 'an empty segment' : `"${found}"`;
  switch (edit.kind) {
    case 'missing': {
      const words = edit.pieces.map(literalText);
      if (edit.at === 0 && words.every((w) => w !== undefined && w !== ''))
        return { cause: 'prefix', rank: 2 + edit.count / 10, message: `the prefix /${words.join('/')} was left out` };
      return { cause: 'missing', rank: 5, message: `a segment is missing: ${title} has ${shown(edit.pieces[0])} there` };
    }
    case 'extra': {
      const words = segments.slice(edit.at, edit.at + edit.count).join('/');
      if (edit.at === 0) return { cause: 'prefix', rank: 3 + edit.count / 10, message: `the routes have no prefix /${words}` };
      return { cause: 'extra', rank: 5, message: `${quoted} is one segment too many for ${title}` };
    }
    case 'spelling':
      return spelling(edit, segments, title);
    case 'different':
      return different(edit.pieces[0] as Segment, found, quoted, title);
    default:
      return edit.kind satisfies never;
  }
}

function spelling({ pieces, at }: Edit, segments: readonly string[], title: string): Told {
  const found = segments[at] as string;
  const text = literalText(pieces[0] as Piece) as string;
  const distance = misspelling(text, found);
  const rank = 1 + distance / 10 + (pieces.length - 1) / 2;
  if (distance === 0)
    return { cause: 'spelling', rank: rank - 0.5, message: `"${found}" is "${text}" in ${title}: letter case counts` };
  return { cause: 'spelling', rank, message: `"${found}" is spelt "${text}" in ${title}` };
}

function different(piece: Segment, found: string, quoted: string, title: string): Told {
  const text = literalText(piece);
  if (text === undefined)
    return { cause: 'type', rank: 1.2, message: `${quoted} is not ${article(typeOf(piece))}, as ${title} requires` };
  if (/^v\d/iu.test(text) && /^v\d/iu.test(found))
    return { cause: 'version', rank: 2, message: `the version is ${found}, and ${title} is of ${text}` };
  // Nothing but a slash stands there in the route.
  if (text === '') return { cause: 'extra', rank: 5, message: `${quoted} is one segment too many for ${title}` };
  const far = misspelling(text, found) / 100;
  return { cause: 'different', rank: 6 + far, message: `${title} has "${text}" where the request has ${quoted}` };
}

function shown(piece: Piece | undefined): string {
  const [only] = piece?.parts ?? [];
  if (only?.kind === 'parameter') return `the parameter ${only.name}`;
  const text = piece === undefined ? undefined : literalText(piece);
  return text === '' ? 'a slash at its end' : `"${text ?? ''}"`;
}

/** `a uuid`, `an int`; an expression stands by itself. */
function article(type: string): string {
  if (!/^[a-z]/u.test(type)) return type;
  return /^(?:[aeio]|un)/u.test(type) ? `an ${type}` : `a ${type}`;
}

function typeOf(piece: Segment): string {
  const typed = piece.parts.find((p) => p.kind === 'parameter');
  return typed?.kind === 'parameter' && typed.type.name !== 'text' ? typed.type.name : 'value';
}
