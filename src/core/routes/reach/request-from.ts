/** A request put together from one text for each side of a product. */

import { percentEncoded } from '../../base/percent.ts';
import { BOUNDARY_TEXT } from '../../language/charset.ts';
import type { Router } from '../index/router.ts';
import type { Request } from '../request/request.ts';
import { namedSelector, type Selector } from '../request/requested-version.ts';
import { pathOf } from '../request/target.ts';
import { ABSENT, type Axis } from './product.ts';

/** A request from one text for each side of a product. */
export function requestFrom(
  axes: readonly Axis[],
  texts: readonly string[],
  { versioning, facts }: Pick<Router, 'versioning' | 'facts'>,
): Request {
  const headers: Record<string, string> = {};
  const query: string[] = [];
  const segments: string[] = [];
  const named = versioning === undefined ? undefined : namedSelector(versioning);
  let method = 'GET';
  axes.forEach((axis, i) => {
    const text = texts[i] as string;
    if (axis.kind === 'method') method = text;
    else if (axis.kind === 'segment') segments.push(text);
    else if (axis.kind === 'rest') segments.push(...text.split(BOUNDARY_TEXT).slice(1));
    else if (text === ABSENT) return;
    else if (axis.kind === 'version' && named?.selector === 'query') query.push(`${named.name}=${percentEncoded(text)}`);
    else if (axis.kind === 'version' && named?.selector === 'media-type') headers.Accept = `*/*;${named.name}=${text}`;
    else if (axis.kind === 'query') query.push(`${percentEncoded(axis.name)}=${percentEncoded(text)}`);
    else headers[headerOf(axis, named)] = text;
  });
  // Where the router takes a slash off, a path that ends in one is asked for with two.
  const losesSlash = facts.trailingSlash === 'removed' || facts.trailingSlash === 'ignored';
  if (losesSlash && segments.length > 1 && segments.at(-1) === '') segments.push('');
  // Where it takes a suffix off, a path that ends in one is asked for with two.
  const last = segments.at(-1) ?? '';
  const dot = facts.suffix === 'optional' ? last.lastIndexOf('.') : -1;
  if (dot > 0 && Object.hasOwn(facts.suffixes, last.slice(dot + 1))) segments.push(`${segments.pop()}${last.slice(dot)}`);
  return {
    method,
    target:
      pathOf(segments, facts.decoding === 'values-only' ? 'sent' : 'decoded') + (query.length > 0 ? `?${query.join('&')}` : ''),
    headers,
  };
}

function headerOf(axis: Axis, named: Selector | undefined): string {
  switch (axis.kind) {
    case 'host':
      return 'Host';
    case 'takes':
      return 'Content-Type';
    case 'returns':
      return 'Accept';
    case 'header':
      return axis.name;
    default:
      return named?.name ?? 'Version';
  }
}
