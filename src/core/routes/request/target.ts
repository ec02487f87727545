/** A request's target: its path as decoded segments, and its query (RFC 3986, 3.3 and 3.4; RFC 9112, 3.2). */
import { percentDecoded, percentEncoded } from '../../base/percent.ts';

export type Target =
  | {
      readonly ok: true;
      readonly segments: readonly string[];
      readonly path: string;
      readonly query: string | undefined;
      readonly host: string | undefined;
    }
  | { readonly ok: false; readonly why: string; readonly status: 400 | 404 };

/** What is done with malformed percent-encoding: it is refused with this status, or stays as it is. */
export type Malformed = '400' | '404' | 'kept';

/**
 * Reads a target in origin form (`/locks/7?state=open`) or absolute form (`https://desk.example/locks/7`). A fragment is
 * dropped, as every client does. `why` says which part can't be read. Linear.
 */
export function parseTarget(text: string, malformed: Malformed = '400'): Target {
  const absolute = text.charCodeAt(0) === 0x2f ? null : /^https?:\/\/([^/?#]*)([^#]*)/iu.exec(text);
  const rest = absolute === null ? withoutFragment(text) : absolute[2] || '/';
  const at = rest.indexOf('?');
  const path = at < 0 ? rest : rest.slice(0, at) || '/';
  if (!path.startsWith('/')) return { ok: false, why: `a target starts with a slash, and "${text}" does not`, status: 400 };
  const segments: string[] = [];
  for (const raw of path.slice(1).split('/')) {
    const segment = percentDecoded(raw) ?? (malformed === 'kept' ? raw : undefined);
    if (segment === undefined)
      return { ok: false, why: `"${raw}" is malformed percent-encoding`, status: malformed === '404' ? 404 : 400 };
    segments.push(segment);
  }
  return { ok: true, segments, path, query: at < 0 ? undefined : rest.slice(at + 1), host: absolute?.[1]?.toLowerCase() };
}

function withoutFragment(text: string): string {
  const at = text.indexOf('#');
  return at < 0 ? text : text.slice(0, at);
}

/** Percent-decoded, or as it is where it can't be decoded. */
export function decodedText(raw: string): string {
  return percentDecoded(raw) ?? raw;
}

/** The path of segments, with what a path can't hold as it is percent-encoded; segments as sent are encoded already. */
export function pathOf(segments: readonly string[], as: 'decoded' | 'sent' = 'decoded'): string {
  const path = segments.map((s) => `/${encodeSegment(s)}`).join('');
  return as === 'sent' ? path.replace(/%25([0-9a-f]{2})/giu, '%$1') : path;
}

/** Percent-encodes all but the characters of a segment (RFC 3986, `pchar`). */
function encodeSegment(text: string): string {
  return percentEncoded(text).replace(/%(?:40|3A|24|26|2B|2C|3B|3D)/gu, (code) => decodeURIComponent(code));
}
