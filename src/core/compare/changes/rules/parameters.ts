/** What a change of parameters can be. */
import type { ChangeRule } from './rule.ts';

export const PARAMETER_RULES = {
  'versions/parameter-added': {
    effect: 'compatible',
    what: 'A new parameter that may be left out.',
    why: 'Nobody is hurt.',
    mend: 'Nothing.',
  },
  'versions/parameter-required': {
    effect: 'breaking',
    what: 'A parameter that is required now, new or not.',
    why: 'Requests that were right lack it and are refused.',
    mend: 'Leave it optional, with a default.',
  },
  'versions/parameter-optional': {
    effect: 'compatible',
    what: 'A parameter that may be left out now.',
    why: 'Nobody is hurt.',
    mend: 'Nothing.',
  },
  'versions/parameter-removed': {
    effect: 'risky',
    what: 'A parameter that is gone.',
    why: 'Clients go on sending it, nothing happens, and nobody tells them.',
    mend: 'Keep it, deprecated, until clients no longer send it.',
  },
  'versions/parameter-narrowed': {
    effect: 'breaking',
    what: 'A parameter of which a text that was taken is refused now.',
    why: 'Requests that were right are refused.',
    mend: 'Go on taking what was documented.',
  },
  'versions/parameter-widened': {
    effect: 'compatible',
    what: 'A parameter of which more is taken.',
    why: 'Nobody is hurt.',
    mend: 'Nothing.',
  },
  'versions/parameter-style': {
    effect: 'breaking',
    what: 'A list or an object in a parameter that is written in another way (style, explode).',
    why: 'The same value is another text: old requests are read wrong, or refused.',
    mend: 'Keep the style; take both for a while.',
  },
  'versions/parameter-deprecated': {
    effect: 'compatible',
    what: 'A parameter that is deprecated now.',
    why: 'Nobody is hurt yet.',
    mend: 'Tell clients what to send instead.',
  },
  'versions/default-added': {
    effect: 'compatible',
    what: 'What counts where a parameter or a property is left out is said now.',
    why: 'Nobody is hurt: a request that is right stays right.',
    mend: 'Nothing.',
  },
  'versions/default-changed': {
    effect: 'risky',
    what: 'What counts where a parameter or a property is left out is another value.',
    why: 'The same request is answered in another way.',
    mend: 'Keep the default.',
  },
} as const satisfies Readonly<Record<string, ChangeRule>>;
