/** How many recorded requests something concerns, in words. */
import type { RecordedUse } from '../core/base/recorded-use.ts';
import { count, grouped } from './terminal.ts';

/** `312 of 4,000 recorded requests, by curl and 2 others, the last on 2026-11-28`. */
export function recordedText({ requests, of, clients, last, isAtMost }: RecordedUse): string {
  if (requests === 0) return 'no recorded request is affected';
  const shown = clients.slice(0, 3).join(', ');
  const who = clients.length > 3 ? `${shown} and ${count(clients.length - 3, 'other')}` : shown;
  const when = last === null ? '' : `, the last on ${last}`;
  return `${isAtMost ? 'at most ' : ''}${grouped(requests)} of ${count(of, 'recorded request')}, by ${who}${when}`;
}
