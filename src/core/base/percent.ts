/** Percent-encoding that never throws (RFC 3986, 2.1). */

/** Halves of a character that no encoding of UTF-8 has (RFC 3629, 3). */
const LONE = /\p{Surrogate}/gu;

/** All but the unreserved characters encoded; half a character becomes U+FFFD. */
export function percentEncoded(text: string): string {
  return encodeURIComponent(text.replace(LONE, '\ufffd'));
}

/** Decoded; undefined where it is no encoding of UTF-8. */
export function percentDecoded(text: string): string | undefined {
  if (!text.includes('%')) return text;
  try {
    return decodeURIComponent(text);
  } catch {
    return undefined;
  }
}
