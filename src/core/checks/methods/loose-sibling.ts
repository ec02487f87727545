import { isMapping } from '../../base/json.ts';
import { propertiesOf, sameSchema, sentSchema, stepOf } from '../../contract/resources/lifecycle.ts';
import type { Schema } from '../../schema/model/schema.ts';
import { sampleOf } from '../../schema/search/sample.ts';
import { isSubschema } from '../../schema/search/witness.ts';
import { isValid, validate } from '../../schema/validate/validate.ts';
import { endpointSpot, endpointTitle } from '../engine/endpoint.ts';
import type { Found } from '../engine/finding.ts';
import type { Rule } from '../engine/rule.ts';

export const looseSibling: Rule = {
  id: 'methods/loose-sibling',
  level: 'warning',
  messages: {
    one: '{loose} accepts {value}, which {strict} rejects: {why}{more}',
  },
  advice: {
    same: 'Let both accept the same values; use one schema.',
  },
  meta: {
    what: 'Siblings that accept different values: create checks what replace lets through, or the reverse.',
    why: 'What could not be created is written by the back door, and fails later.',
    example: 'POST /vessels wants a registration by pattern, PUT /vessels/{registration} accepts any text',
    fix: 'Share the schema.',
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
        const slip = slipOf(from, to);
        if (slip === undefined) continue;
        return [
          {
            message: 'one',
            together: endpointSpot(loose).place.file,
            advice: 'same',
            data: {
              loose: endpointTitle(loose),
              strict: endpointTitle(strict),
              value: JSON.stringify(slip.value),
              why: slip.why,
            },
            at: endpointSpot(loose),
            related: [{ role: 'stricter', ...endpointSpot(strict) }],
            witness: {
              kind: 'value',
              value: slip.value,
              validUnder: endpointTitle(loose),
              invalidUnder: endpointTitle(strict),
            },
          },
        ];
      }
      return [];
    }),
};

/** A value of the first schema that the second refuses. A property that is missing may be one that only the server knows. */
function slipOf(from: Schema, to: Schema): { readonly value: unknown; readonly why: string } | undefined {
  const sample = sampleOf(from, 'request');
  const [taken, wanted] = [propertiesOf(from), propertiesOf(to)];
  if (sample === undefined || !isMapping(sample.value) || taken === undefined || wanted === undefined) return undefined;
  for (const [name, schema] of wanted) {
    const own = taken.get(name);
    const verdict = own === undefined ? undefined : isSubschema(own, schema, 'request');
    if (verdict?.kind !== 'counterexample') continue;
    const value = { ...sample.value, [name]: verdict.witness };
    const why = validate(to, value, 'request').find((m) => m.pointer.split('/')[1] === name);
    if (why !== undefined && isValid(from, value, 'request')) return { value, why: why.message };
  }
  return undefined;
}
