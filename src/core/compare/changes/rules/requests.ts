/** What a change of bodies that clients send can be. */
import type { ChangeRule } from './rule.ts';

export const REQUEST_RULES = {
  'versions/request-narrowed': {
    effect: 'breaking',
    what: 'A body that old clients may send, and the new version refuses.',
    why: 'Requests that were right are refused.',
    fix: 'Keep accepting what was documented; make new properties optional.',
  },
  'versions/request-widened': {
    effect: 'compatible',
    what: 'More is taken than before.',
    why: 'Nobody is hurt.',
    fix: 'Nothing.',
  },
  'versions/request-property-ignored': {
    effect: 'risky',
    what: 'A property that clients may keep sending, but that the service no longer reads.',
    why: 'What they send is lost without a word.',
    fix: 'Keep it until clients no longer send it.',
  },
  'versions/request-property-declared': {
    effect: 'risky',
    what: 'A new property of an object in which clients could send anything.',
    why: 'The service ignored that name before, and reads or rejects it now.',
    fix: 'Check recorded requests: no client should send the name yet.',
  },
  'versions/request-wrapped': {
    effect: 'breaking',
    what: 'The body is wrapped in one property of an object.',
    why: 'Every body of old clients is refused.',
    fix: 'Leave the body as it was; put what is new beside it.',
  },
  'versions/request-unwrapped': {
    effect: 'breaking',
    what: 'The body is no longer wrapped.',
    why: 'Every body of old clients is refused.',
    fix: 'Keep the wrapper in this version.',
  },
  'versions/request-letter-case': {
    effect: 'breaking',
    what: 'The names of most properties changed their letter case.',
    why: 'To a program lockId and lock_id are two names.',
    fix: 'Keep the spelling in this version.',
  },
  'versions/form-style': {
    effect: 'breaking',
    what: 'A list or an object in a form that is written in another way (style, explode).',
    why: 'The same value is another text: old requests are read wrong, or refused.',
    fix: 'Keep the style; take both for a while.',
  },
  'versions/part-type-removed': {
    effect: 'breaking',
    what: 'A part of a multipart form that is no longer taken as this media type.',
    why: 'Forms that were right are refused.',
    fix: 'Keep accepting it as that type in this version.',
  },
  'versions/part-type-added': {
    effect: 'compatible',
    what: 'A part of a multipart form that is taken as this media type too.',
    why: 'Nobody is hurt.',
    fix: 'Nothing.',
  },
  'versions/body-added': { effect: 'compatible', what: 'A body may be sent now.', why: 'Nobody is hurt.', fix: 'Nothing.' },
  'versions/body-optional': {
    effect: 'compatible',
    what: 'A body that may be left out now.',
    why: 'Nobody is hurt.',
    fix: 'Nothing.',
  },
  'versions/body-required': {
    effect: 'breaking',
    what: 'A body is required now.',
    why: 'Requests without one are refused.',
    fix: 'Leave it optional.',
  },
  'versions/body-removed': {
    effect: 'risky',
    what: 'The body is no longer read.',
    why: 'What clients send is lost without a word.',
    fix: 'Keep reading it, or refuse it so that clients notice.',
  },
  'versions/request-type-added': {
    effect: 'compatible',
    what: 'A media type that is taken too.',
    why: 'Nobody is hurt.',
    fix: 'Nothing.',
  },
  'versions/request-type-removed': {
    effect: 'breaking',
    what: 'A media type that is no longer taken.',
    why: 'Requests in it are answered 415.',
    fix: 'Keep accepting it in this version.',
  },
} as const satisfies Readonly<Record<string, ChangeRule>>;
