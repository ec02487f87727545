import { grouped } from '../../base/grouped.ts';
import type { Context } from '../engine/context.ts';
import { endpointSpot, endpointTitle, sameAs, witnessFor } from '../engine/endpoint.ts';
import type { Found } from '../engine/finding.ts';
import type { Rule } from '../engine/rule.ts';

export const unexpectedContent: Rule = {
  id: 'methods/unexpected-content',
  level: 'warning',
  messages: {
    one: '{title} is documented with a request body, which has no meaning there',
    status: '{title} answers {status} with a body, and {status} has none{more}',
  },
  advice: {
    out: 'Take the content out, or answer 200.',
    move: 'Take the body out; send what it holds in the query, or use POST (or QUERY).',
  },
  meta: {
    what: 'A request body of GET, HEAD or DELETE, or a body of an answer that has none: 204, 205, 304.',
    why: 'RFC 9110, 9.3, gives it no meaning: proxies drop it, and clients refuse to send it.',
    example: 'GET /passages with a requestBody that filters',
    fix: 'Use the query.',
  },
  check: (context) => {
    const found = context
      .endpoints()
      .filter((e) => ['GET', 'HEAD', 'DELETE'].includes(e.method) && e.operation?.body !== undefined);
    return [
      ...bodiless(context),
      ...grouped(found, (e) => e.method).map(([first, ...others]): Found => {
        const witness = witnessFor(context, first, first.method, {
          'Content-Type': first.operation?.body?.content[0]?.type ?? 'application/json',
        });
        return {
          message: 'one',
          advice: 'move',
          data: { title: endpointTitle(first) },
          at: endpointSpot(first),
          related: sameAs(others),
          ...(witness === undefined ? {} : { witness }),
        };
      }),
    ];
  },
};

/** RFC 9110, 6.4.1. */
function bodiless(context: Context): readonly Found[] {
  return context.endpoints().flatMap((endpoint) =>
    (endpoint.operation?.responses ?? [])
      .filter((r) => ['204', '205', '304'].includes(r.status) && r.content.some((m) => m.schema !== undefined))
      .map(
        ({ status }): Found => ({
          message: 'status',
          together: endpointSpot(endpoint).place.file,
          advice: 'out',
          data: { title: endpointTitle(endpoint), status },
          at: endpointSpot(endpoint),
        }),
      ),
  );
}
