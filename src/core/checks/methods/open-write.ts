import type { Endpoint } from '../../contract/endpoints.ts';
import { grouped } from '../../grouped.ts';
import { endpointSpot, endpointTitle, sameAs, witnessFor } from '../endpoint.ts';
import type { Found, Rule } from '../finding.ts';

export const openWrite: Rule = {
  id: 'methods/open-write',
  level: 'warning',
  messages: {
    one: '{title} needs no security, and {guarded} of {of} writes do',
  },
  advice: {
    guard: 'Give it the security of its siblings, or write security: [] with a reason beside it.',
  },
  meta: {
    what: 'An open write among guarded siblings.',
    why: 'One forgotten line lets everybody change what all other writes protect.',
    example: 'POST /stoppages with security: [], where all other writes need keeperLogin',
    mend: 'Guard it.',
  },
  check: (context) => {
    const writes = context
      .endpoints()
      .filter((e) => e.operation !== undefined && ['POST', 'PUT', 'PATCH', 'DELETE'].includes(e.method));
    const open = writes.filter(isOpen);
    const guarded = writes.length - open.length;
    if (open.length === 0 || guarded <= open.length) return [];
    return grouped(open, endpointTitle).map(([first, ...others]): Found => {
      const witness = witnessFor(context, first);
      return {
        message: 'one',
        advice: 'guard',
        data: { title: endpointTitle(first), guarded, of: writes.length },
        at: endpointSpot(first),
        related: sameAs(others),
        ...(witness === undefined ? {} : { witness }),
      };
    });
  },
};

/** Nothing is needed, or nothing is one of the alternatives. */
function isOpen({ operation }: Endpoint): boolean {
  const { security = [] } = operation ?? {};
  return security.length === 0 || security.some((s) => s.length === 0);
}
