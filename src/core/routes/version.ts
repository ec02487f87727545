/** Which API version a request asks for. */
import { parseRanges } from '../media/media.ts';
import type { Request } from './request.ts';

export interface Versioning {
  readonly selector: 'path' | 'header' | 'query' | 'media-type';
  /** Of the header, the query parameter or the media type parameter. */
  readonly name: string;
  readonly default: string | undefined;
  readonly versions: readonly string[];
  /** The status for a request without a version where there is no default, with one that nobody knows, with one that
   *  only other routes have. */
  readonly missing: number;
  readonly unknown: number;
  readonly elsewhere: number;
}

export type Asked =
  | { readonly kind: 'version'; readonly id: string; readonly byDefault: boolean }
  | { readonly kind: 'missing' }
  | { readonly kind: 'unknown'; readonly id: string };

/** The version that a request asks for; undefined where the path decides, and routes tell versions apart by themselves. */
export function versionAsked(versioning: Versioning, request: Request, query: URLSearchParams): Asked | undefined {
  if (versioning.selector === 'path') return undefined;
  const id = textOf(versioning, request, query);
  if (id === undefined)
    return versioning.default === undefined ? { kind: 'missing' } : { kind: 'version', id: versioning.default, byDefault: true };
  return versioning.versions.includes(id) ? { kind: 'version', id, byDefault: false } : { kind: 'unknown', id };
}

function textOf({ selector, name }: Versioning, request: Request, query: URLSearchParams): string | undefined {
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
