/** What a change of two route tables can be. */
import type { ChangeRule } from './rule.ts';

export const TABLE_RULES = {
  'versions/routing-added': {
    effect: 'compatible',
    what: 'A request that no route matched, and that a route handles now.',
    why: 'Nobody is hurt.',
    fix: 'Nothing.',
  },
  'versions/routing-lost': {
    effect: 'breaking',
    what: 'A request that a route handled and that no route matches now.',
    why: 'It is answered 404 or 405.',
    fix: 'Declare the route again, or redirect.',
  },
  'versions/routing-taken': {
    effect: 'breaking',
    what: 'A request that another handler handles now.',
    why: 'The same request does something else.',
    fix: 'Restore the order, or the pattern.',
  },
  'versions/routing-moved': {
    effect: 'risky',
    what: 'A route that another service behind the same gateway handles now.',
    why: 'Nothing says that its handler does the same.',
    fix: 'Nothing, if it was meant.',
  },
  'versions/routing-fell-through': {
    effect: 'breaking',
    what: 'A request for a literal path that falls into a parameter now.',
    why: 'The literal is taken for a value: GET /locks/closed reads the lock that is called closed.',
    fix: 'Declare the literal again, ahead of the parameter.',
  },
  'versions/routing-answer': {
    effect: 'risky or compatible',
    what: 'Requests for a path that no route matches are answered otherwise: with another status, or another Allow.',
    why: 'Clients may tell the two apart.',
    fix: 'Nothing, if it was meant.',
  },
  'versions/routing-type': {
    effect: 'breaking or compatible',
    what: 'A value that the handler of the same path refuses now, or no longer refuses.',
    why: 'Requests that were right are refused.',
    fix: 'Keep accepting what was taken.',
  },
  'versions/routing-format': {
    effect: 'breaking or risky',
    what: 'A request that asks for a media type is answered in another one.',
    why: 'The client gets what it did not ask for, and may not be able to read it.',
    fix: 'Keep returning what was returned.',
  },
  'versions/router-fact': {
    effect: 'breaking, risky or compatible',
    what: 'The router behaves otherwise, and requests fare otherwise because of it.',
    why: 'No route changed, and still a link with a slash at its end, or one in capitals, may work no more.',
    fix: 'Leave the fact as it was, or declare the routes for what it let in.',
  },
  'versions/handler-renamed': {
    effect: 'compatible',
    what: 'The handler of the same path has a new name.',
    why: 'Nobody is hurt.',
    fix: 'Nothing.',
  },
} as const satisfies Readonly<Record<string, ChangeRule>>;
