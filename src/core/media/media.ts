/** Media types and ranges, and which of the offered types a client gets (RFC 9110, 12.5.1 and 8.3.1). */

import { type MediaRange, parseRanges, readAccept, readContentType } from './ranges.ts';

/** Wildcards count before parameters, however many there are. */
const MOST_PARAMETERS = 1000;

/** How precisely a range names a type: 0 not at all, then by wildcards and parameters, more being more precise. */
export function precision(range: MediaRange, offered: MediaRange, useParameters: boolean): number {
  // A document may offer a range itself: something of it is sent.
  if (range.type !== '*' && offered.type !== '*' && range.type !== offered.type) return 0;
  if (range.subtype !== '*' && offered.subtype !== '*' && range.subtype !== offered.subtype) return 0;
  const base = range.type === '*' ? 1 : range.subtype === '*' ? 2 : 3;
  if (!useParameters) return base;
  let more = 0;
  for (const [name, value] of range.parameters) {
    // No registered type that is negotiated has a charset that selects; JSON has none at all (RFC 8259, 11).
    if (name === 'charset') continue;
    if (!sameParameter(name, value, offered.parameters.get(name))) return 0;
    more += 1;
  }
  return base + more / MOST_PARAMETERS;
}

/**
 * Whether the case of a value counts its definition says (RFC 9110, 8.3.1). A profile is a list of URIs, each of which counts
 * as it is written (RFC 6906); the values of all others that are negotiated are words.
 */
function sameParameter(name: string, asked: string, offered: string | undefined): boolean {
  if (offered === undefined) return false;
  if (name !== 'profile') return asked.toLowerCase() === offered.toLowerCase();
  const has = new Set(offered.split(/\s+/u));
  return asked.split(/\s+/u).every((uri) => has.has(uri));
}

/**
 * The quality that an Accept header gives an offered type: that of the most precise range; 0 when none names it. An offered
 * range has the best quality of the types that it stands for, because the server may send any of them.
 */
export function qualityOf(accept: readonly MediaRange[], offered: string, useParameters = true): number {
  const [type] = parseRanges(offered);
  if (type === undefined) return 0;
  if (type.subtype !== '*') return qualityOfType(accept, type, useParameters);
  return Math.max(0, ...accept.map((range) => qualityOfType(accept, member(type, range), useParameters)));
}

function qualityOfType(accept: readonly MediaRange[], type: MediaRange, useParameters: boolean): number {
  let best = 0;
  let quality = 0;
  for (const range of accept) {
    const p = precision(range, type, useParameters);
    // Of two that are as precise the standard says nothing; the client would be content with the better.
    if (p > best || (p > 0 && p === best && range.quality > quality)) {
      best = p;
      quality = range.quality;
    }
  }
  return quality;
}

/** The type of an offered range that comes nearest to what is asked for. */
function member(offered: MediaRange, range: MediaRange): MediaRange {
  const of = (own: string, asked: string): string => (own !== '*' ? own : asked === '*' ? OTHER : asked);
  const type = of(offered.type, range.type);
  const subtype = range.type === '*' || range.type === type ? of('*', range.subtype) : OTHER;
  return { type, subtype, parameters: new Map([...range.parameters, ...offered.parameters]), quality: 1 };
}

/** Stands for any type that nobody names; no header can. */
const OTHER = '?';

/** The type that is sent: of the highest quality, among equals the first declared. Undefined when none is acceptable. */
export function chooseType(accept: string | undefined, offered: readonly string[], useParameters = true): string | undefined {
  if (accept === undefined) return offered[0];
  const { ranges } = readAccept(accept);
  let best: string | undefined;
  let highest = 0;
  for (const type of offered) {
    const quality = qualityOf(ranges, type, useParameters);
    if (quality > highest) {
      highest = quality;
      best = type;
    }
  }
  return best;
}

/** Does a declared range of request types take this Content-Type? A charset never decides; what names no one type is handled by none. */
export function takesType(declared: readonly string[], contentType: string, useParameters = true): boolean {
  const sent = readContentType(contentType);
  return sent !== undefined && isAmong(declared, sent, useParameters);
}

/** Is a declared type, which may be a range itself, one of those that others name? */
export function isDeclaredBy(declared: readonly string[], own: string, useParameters = true): boolean {
  const [type] = parseRanges(own);
  return type !== undefined && isAmong(declared, type, useParameters);
}

function isAmong(declared: readonly string[], type: MediaRange, useParameters: boolean): boolean {
  return declared.some((text) => {
    const [range] = parseRanges(text);
    return range !== undefined && precision(range, type, useParameters) > 0;
  });
}

/** Are two media types one, for every request? Parameters in any order; a charset tells nothing apart. */
export function sameMedia(a: string, b: string): boolean {
  if (a === b) return true;
  const [x] = parseRanges(a);
  const [y] = parseRanges(b);
  if (x === undefined || y === undefined) return a === b;
  const own = (r: MediaRange): readonly string[] =>
    [...r.parameters]
      .filter(([name]) => name !== 'charset')
      .map(([name, value]) => `${name}=${name === 'profile' ? value.split(/\s+/u).sort().join(' ') : value.toLowerCase()}`)
      .sort();
  return x.type === y.type && x.subtype === y.subtype && own(x).join(';') === own(y).join(';');
}

/** Is everything that the second stands for held by the first, so that where the first is declared earlier the second is never chosen? */
export function hidesMedia(first: string, second: string): boolean {
  const [x] = parseRanges(first);
  const [y] = parseRanges(second);
  if (x === undefined || y === undefined) return first === second;
  if (sameMedia(first, second)) return true;
  const wild = x.subtype === '*' && (x.type === '*' || x.type === y.type);
  return wild && [...x.parameters.keys()].every((name) => name === 'charset');
}
