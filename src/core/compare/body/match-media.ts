/** Pairs old with new responses and media types. */
import type { Media, Response } from '../../contract/model/contract.ts';
import { hidesMedia, isDeclaredBy, sameMedia } from '../../media/media.ts';

export interface Matched<T> {
  /** Old and new ones that something is said by both of. */
  readonly pairs: readonly (readonly [T, T])[];
  /** Old ones for all of which no new one stands, and of those the ones that none speaks of at all. */
  readonly uncovered: readonly T[];
  readonly gone: readonly T[];
  /** New ones that no old one stood for. */
  readonly added: readonly T[];
}

/** `standsFor` finds what one list says of something that stands in the other. */
function matched<T>(old: readonly T[], now: readonly T[], standsFor: (list: readonly T[], one: T) => T | undefined): Matched<T> {
  const pairs: (readonly [T, T])[] = [];
  const [uncovered, added]: [T[], T[]] = [[], []];
  for (const was of old) {
    const is = standsFor(now, was);
    if (is === undefined) uncovered.push(was);
    else pairs.push([was, is]);
  }
  for (const is of now) {
    const was = standsFor(old, is);
    if (was === undefined) added.push(is);
    else if (!pairs.some(([a, b]) => a === was && b === is)) pairs.push([was, is]);
  }
  return { pairs, uncovered, gone: uncovered.filter((was) => !pairs.some(([a]) => a === was)), added };
}

export function isSuccess({ status }: Response): boolean {
  return status.startsWith('2');
}

/**
 * A status is told by itself, by its class, or by `default` (3.1, 4.8.16); where a success is named, `default` is what most
 * write it for: errors.
 */
export function matchedAnswers(old: readonly Response[], now: readonly Response[]): Matched<Response> {
  return matched(old, now, (list, one) => {
    const own = list.find((r) => r.status === one.status) ?? list.find((r) => r.status === `${one.status[0]}XX`);
    if (own !== undefined || one.status === 'default' || (isSuccess(one) && list.some(isSuccess))) return own;
    return list.find((r) => r.status === 'default');
  });
}

/**
 * The same text first, because a document may have two that no request tells apart; then ranges that hold it. A type with
 * fewer parameters takes what is sent with more, but is not what a client with more accepts.
 */
export function matchedMedia(old: readonly Media[], now: readonly Media[], side: 'request' | 'response'): Matched<Media> {
  return matched(old, now, (list, { type }) => {
    const same = list.find((m) => m.type === type) ?? list.find((m) => sameMedia(m.type, type));
    if (same !== undefined) return same;
    const plain =
      side === 'response' || type.includes('*') ? undefined : list.find((m) => isPlain(m) && isDeclaredBy([m.type], type));
    const ranges = list.filter((m) => hidesMedia(m.type, type));
    return plain ?? ranges.find((m) => !m.type.startsWith('*')) ?? ranges[0];
  });
}

function isPlain({ type }: Media): boolean {
  return !type.includes('*');
}

/** A type of a range that none of these takes. */
export function beyond(range: string, taken: readonly string[]): string {
  const [main = '*'] = range.split('/', 1);
  const of = (sub: string): string => `${main === '*' ? 'application' : main}/${sub}`;
  const could = main === '*' ? [...COMMON, of('x-other')] : [...COMMON.filter((t) => t.startsWith(`${main}/`)), of('x-other')];
  return range.includes('*') ? (could.find((t) => !isDeclaredBy(taken, t)) ?? range) : range;
}

const COMMON = ['text/plain', 'application/octet-stream', 'application/json'];
