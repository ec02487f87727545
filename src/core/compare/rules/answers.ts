/** What a change of answers can be. */
import type { ChangeRule } from './rule.ts';

export const ANSWER_RULES = {
  'versions/response-widened': {
    effect: 'breaking',
    what: 'An answer that the new version may send, and that old clients were not told of.',
    why: "Clients can't read what nobody documented.",
    mend: 'Send only what was documented, or give the new form a version of its own.',
  },
  'versions/response-narrowed': {
    effect: 'compatible',
    what: 'Less is sent than clients were told, or more is declared.',
    why: 'Nobody is hurt.',
    mend: 'Nothing.',
  },
  'versions/response-unsendable': {
    effect: 'risky',
    what: 'No value fits what is documented now, so that nobody can send it.',
    why: 'It breaks nobody by itself, and what comes instead is not what was documented.',
    mend: 'Mend the schema: two of its parts exclude each other.',
  },
  'versions/response-property-added': {
    effect: 'compatible',
    what: 'A property that may come now.',
    why: "Nobody is hurt: a receiver passes over what it doesn't know.",
    mend: 'Nothing.',
  },
  'versions/response-property-lost': {
    effect: 'breaking',
    what: 'A property that could come, and can never come any more.',
    why: 'Clients that read it find nothing.',
    mend: 'Go on sending it until clients have stopped to read it.',
  },
  'versions/response-wrapped': {
    effect: 'breaking',
    what: 'The body is wrapped in one property of an object.',
    why: 'Clients look in the wrong place.',
    mend: 'Leave the body as it was; put what is new beside it.',
  },
  'versions/response-unwrapped': {
    effect: 'breaking',
    what: 'The body is no longer wrapped.',
    why: 'Clients look in the wrong place.',
    mend: 'Keep the wrapper in this version.',
  },
  'versions/response-letter-case': {
    effect: 'breaking',
    what: 'The names of most properties changed their letter case.',
    why: 'To a program lockId and lock_id are two names.',
    mend: 'Keep the spelling in this version.',
  },
  'versions/response-paged': {
    effect: 'breaking',
    what: 'A list became an object that holds it.',
    why: 'Clients that walk through the list find none.',
    mend: 'Page with headers or links (RFC 8288), or in a new version.',
  },
  'versions/enumeration-member-added': {
    effect: 'risky',
    what: 'A new member of an enumeration that is open.',
    why: 'It is legal, and clients that know the old members alone may stumble.',
    mend: 'Tell clients.',
  },
  'versions/form-name-added': {
    effect: 'risky',
    what: 'A new name in the mapping of a discriminator, for forms that clients know.',
    why: 'The values are the same, and clients that choose a form by its name may stumble.',
    mend: 'Tell clients.',
  },
  'versions/status-added': {
    effect: 'risky or compatible',
    what: 'A status that may come now; risky where it is a success beside another one.',
    why: 'Clients may know the old statuses alone.',
    mend: 'Answer with one of the old ones where it fits.',
  },
  'versions/status-removed': {
    effect: 'breaking or compatible',
    what: 'A status that can never come any more, by its class or by default neither; breaking where it is a success.',
    why: 'Clients that wait for it wait in vain.',
    mend: 'Go on answering it in this version.',
  },
  'versions/response-type-added': {
    effect: 'compatible',
    what: 'A media type that may be asked for now.',
    why: 'Nobody is hurt who says what to accept.',
    mend: 'Nothing.',
  },
  'versions/response-type-removed': {
    effect: 'breaking',
    what: 'A media type that is no longer answered.',
    why: 'Clients that accept nothing else are answered 406.',
    mend: 'Go on answering it in this version.',
  },
  'versions/default-type-changed': {
    effect: 'risky',
    what: 'What is answered without Accept is another media type.',
    why: "Clients that don't say what they want get what they can't read.",
    mend: 'Leave the old one first.',
  },
  'versions/response-header-added': {
    effect: 'compatible',
    what: 'A header that may come now.',
    why: 'Nobody is hurt.',
    mend: 'Nothing.',
  },
  'versions/response-header-lost': {
    effect: 'breaking',
    what: 'A header that can never come any more.',
    why: 'Clients that read it find nothing.',
    mend: 'Go on sending it.',
  },
  'versions/response-header-optional': {
    effect: 'breaking',
    what: 'A header that may be missing now.',
    why: 'Clients that rely on it find nothing.',
    mend: 'Go on sending it always.',
  },
  'versions/response-header-widened': {
    effect: 'breaking',
    what: 'A header with a text that clients were not told of.',
    why: "Clients can't read what nobody documented.",
    mend: 'Send only what was documented.',
  },
} as const satisfies Readonly<Record<string, ChangeRule>>;
