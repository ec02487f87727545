import { typeDifferences } from '../../contract/pairing/media-types.ts';
import type { Rule } from '../engine/rule.ts';
import { mediaFindings } from './shared.ts';

export const requestTypes: Rule = {
  id: 'media/request-types',
  level: 'warning',
  messages: {
    refused: '{operation} is documented to accept {types}, which the route rejects with 415',
    undocumented: '{operation} accepts {types}, which the document does not have',
  },
  advice: { takes: 'Make takes: of the route and the request body of the document name the same types.' },
  meta: {
    what: 'Request media types that the route accepts and the document does not have, or the reverse.',
    why: 'A client that sends what is documented gets 415; what is accepted undocumented is never tried.',
    example: '- route: POST /passages\n  takes: [application/json]        # the document has application/xml too',
    fix: 'Decide which types the service reads, and say it on both sides.',
  },
  check: (context) => mediaFindings(context, (d) => typeDifferences(d, 'request'), 'takes'),
};
