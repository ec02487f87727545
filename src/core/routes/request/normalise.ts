/** What a router does to a target before it looks for a route. */
import type { Facts } from '../table/router-facts.ts';
import { parseTarget, type Target } from './target.ts';

export type Normalised =
  | { readonly ok: false; readonly why: string; readonly status: 400 | 404 }
  | (Extract<Target, { ok: true }> & {
      /** The segments as they are matched. */
      readonly matched: readonly string[];
      /** The media type that a suffix asked for. */
      readonly suffixType: string | undefined;
    });

/** Reads a target as this router does: slashes, dots, percent-encodings and suffixes by its facts. */
export function normalise(text: string, facts: Facts): Normalised {
  const target = parseTarget(text, facts.malformed === 'unknown' ? '400' : facts.malformed);
  if (!target.ok) return target;
  if (facts.encodedSlash === 'refused' && /%2f/iu.test(target.path))
    return { ok: false, why: 'it holds %2F, which this router refuses', status: 400 };
  const { path, query, host, segments } = target;
  const { matched, suffixType } = matchedSegments(target, facts);
  return { ok: true, segments, path, query, host, matched, suffixType };
}

function matchedSegments(
  { path, segments: decoded }: Extract<Target, { ok: true }>,
  facts: Facts,
): { matched: readonly string[]; suffixType: string | undefined } {
  let segments = facts.decoding === 'values-only' ? path.slice(1).split('/') : decoded;
  if (facts.encodedSlash === 'separator') segments = segments.flatMap((s) => s.split(/\/|%2f/iu));
  if (facts.dotSegments === 'resolved') segments = withoutDots(segments);
  if (facts.doubledSlash === 'one') segments = segments.filter((s, i) => s !== '' || i === segments.length - 1);
  if ((facts.trailingSlash === 'removed' || facts.trailingSlash === 'ignored') && segments.length > 1 && segments.at(-1) === '')
    segments = segments.slice(0, -1);
  return facts.suffix === 'optional' ? withoutSuffix(segments, facts) : { matched: segments, suffixType: undefined };
}

/** RFC 3986, 5.2.4. */
function withoutDots(segments: readonly string[]): readonly string[] {
  const out: string[] = [];
  segments.forEach((segment, i) => {
    const last = i === segments.length - 1;
    if (segment === '..') out.pop();
    if (segment === '.' || segment === '..') {
      if (last) out.push('');
    } else out.push(segment);
  });
  return out.length === 0 ? [''] : out;
}

function withoutSuffix(
  segments: readonly string[],
  facts: Facts,
): { matched: readonly string[]; suffixType: string | undefined } {
  const last = segments[segments.length - 1] ?? '';
  const dot = last.lastIndexOf('.');
  const type = dot > 0 ? facts.suffixes[last.slice(dot + 1)] : undefined;
  return type === undefined
    ? { matched: segments, suffixType: undefined }
    : { matched: [...segments.slice(0, -1), last.slice(0, dot)], suffixType: type };
}
