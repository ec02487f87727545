import { grouped } from '../../base/grouped.ts';
import type { Endpoint } from '../../contract/pairing/endpoints.ts';
import { dereference } from '../../schema/model/schema.ts';
import { endpointSpot, endpointTitle } from '../engine/endpoint.ts';
import type { Found } from '../engine/finding.ts';
import type { Rule } from '../engine/rule.ts';

export const errorShape: Rule = {
  id: 'media/error-shape',
  level: 'note',
  messages: {
    one: '{title} answers {status} as {shape}, where {usual} is what {count} of {of} errors are{more}',
  },
  advice: {
    same: 'Answer every error in one shape; application/problem+json (RFC 9457) is the standard one.',
  },
  meta: {
    what: 'Error answers in another shape than the rest.',
    why: 'Clients need a second way to read errors, and find out in production.',
    example: '404 as text/plain beside application/problem+json',
    fix: 'Use one shape.',
  },
  check: (context) => {
    const errors = context
      .endpoints()
      .flatMap((endpoint) =>
        (endpoint.operation?.responses ?? [])
          .filter((r) => /^(?:[45]|default)/u.test(r.status) && r.content.length > 0)
          .flatMap((r) => r.content.slice(0, 1).map((m): Answer => ({ endpoint, status: r.status, shape: shapeOf(m) }))),
      );
    const [usual] = [...grouped(errors, (e) => e.shape)].sort((a, b) => b.length - a.length);
    if (usual === undefined || usual.length <= errors.length / 2) return [];
    // A status may have a shape of its own, as long as it has it everywhere.
    const own = new Map(grouped(errors, (e) => e.status).map((group) => [group[0].status, shapeOfMost(group)]));
    return errors
      .filter((e) => e.shape !== usual[0].shape && e.shape !== own.get(e.status))
      .map(
        ({ endpoint, status, shape }): Found => ({
          message: 'one',
          together: endpointSpot(endpoint).place.file,
          advice: 'same',
          data: { title: endpointTitle(endpoint), status, shape, usual: usual[0].shape, count: usual.length, of: errors.length },
          at: endpointSpot(endpoint),
        }),
      );
  },
};

/** Of at least three that share it. */
function shapeOfMost(answers: readonly Answer[]): string | undefined {
  const [most] = [...grouped(answers, (e) => e.shape)].sort((a, b) => b.length - a.length);
  return most !== undefined && most.length >= 3 && most.length * 2 > answers.length ? most[0].shape : undefined;
}

interface Answer {
  readonly endpoint: Endpoint;
  readonly status: string;
  readonly shape: string;
}

/** The media type, and the component that it ends at. */
function shapeOf({
  type,
  schema,
}: {
  readonly type: string;
  readonly schema: Parameters<typeof dereference>[0] | undefined;
}): string {
  const [, name] =
    /\/(?:schemas|definitions)\/([^/]+)$/u.exec(schema === undefined ? '' : dereference(schema).place.pointer) ?? [];
  return name === undefined ? type : `${type} (${name})`;
}
