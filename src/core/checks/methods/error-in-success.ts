import { grouped } from '../../base/grouped.ts';
import type { Schema } from '../../schema/model/schema.ts';
import { endpointSpot, endpointTitle, sameAs } from '../engine/endpoint.ts';
import type { Found } from '../engine/finding.ts';
import type { Rule } from '../engine/rule.ts';

export const errorInSuccess: Rule = {
  id: 'methods/error-in-success',
  level: 'note',
  messages: {
    one: '{title} answers {status} with an error among its forms ({name})',
  },
  advice: {
    split: 'Answer errors with their own status; clients look at the status first.',
  },
  meta: {
    what: 'A successful answer that can be an error.',
    why: 'A client that trusts 200 reads an error as data.',
    example: '200: { oneOf: [Lock, Problem] }',
    fix: 'Give the error a status of its own.',
  },
  check: (context) => {
    const found = context
      .endpoints()
      .flatMap((endpoint) =>
        (endpoint.operation?.responses ?? [])
          .filter((r) => r.status.startsWith('2'))
          .flatMap((r) =>
            r.content.flatMap((m) => errorIn(m.schema) ?? []).map((name) => ({ endpoint, status: r.status, name })),
          ),
      );
    return grouped(found, (f) => f.name).map(
      ([first, ...others]): Found => ({
        message: 'one',
        advice: 'split',
        data: { title: endpointTitle(first.endpoint), status: first.status, name: first.name },
        at: endpointSpot(first.endpoint),
        related: sameAs(others.map((o) => o.endpoint)),
      }),
    );
  },
};

/** The name of a form that is an error: by its component's name, where other forms are none. */
function errorIn(schema: Schema | undefined): string | undefined {
  const k = schema?.keywords();
  if (typeof k !== 'object') return undefined;
  const forms = k.oneOf ?? k.anyOf ?? (k.ref === undefined ? [] : undefined);
  if (forms === undefined) return errorIn(k.ref);
  const names = forms.map(nameOf);
  const error = names.find((n) => ERROR.test(n));
  return error !== undefined && names.some((n) => !ERROR.test(n)) ? error : undefined;
}

const ERROR = /(?:^|[a-z])(?:Error|Problem|Failure|Fault)s?$/u;

function nameOf(schema: Schema): string {
  const k = schema.keywords();
  const { pointer } = typeof k === 'object' && k.ref !== undefined ? k.ref.place : schema.place;
  return pointer.split('/').pop() ?? '';
}
