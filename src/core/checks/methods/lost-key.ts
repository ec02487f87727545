import { keyIn, stepOf } from '../../contract/life.ts';
import { endpointSpot } from '../endpoint.ts';
import type { Found, Rule } from '../finding.ts';

export const lostKey: Rule = {
  id: 'methods/lost-key',
  level: 'warning',
  messages: {
    one: '{path} is addressed by {key}, and neither creating nor listing it tells that key',
  },
  advice: {
    tell: 'Answer with {key}, with a Location header (RFC 9110, 10.2.2), or with a link.',
  },
  meta: {
    what: 'Items whose key no answer of create or list holds.',
    why: "A client that has just created something can't address it.",
    example: 'POST /passages answers { "ok": true }, and GET /passages/{passageId} wants the id',
    mend: 'Put the key into the answer.',
  },
  check: (context) =>
    context.resources().flatMap((resource): Found[] => {
      const { item } = resource;
      const [create, list] = [stepOf(resource, 'create')?.operation, stepOf(resource, 'list')?.operation];
      const known = [create, list].filter((o) => o !== undefined && o.responses.length > 0);
      if (item?.parameter === undefined || known.length === 0 || !resource.members.some((m) => m.role === 'item')) return [];
      const { parameter } = item;
      if (create !== undefined && keyIn(create, parameter, false) !== undefined) return [];
      if (list !== undefined && keyIn(list, parameter, true) !== undefined) return [];
      // An answer without any schema says nothing against the key either.
      if (
        known.every((o) =>
          o?.responses.every((r) => r.content.every((m) => m.schema === undefined) && !/^20[14]$/u.test(r.status)),
        )
      )
        return [];
      const endpoint = stepOf(resource, create === undefined ? 'list' : 'create');
      if (endpoint === undefined) return [];
      return [{ message: 'one', advice: 'tell', data: { path: item.text, key: parameter }, at: endpointSpot(endpoint) }];
    }),
};
