import { typeDifferences } from '../../contract/pairing/media-types.ts';
import type { Rule } from '../engine/rule.ts';
import { mediaFindings } from './shared.ts';

export const responseTypes: Rule = {
  id: 'media/response-types',
  level: 'warning',
  messages: {
    refused: '{operation} is documented to answer in {types}, which the route does not return: 406',
    undocumented: '{operation} returns {types}, which the document does not have',
  },
  advice: { returns: 'Make returns: of the route and the success responses of the document name the same types.' },
  meta: {
    what: 'Response media types that the route returns and the document does not have, or the reverse.',
    why: 'A client that asks for what is documented gets 406; one that asks for nothing may get a format it never heard of.',
    example: '- route: GET /locks/{lockId}\n  returns: [application/json, application/xml]     # the document has JSON alone',
    fix: 'Decide which types the service writes, and say it on both sides.',
  },
  check: (context) => mediaFindings(context, (d) => typeDifferences(d, 'response'), 'returns'),
};
