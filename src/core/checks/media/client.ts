import { grouped } from '../../base/grouped.ts';
import { negotiate } from '../../contract/resources/negotiated.ts';
import { witnessAs } from '../engine/context.ts';
import { endpointSpot, endpointTitle, sameAs } from '../engine/endpoint.ts';
import type { Found } from '../engine/finding.ts';
import type { Rule } from '../engine/rule.ts';

export const clientMedia: Rule = {
  id: 'media/client',
  level: 'error',
  messages: {
    refused: '{client} gets {status} from {title}{more}: {why}',
  },
  advice: {
    accept: 'Offer what the client asks for, or correct what the settings say of it.',
  },
  meta: {
    what: 'A client of the settings that is answered 406 or 415.',
    why: "It is known to call the service, and it can't.",
    example: 'clients:\n  - { name: old tablet, accept: application/xml }      # and the routes return JSON alone',
    fix: 'Offer the type.',
  },
  check: (context) => {
    const { router } = context;
    if (router === undefined) return [];
    return (context.service.clients ?? []).flatMap((client) => {
      const refused = context
        .exchanges()
        .map((exchange) => ({ exchange, got: negotiate(client, exchange, router) }))
        .filter(({ got }) => got.status === 406 || got.status === 415);
      return grouped(
        refused,
        ({ exchange, got }) => `${got.status} ${(got.status === 415 ? exchange.takes : exchange.returns).join()}`,
      ).map(([first, ...others]): Found => {
        const { endpoint, takes, returns } = first.exchange;
        const { status, following } = first.got;
        const why =
          status === 415
            ? `it sends ${client.sends}, and ${takes.join(', ')} is accepted`
            : `it accepts ${client.accept}, and ${returns.join(', ')} is returned`;
        const more = others.length === 0 ? '' : ` and ${others.length} more`;
        return {
          message: 'refused',
          advice: 'accept',
          data: { client: client.name, status: status ?? 0, title: endpointTitle(endpoint), more, why },
          at: { place: client.place, what: client.name },
          related: [{ role: 'refused by', ...endpointSpot(endpoint) }, ...sameAs(others.map((o) => o.exchange.endpoint))],
          witness: witnessAs(following),
        };
      });
    });
  },
};
