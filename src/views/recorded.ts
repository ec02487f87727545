/** How many recorded requests something concerns, in words. */
import type { RecordedUse } from '../core/base/recorded-use.ts';
import { count, grouped } from './terminal.ts';

/** `312 of 4,000 recorded requests, by curl and 2 others, the last on 2026-11-28`. */
export function recordedText({ requests, of, clients, last, isAtMost }: RecordedUse): string {
  if (requests === 0) return 'no recorded request is affected';
  const when = last === null ? '' : `, the last on ${last}`;
  return `${isAtMost ? 'at most ' : ''}${grouped(requests)} of ${count(of, 'recorded request')}, by ${firstOf(clients)}${when}`;
}

/** The first three of some names, and how many more there are. */
export function firstOf(names: readonly string[]): string {
  const shown = names.slice(0, 3).join(', ');
  return names.length > 3 ? `${shown} and ${count(names.length - 3, 'other')}` : shown;
}
