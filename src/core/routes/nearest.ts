/**
 * Why nobody takes a request: the nearest routes, each with the one thing that keeps the request away, and the target that
 * would have worked. Every target is followed before it is named.
 */
import leven from 'leven';
import type { Segment } from '../paths/pattern.ts';
import { type Edit, nearMatches } from './edits.ts';
import { follow } from './follow.ts';
import type { Following } from './following.ts';
import type { Request } from './request.ts';
import type { Route } from './route.ts';
import { routeTitle } from './route.ts';
import type { Router } from './router.ts';
import { parseTarget, pathOf } from './target.ts';

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
/** How many are named, and how many are tried. */
const MOST = 3;
const MOST_TRIED = 300;

interface Try {
  readonly cause: Near['cause'];
  readonly message: string;
  readonly segments: readonly string[];
  /** Lower is likelier to be what was meant. */
  readonly rank: number;
}

/** The nearest routes for a request that ended in 404; none for any other outcome. */
export function nearest(router: Router, following: Following): readonly Near[] {
  if (following.outcome !== 'not-found' || following.alsoMatched.length > 0) return [];
  const target = parseTarget(following.request.target);
  if (!target.ok) return [];
  const { segments, query } = target;
  const { request } = following;
  const rest = query === undefined ? '' : `?${query}`;
  // The likeliest causes first; the next are looked for only when these lead nowhere.
  const stages = [
    () => [...slashTries(segments), ...suffixTries(segments)],
    () => editTries(router, segments),
    () => prefixTries(router, segments),
  ];
  for (const tries of stages) {
    const found = verified(router, request, tries(), rest);
    if (found.length > 0) return found;
  }
  return [];
}

/** The nearest routes of several services, the likeliest first. */
export function nearestOf(lists: readonly (readonly Near[])[]): readonly Near[] {
  const sorted = lists.flat().sort((a, b) => a.rank - b.rank);
  const [first] = sorted;
  return first === undefined ? [] : sorted.filter((n) => n.rank <= first.rank + FAR).slice(0, MOST);
}

/** Those that a route really takes, the likeliest first, a route once; none that is far less likely than the first. */
function verified(router: Router, request: Request, tries: readonly Try[], query: string): readonly Near[] {
  const found: Near[] = [];
  let best: number | undefined;
  for (const t of [...tries].sort((a, b) => a.rank - b.rank).slice(0, MOST_TRIED)) {
    if (best !== undefined && t.rank > best + FAR) break;
    const target = pathOf(t.segments) + query;
    const { leaf } = follow(router, { ...request, target });
    // A tail takes whatever is put behind its prefix, and proves nothing.
    if (t.cause === 'prefix' && leaf?.shape.some((p) => p.kind === 'span')) continue;
    if (leaf === undefined || found.some((f) => f.route === leaf.route || f.target === target)) continue;
    best ??= t.rank;
    found.push({ route: leaf.route, cause: t.cause, message: t.message, target, rank: t.rank });
    if (found.length === MOST) break;
  }
  return found;
}

function slashTries(segments: readonly string[]): readonly Try[] {
  const tries: Try[] = [];
  const ends = segments[segments.length - 1] === '';
  if (ends && segments.length > 1)
    tries.push({
      cause: 'slash',
      message: 'there is a slash at the end, and the route has none',
      segments: segments.slice(0, -1),
      rank: 0,
    });
  if (!ends) tries.push({ cause: 'slash', message: 'the route has a slash at its end', segments: [...segments, ''], rank: 0 });
  const single = segments.filter((s, i) => s !== '' || i === segments.length - 1);
  if (single.length < segments.length)
    tries.push({ cause: 'slash', message: 'there are two slashes in a row', segments: single, rank: 0 });
  return tries;
}

function suffixTries(segments: readonly string[]): readonly Try[] {
  const last = segments[segments.length - 1] as string;
  const dot = last.lastIndexOf('.');
  if (dot <= 0) return [];
  return [
    {
      cause: 'suffix',
      message: `the route has no suffix ${last.slice(dot)}`,
      segments: [...segments.slice(0, -1), last.slice(0, dot)],
      rank: 1,
    },
  ];
}

