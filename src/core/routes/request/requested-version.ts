/** Which API version a request asks for. */
import { parseRanges } from '../../media/ranges.ts';
import type { RouteTable } from '../table/route.ts';
import type { Request } from './request.ts';

/** Where a request may name the version that it wants. */
export interface Selector {
  readonly selector: 'path' | 'header' | 'query' | 'media-type';
  /** Of the header, the query parameter or the media type parameter. */
  readonly name: string;
}

export interface Versioning extends Selector {
  /** Asked in this order where the first says nothing. */
  readonly also?: readonly Selector[];
  readonly default: string | undefined;
  readonly versions: readonly string[];
  /** The status for a request without a version where there is no default, with one that nobody knows, with one that
   *  only other routes have. */
  readonly missing: number;
  readonly unknown: number;
  readonly elsewhere: number;
}

export type RequestedVersion =
  | { readonly kind: 'version'; readonly id: string; readonly byDefault: boolean }
  | { readonly kind: 'missing' }
  | { readonly kind: 'unknown'; readonly id: string };

/** The version that a request asks for; undefined where the path alone decides, and routes tell versions apart by themselves. */
export function versionAsked(versioning: Versioning, request: Request, query: URLSearchParams): RequestedVersion | undefined {
  const also = versioning.also ?? [];
  if (versioning.selector === 'path' && also.length === 0) return undefined;
  const id = firstText([versioning, ...also], versioning.versions, request, query);
  if (id === undefined)
    return versioning.default === undefined ? { kind: 'missing' } : { kind: 'version', id: versioning.default, byDefault: true };
  return versioning.versions.includes(id) ? { kind: 'version', id, byDefault: false } : { kind: 'unknown', id };
}

function firstText(
  selectors: readonly Selector[],
  versions: readonly string[],
  request: Request,
  query: URLSearchParams,
): string | undefined {
  for (const selector of selectors) {
    const text = selector.selector === 'path' ? pathText(versions, request.target) : textOf(selector, request, query);
    if (text !== undefined) return text;
  }
  return undefined;
}

/** A segment that is a known version, as `2` or as `v2`. */
function pathText(versions: readonly string[], target: string): string | undefined {
  const [path = ''] = target.split(/[?#]/u);
  return versions.find((id) => path.split('/').some((segment) => segment === id || segment.toLowerCase() === `v${id}`));
}

/** The selector by which a request is made that names a version beside its path. */
export function namedSelector(versioning: Versioning): Selector {
  return [versioning, ...(versioning.also ?? [])].find((s) => s.selector !== 'path') ?? versioning;
}

/**
 * The table with every range of versions written out: `1..3`, `2..` and `..2` are all declared ones from the first to the
 * last, in the order in which they are declared. What is no range, or names what nobody declared, stays.
 */
export function withRanges(table: RouteTable, versions: readonly string[]): RouteTable {
  const isRange = (text: string): boolean => text.includes('..');
  if (versions.length === 0 || !table.routes.some((r) => r.conditions.version?.some(isRange) === true)) return table;
  const routes = table.routes.map((route) => {
    const { version } = route.conditions;
    if (version === undefined || !version.some(isRange)) return route;
    return { ...route, conditions: { ...route.conditions, version: [...new Set(version.flatMap((v) => inRange(v, versions)))] } };
  });
  return { ...table, routes };
}

function inRange(text: string, versions: readonly string[]): readonly string[] {
  const [from = '', to = ''] = text.split('..');
  const [first, last] = [from === '' ? 0 : versions.indexOf(from), to === '' ? versions.length - 1 : versions.indexOf(to)];
  return !text.includes('..') || first < 0 || last < first ? [text] : versions.slice(first, last + 1);
}

function textOf({ selector, name }: Selector, request: Request, query: URLSearchParams): string | undefined {
  switch (selector) {
    case 'header':
      return headerOf(request, name);
    case 'query':
      return query.get(name) ?? undefined;
    case 'media-type': {
      const headers = [headerOf(request, 'accept'), headerOf(request, 'content-type')];
      return headers
        .flatMap((h) => (h === undefined ? [] : parseRanges(h)))
        .map((r) => r.parameters.get(name.toLowerCase()))
        .find((v) => v !== undefined);
    }
    case 'path':
      return undefined;
    default:
      return selector satisfies never;
  }
}

/** A header of a request, its name in any case. */
export function headerOf(request: Request, name: string): string | undefined {
  const wanted = name.toLowerCase();
  for (const [key, value] of Object.entries(request.headers)) if (key.toLowerCase() === wanted) return value;
  return undefined;
}
