/** What a change of webhooks and callbacks can be. */
import type { ChangeRule } from './rule.ts';

export const CALL_RULES = {
  'versions/call-added': {
    effect: 'compatible',
    what: 'A webhook or a callback that is new.',
    why: 'Nobody is hurt.',
    fix: 'Nothing.',
  },
  'versions/call-removed': {
    effect: 'breaking',
    what: 'A webhook or a callback that never comes any more.',
    why: 'Clients wait for it in vain.',
    fix: 'Go on calling until no client listens.',
  },
  'versions/call-type-added': {
    effect: 'breaking or compatible',
    what: 'A call that comes in another media type.',
    why: "Clients that know the old ones can't read it.",
    fix: 'Let clients choose, or call as before.',
  },
  'versions/call-type-removed': {
    effect: 'breaking',
    what: 'A call that no longer comes in a media type.',
    why: 'Clients that wait for it wait in vain.',
    fix: 'Go on calling with it.',
  },
  'versions/call-answer-removed': {
    effect: 'breaking',
    what: 'An answer of clients to a call that is no longer taken.',
    why: 'Clients that answer as they were told are taken to have failed.',
    fix: 'Keep accepting it.',
  },
} as const satisfies Readonly<Record<string, ChangeRule>>;