/** The literal beginnings of the table's paths, put before the path, and the path without its own beginning. */
function prefixTries(router: Router, segments: readonly string[]): readonly Try[] {
  const before = prefixesOf(router).map(
    (p): Try => ({
      cause: 'prefix',
      message: `the prefix /${p} was left out`,
      segments: [...p.split('/'), ...segments],
      rank: 2,
    }),
  );
  const cut = [1, 2]
    .filter((n) => segments.length > n)
    .map(
      (n): Try => ({
        cause: 'prefix',
        message: `the routes have no prefix /${segments.slice(0, n).join('/')}`,
        segments: segments.slice(n),
        rank: 3,
      }),
    );
  return [...before, ...cut];
}

const prefixes = new WeakMap<Router, readonly string[]>();

/** Beginnings of up to three literal segments, at most `MOST_TRIED`. */
function prefixesOf(router: Router): readonly string[] {
  const known = prefixes.get(router);
  if (known !== undefined) return known;
  const found = new Set<string>();
  for (const route of router.table.routes) {
    const words = route.path.split('/').slice(1);
    for (let n = 1; n <= Math.min(3, words.length - 1) && found.size < MOST_TRIED; n++) {
      if (/[{}:<>*[\]()^]/u.test(words[n - 1] as string)) break;
      found.add(words.slice(0, n).join('/'));
    }
  }
  const list = [...found];
  prefixes.set(router, list);
  return list;
}

function editTries(router: Router, segments: readonly string[]): readonly Try[] {
  return nearMatches(router.tree, segments).map(({ leaf, edit, segments: meant }): Try => {
    const found = segments[edit.at] ?? '';
    const { cause, rank, message } = explain(edit, found, routeTitle(leaf.route));
    return { cause, rank, message, segments: meant };
  });
}

function explain(edit: Edit, found: string, title: string): { cause: Near['cause']; rank: number; message: string } {
  const quoted = found === '' ? 'an empty segment' : `"${found}"`;
  switch (edit.kind) {
    case 'missing':
      if (edit.at === 0 && edit.piece === undefined)
        return { cause: 'prefix', rank: 2, message: `the prefix /${edit.text} was left out` };
      return { cause: 'missing', rank: 5, message: `a segment is missing: ${title} has ${shown(edit)} there` };
    case 'extra':
      if (edit.at === 0) return { cause: 'prefix', rank: 3, message: `the routes have no prefix /${found}` };
      return { cause: 'extra', rank: 5, message: `${quoted} is one segment too many for ${title}` };
    case 'different': {
      const type = typeOf(edit.piece);
      if (type !== undefined) return { cause: 'type', rank: 1, message: `${quoted} is no ${type}, which ${title} wants there` };
      if (/^v\d/iu.test(edit.text) && /^v\d/iu.test(found))
        return { cause: 'version', rank: 2, message: `the version is ${found}, and ${title} is of ${edit.text}` };
      // Nothing but a slash stands there in the route.
      if (edit.text === '') return { cause: 'extra', rank: 5, message: `${quoted} is one segment too many for ${title}` };
      const distance = leven(found.toLowerCase(), edit.text.toLowerCase());
      if (found !== '' && distance <= Math.max(found.length > 3 ? 2 : 1, found.length * 0.34))
        return { cause: 'spelling', rank: 1 + distance / 10, message: `"${found}" is spelt "${edit.text}" in ${title}` };
      return {
        cause: 'different',
        rank: 6 + distance / 100,
        message: `${title} has "${edit.text}" where the request has ${quoted}`,
      };
    }
    default:
      return edit.kind satisfies never;
  }
}

function shown({ text, piece }: Edit): string {
  const [only] = piece?.parts ?? [];
  if (only?.kind === 'parameter') return `the parameter ${only.name}`;
  return text === '' ? 'a slash at its end' : `"${text}"`;
}

function typeOf(piece: Segment | undefined): string | undefined {
  const typed = piece?.parts.find((p) => p.kind === 'parameter');
  return typed?.kind === 'parameter' ? (typed.type.name === 'text' ? 'value' : typed.type.name) : undefined;
}
