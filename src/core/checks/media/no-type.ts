import { endpointSpot, endpointTitle } from '../engine/endpoint.ts';
import type { Found } from '../engine/finding.ts';
import type { Rule } from '../engine/rule.ts';

export const noType: Rule = {
  id: 'media/no-type',
  level: 'warning',
  messages: {
    request: 'the request body of {title} has no media type',
    response: 'the answer {status} of {title} has a body and no media type{more}',
  },
  advice: {
    name: 'Name the media type under content: (consumes and produces in 2.0).',
  },
  meta: {
    what: 'A body without any media type.',
    why: 'Nobody knows what to send as Content-Type, or how to read what comes.',
    example: 'requestBody: { required: true, content: {} }',
    fix: 'Name it.',
  },
  check: (context) =>
    context.endpoints().flatMap((endpoint): Found[] => {
      const { operation } = endpoint;
      const found = (message: string, status = ''): Found => ({
        message,
        advice: 'name',
        data: { title: endpointTitle(endpoint), status },
        at: endpointSpot(endpoint),
      });
      if (operation === undefined) return [];
      const nameless = operation.responses.find((r) => r.content.length > 0 && r.content.every((m) => m.type === '*/*'));
      return [
        ...(operation.body !== undefined && operation.body.content.length === 0 ? [found('request')] : []),
        // */* is a type, though one that says nothing.
        ...(nameless === undefined
          ? []
          : [{ ...found('response', nameless.status), level: 'note' as const, together: endpointSpot(endpoint).place.file }]),
      ];
    }),
};
