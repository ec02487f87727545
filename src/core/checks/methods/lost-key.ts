import { type Telling, tellingOf } from '../../contract/resources/item-keys.ts';
import { stepOf } from '../../contract/resources/lifecycle.ts';
import { endpointSpot, endpointTitle } from '../engine/endpoint.ts';
import type { Found } from '../engine/finding.ts';
import type { Rule } from '../engine/rule.ts';

export const lostKey: Rule = {
  id: 'methods/lost-key',
  level: 'warning',
  messages: {
    one: '{path} is addressed by {key}, and neither creating nor listing it tells that key',
    create: '{title} answers without {key}, by which what it created is addressed ({path})',
  },
  advice: {
    tell: 'Answer with {key}, with a Location header (RFC 9110, 10.2.2), or with a link.',
  },
  meta: {
    what: 'Items whose key no answer of create or list holds.',
    why: "A client that has just created something can't address it.",
    example: 'POST /passages answers { "ok": true }, and GET /passages/{passageId} wants the id',
    fix: 'Put the key into the answer.',
  },
  check: (context) =>
    context.resources().flatMap((resource): Found[] => {
      const parameter = resource.item?.parameter;
      if (parameter === undefined || !resource.members.some((m) => m.role === 'item')) return [];
      const [create, list] = [stepOf(resource, 'create'), stepOf(resource, 'list')];
      const tellings = [create, list].map(
        (e): Telling => (e?.operation === undefined ? 'silent' : tellingOf(e.operation, parameter, e === list)),
      );
      const endpoint = tellings[0] === 'lacks' ? create : tellings[1] === 'lacks' && tellings[0] === 'silent' ? list : undefined;
      if (endpoint === undefined) return [];
      const isTold = typeof tellings[1] === 'object';
      return [
        {
          message: isTold ? 'create' : 'one',
          advice: 'tell',
          data: { path: resource.item?.text ?? '', title: endpointTitle(endpoint), key: parameter },
          at: endpointSpot(endpoint),
        },
      ];
    }),
};
