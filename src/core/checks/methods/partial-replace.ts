import { sentSchema, stepOf } from '../../contract/resources/lifecycle.ts';
import { isValid } from '../../schema/validate/validate.ts';
import { endpointSpot, endpointTitle } from '../engine/endpoint.ts';
import type { Found } from '../engine/finding.ts';
import type { Rule } from '../engine/rule.ts';

export const partialReplace: Rule = {
  id: 'methods/partial-replace',
  level: 'note',
  messages: {
    one: '{title} replaces the whole by its method, and its body requires nothing: {empty} would empty it{more}',
  },
  advice: {
    require: 'Require what a whole item needs, or declare it as PATCH.',
  },
  meta: {
    what: 'A replace that is declared like a modify: nothing of its body is required, though create requires something.',
    why: 'A client that sends one property with PUT loses all others, or the service merges and breaks what PUT means (RFC 9110, 9.3.4).',
    example: 'PUT /locks/{lockId} with a body of optional properties',
    fix: 'Require the whole, or use PATCH.',
  },
  check: (context) =>
    context.resources().flatMap((resource): Found[] => {
      const [create, replace] = [stepOf(resource, 'create'), stepOf(resource, 'replace')];
      const [a, b] = [sentSchema(create?.operation), sentSchema(replace?.operation)];
      if (replace === undefined || a === undefined || b === undefined) return [];
      if (!isValid(b, {}, 'request') || isValid(a, {}, 'request')) return [];
      return [
        {
          message: 'one',
          together: endpointSpot(replace).place.file,
          advice: 'require',
          data: { title: endpointTitle(replace), empty: '{}' },
          at: endpointSpot(replace),
          witness: {
            kind: 'value',
            value: {},
            validUnder: endpointTitle(replace),
            invalidUnder: create === undefined ? 'create' : endpointTitle(create),
          },
        },
      ];
    }),
};
