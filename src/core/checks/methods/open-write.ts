import { endpointSpot, endpointTitle, witnessFor } from '../engine/endpoint.ts';
import type { Found } from '../engine/finding.ts';
import type { Rule } from '../engine/rule.ts';

export const openWrite: Rule = {
  id: 'methods/open-write',
  level: 'warning',
  messages: {
    one: '{title}{more} says nothing of security, and {guarded} of {of} writes need it',
  },
  advice: {
    guard: 'Give it the security of its siblings, or write security: [] with a reason beside it.',
  },
  meta: {
    what: 'A write that says nothing of security where nearly all others are guarded.',
    why: 'One forgotten line lets everybody change what all other writes protect.',
    example: 'POST /stoppages without security:, where all other writes name keeperLogin',
    fix: 'Guard it.',
  },
  check: (context) => {
    const writes = context
      .endpoints()
      .filter((e) => e.operation !== undefined && ['POST', 'PUT', 'PATCH', 'DELETE'].includes(e.method));
    const open = writes.filter((e) => e.operation?.saysSecurity === false && !MEANT.test(e.path.text));
    const guarded = writes.filter((e) => e.operation?.security.every((s) => s.length > 0) === true && !open.includes(e)).length;
    if (open.length === 0 || guarded < (guarded + open.length) * MOST_GUARDED) return [];
    return open.map((endpoint): Found => {
      const witness = witnessFor(context, endpoint);
      return {
        message: 'one',
        together: endpointSpot(endpoint).place.file,
        advice: 'guard',
        data: { title: endpointTitle(endpoint), guarded, of: guarded + open.length },
        at: endpointSpot(endpoint),
        ...(witness === undefined ? {} : { witness }),
      };
    });
  },
};

/** Of writes, so many are guarded where an open one was forgotten and not meant. */
const MOST_GUARDED = 0.9;

/** Who signs in has no key yet, and a webhook has one of its own. */
const MEANT = /log-?in|log-?out|sign-?(?:in|up|on)|register|token|o?auth|password|session|web-?hook|callback/iu;
