import { type Exchange, formOf } from '../../contract/clients.ts';
import { endpointSpot, endpointTitle, grouped, sameAs, witnessFor } from '../endpoint.ts';
import type { Found, Rule } from '../finding.ts';

export const defaultDiffers: Rule = {
  id: 'media/default-differs',
  level: 'warning',
  messages: {
    one: '{count} of {of} operations answer {type} to a client that sends no Accept, where the others answer {usual}: {title}{more}',
  },
  advice: {
    first: 'Declare {usual} first there; the first type is what a client without Accept gets.',
  },
  meta: {
    what: 'A default response format that differs between operations.',
    why: 'A client that never thought of Accept reads JSON everywhere, and XML in one place.',
    example: '- route: GET /tolls\n  returns: [application/xml, application/json]     # all others have JSON first',
    mend: 'Put the usual type first.',
  },
  check: (context) => {
    const answering = context.exchanges().filter((e) => e.returns.length > 0 && STRUCTURED.test(formOf(e.returns[0] as string)));
    const groups = [...grouped(answering, (e) => formOf(e.returns[0] as string))].sort((a, b) => b.length - a.length);
    const [usual, ...others] = groups;
    if (usual === undefined || usual.length <= answering.length / 2) return [];
    return others.map(([first, ...rest]): Found => {
      const witness = witnessFor(context, first.endpoint);
      return {
        message: 'one',
        advice: 'first',
        data: {
          count: rest.length + 1,
          of: answering.length,
          type: first.returns[0] as string,
          usual: (usual[0] as Exchange).returns[0] as string,
          title: endpointTitle(first.endpoint),
          more: rest.length === 0 ? '' : ` and ${rest.length} more`,
        },
        at: endpointSpot(first.endpoint),
        related: sameAs(rest.map((e) => e.endpoint)),
        ...(witness === undefined ? {} : { witness }),
      };
    });
  },
};

/** Forms that stand for the same values; a picture or a spreadsheet is something else. */
const STRUCTURED = /^(?:json|xml|yaml|cbor|msgpack)$/u;
