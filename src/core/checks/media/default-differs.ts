import { grouped } from '../../base/grouped.ts';
import { type ClientProfile, formOf, negotiate } from '../../contract/resources/negotiated.ts';
import { endpointSpot, endpointTitle, sameAs, witnessFor } from '../engine/endpoint.ts';
import type { Found } from '../engine/finding.ts';
import type { Rule } from '../engine/rule.ts';

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
    fix: 'Put the usual type first.',
  },
  check: (context) => {
    const { router } = context;
    if (router === undefined) return [];
    const silent: ClientProfile = { name: '', accept: undefined, sends: undefined };
    const answering = context.exchanges().flatMap((exchange) => {
      const type = exchange.returns.length === 0 ? undefined : negotiate(silent, exchange, router).type;
      return type === undefined || !STRUCTURED.test(formOf(type)) ? [] : [{ ...exchange, type }];
    });
    const groups = [...grouped(answering, (e) => formOf(e.type))].sort((a, b) => b.length - a.length);
    const [usual, ...others] = groups;
    if (usual === undefined || usual.length <= answering.length / 2) return [];
    // Who has one form alone could put no other first.
    const could = (e: (typeof answering)[number]): boolean => e.returns.some((t) => formOf(t) === formOf(usual[0].type));
    const choosing = others.map((group) => group.filter(could)).filter((group) => group.length > 0);
    return choosing.map((group): Found => {
      const [first, ...rest] = group as [(typeof answering)[number], ...typeof answering];
      const witness = witnessFor(context, first.endpoint);
      return {
        message: 'one',
        advice: 'first',
        data: {
          count: rest.length + 1,
          of: answering.length,
          type: first.type,
          usual: usual[0].type,
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
