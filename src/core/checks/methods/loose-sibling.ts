import { sameSchema, sentSchema, stepOf } from '../../contract/life.ts';
import { misfits } from '../../schema/fits.ts';
import { sampleOf } from '../../schema/sample.ts';
import { endpointSpot, endpointTitle } from '../endpoint.ts';
import type { Found, Rule } from '../finding.ts';

export const looseSibling: Rule = {
  id: 'methods/loose-sibling',
  level: 'warning',
  messages: {
    one: '{loose} takes {value}, which {strict} refuses: {why}',
  },
  advice: {
    same: 'Let both take the same values; use one schema.',
  },
  meta: {
    what: 'Siblings that accept different values: create checks what replace lets through, or the reverse.',
    why: 'What could not be created is written by the back door, and fails later.',
    example: 'POST /vessels wants a registration by pattern, PUT /vessels/{registration} takes any text',
    mend: 'Share the schema.',
  },
  check: (context) =>
    context.resources().flatMap((resource): Found[] => {
      const [create, replace] = [stepOf(resource, 'create'), stepOf(resource, 'replace')];
      const [a, b] = [sentSchema(create?.operation), sentSchema(replace?.operation)];
      if (create === undefined || replace === undefined || a === undefined || b === undefined || sameSchema(a, b)) return [];
      for (const [loose, strict, from, to] of [
        [replace, create, b, a],
        [create, replace, a, b],
      ] as const) {
        const sample = sampleOf(from, 'request');
        // A property that is missing may be one that only the server or the path can know.
        const wrong =
          sample === undefined
            ? []
            : misfits(to, sample.value, 'request').filter(
                (m) => m.keyword !== 'required' && m.keyword !== 'additionalProperties',
              );
        const [first] = wrong;
        if (first === undefined || sample === undefined) continue;
        return [
          {
            message: 'one',
            advice: 'same',
            data: {
              loose: endpointTitle(loose),
              strict: endpointTitle(strict),
              value: JSON.stringify(sample.value),
              why: first.message,
            },
            at: endpointSpot(loose),
            related: [{ role: 'stricter', ...endpointSpot(strict) }],
            witness: {
              kind: 'value',
              value: sample.value,
              validUnder: endpointTitle(loose),
              invalidUnder: endpointTitle(strict),
            },
          },
        ];
      }
      return [];
    }),
};
