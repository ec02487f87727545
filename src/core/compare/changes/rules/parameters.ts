/** What a change of parameters can be. */
import type { ChangeRule } from './rule.ts';

export const PARAMETER_RULES = {
  'versions/parameter-added': {
    effect: 'compatible',
    what: 'A new parameter that may be left out.',
    why: 'Nobody is hurt.',
    fix: 'Nothing.',
  },
  'versions/parameter-required': {
    effect: 'breaking',
    what: 'A parameter that is required now, new or not.',
    why: 'Requests that were right lack it and are refused.',
    fix: 'Leave it optional, with a default.',
  },
  'versions/parameter-optional': {
    effect: 'compatible',
    what: 'A parameter that may be left out now.',
    why: 'Nobody is hurt.',
    fix: 'Nothing.',
  },
  'versions/parameter-removed': {
    effect: 'risky',
    what: 'A parameter that is gone.',
    why: 'Clients keep sending it, and the service ignores it without an error.',
    fix: 'Keep it, deprecated, until clients no longer send it.',
  },
  'versions/parameter-narrowed': {
    effect: 'breaking',
    what: 'A parameter of which a text that was accepted is now rejected.',
    why: 'Requests that were right are refused.',
    fix: 'Keep accepting what was documented.',
  },
  'versions/parameter-widened': {
    effect: 'compatible',
    what: 'A parameter of which more is taken.',
    why: 'Nobody is hurt.',
    fix: 'Nothing.',
  },
  'versions/parameter-style': {
    effect: 'breaking',
    what: 'A list or an object in a parameter that is written in another way (style, explode).',
    why: 'The same value is another text: old requests are read wrong, or refused.',
    fix: 'Keep the style; take both for a while.',
  },
  'versions/parameter-deprecated': {
    effect: 'compatible',
    what: 'A parameter that is deprecated now.',
    why: 'Nobody is hurt yet.',
    fix: 'Tell clients what to send instead.',
  },
  'versions/default-added': {
    effect: 'compatible',
    what: 'What counts where a parameter or a property is left out is said now.',
    why: 'Nobody is hurt: a request that is right stays right.',
    fix: 'Nothing.',
  },
  'versions/default-changed': {
    effect: 'risky',
    what: 'What counts where a parameter or a property is left out is another value.',
    why: 'The same request is answered in another way.',
    fix: 'Keep the default.',
  },
} as const satisfies Readonly<Record<string, ChangeRule>>;
