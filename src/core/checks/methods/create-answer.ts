import { answeredSchema, keyIn, listedSchema, sentSchema, stepOf } from '../../contract/resources/lifecycle.ts';
import { toDisjuncts } from '../../schema/normalise/flatten.ts';
import { endpointSpot, endpointTitle } from '../engine/endpoint.ts';
import type { Found } from '../engine/finding.ts';
import type { Rule } from '../engine/rule.ts';

export const createAnswer: Rule = {
  id: 'methods/create-answer',
  level: 'note',
  messages: {
    nothing: '{title} answers neither with what was created nor with where it is{more}',
    everything: '{title} answers with the whole collection in place of what was created{more}',
  },
  advice: {
    answer: 'Answer 201 with the new item, or with a Location header.',
  },
  meta: {
    what: 'A create that answers nothing, or everything.',
    why: 'The client has to search for what it just made.',
    example: 'POST /passages with 200 and no content',
    fix: 'Answer with the item, or with its Location.',
  },
  check: (context) =>
    context.resources().flatMap((resource): Found[] => {
      const endpoint = stepOf(resource, 'create');
      const operation = endpoint?.operation;
      if (endpoint === undefined || operation === undefined || resource.item === undefined) return [];
      const good = operation.responses.filter((r) => r.status.startsWith('2'));
      if (good.length === 0 || good.some((r) => r.status === '202')) return [];
      const schema = answeredSchema(operation);
      const sendsList = [sentSchema(operation)].some(
        (s) => s !== undefined && toDisjuncts(s, 2).some((k) => k.types?.includes('array') === true),
      );
      const list =
        !sendsList &&
        schema !== undefined &&
        toDisjuncts(schema, 2).some((k) => k.types?.includes('array') === true) &&
        listedSchema(schema) !== undefined;
      const nothing =
        good.every((r) => r.content.length === 0) && keyIn(operation, resource.item.parameter ?? 'id', false) === undefined;
      if (!list && !nothing) return [];
      return [
        {
          message: list ? 'everything' : 'nothing',
          together: `${list} ${endpointSpot(endpoint).place.file}`,
          advice: 'answer',
          data: { title: endpointTitle(endpoint) },
          at: endpointSpot(endpoint),
        },
      ];
    }),
};
