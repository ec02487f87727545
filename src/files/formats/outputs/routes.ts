/** What the commands that look at routes write: follow, table, methods, media and versions. */
import * as z from 'zod';
import { finding } from './findings.ts';
import { headers, line, outcome, place, request, status, text, texts, whole } from './parts.ts';

export const follow = z.strictObject({
  request,
  outcome,
  status,
  route: z
    .strictObject({ handler: text, name: text.nullable(), methods: texts, path: text, file: text, line: line.nullable() })
    .nullable(),
  parameters: z.record(text, z.strictObject({ text, type: text })),
  allow: texts.nullable(),
  version: text.nullable(),
  responseType: text.nullable(),
  responseTypeByDefault: z.boolean().nullable(),
  alsoMatched: z.array(z.strictObject({ handler: text, path: text, why: text })),
  nearest: z.array(z.strictObject({ handler: text, cause: text, message: text, target: text })),
  service: text.nullable().optional().describe('The service that the gateway passes it to, where one is declared'),
  elsewhere: z
    .array(z.strictObject({ service: text, outcome, status, handler: text.nullable() }))
    .optional()
    .describe('What the other services would have said'),
  why: text.nullable(),
  notes: texts,
  restsOn: z.array(z.record(text, z.unknown())),
  judged: z
    .strictObject({
      operation: z.strictObject({ method: text, path: text, operationId: text.nullable() }).nullable(),
      status,
      complaints: z.array(z.record(text, z.unknown())),
    })
    .nullable()
    .describe('How the request stands to what its document says'),
});

export const route = z.strictObject({
  order: whole,
  methods: texts,
  path: text,
  handler: text,
  name: text.nullable(),
  version: texts.optional(),
  host: text.optional(),
  takes: texts.optional(),
  returns: texts.optional(),
  headers: headers.optional(),
  query: headers.optional(),
  deprecated: z.union([z.boolean(), text]).nullable(),
  sunset: text.nullable(),
  at: place,
  from: z.strictObject({ groups: z.array(z.unknown()), resource: z.unknown(), include: z.unknown() }),
});

export const table = z.array(
  z.strictObject({
    service: text,
    style: text,
    precedence: z.strictObject({ value: text, assumed: z.boolean() }),
    routes: z.array(route),
  }),
);

export const endpoint = z.strictObject({ method: text, path: text });
export const resource = z.strictObject({
  path: text,
  kind: text,
  item: text.nullable(),
  parent: text.nullable(),
  why: text,
  readOnly: z.boolean(),
  steps: z.record(text, z.strictObject({ state: text, methods: texts, takenBy: text.nullable() })),
  others: z.array(endpoint),
  members: z.array(endpoint.extend({ step: text.nullable(), role: text })),
});
export const life = z.strictObject({
  path: text,
  kind: text,
  why: text,
  steps: z.array(
    z.strictObject({
      step: text,
      state: text.nullable(),
      method: text.nullable(),
      path: text.nullable(),
      handler: text.nullable(),
      key: text.nullable(),
      takes: texts,
      returns: texts,
      statuses: z.array(z.union([whole, text])),
    }),
  ),
  findings: z.array(finding.pick({ rule: true, level: true, message: true, at: true })),
});
export const methods = z.union([
  z.strictObject({ services: z.array(z.strictObject({ service: text, resources: z.array(resource) })) }),
  z.strictObject({ resources: z.array(life) }).describe('Where a resource was named'),
]);

export const media = z.strictObject({
  services: z.array(
    z.strictObject({
      service: text,
      operations: z.array(
        endpoint.extend({
          takes: texts,
          returns: texts,
          selectedBy: z.array(z.strictObject({ type: text, accept: text.nullable() })),
          clients: z.array(
            z.strictObject({
              client: text,
              accept: text.nullable(),
              sends: text.nullable(),
              outcome,
              handler: text.nullable(),
              type: text.nullable(),
              status,
              byDefault: z.boolean(),
              request,
              notes: texts,
            }),
          ),
        }),
      ),
    }),
  ),
});

export const version = z.strictObject({ id: text, default: z.boolean() }).nullable();
export const asked = z
  .strictObject({ request, outcome, status, handler: text.nullable(), version })
  .nullable()
  .describe('What becomes of a request that names no version, or one that nobody knows');
export const standing = z.strictObject({
  standing: text,
  path: text.nullable(),
  handler: text.nullable(),
  documented: z.boolean(),
  deprecated: z.boolean(),
  sunset: text.nullable(),
});
export const versions = z.strictObject({
  services: z.array(
    z.strictObject({
      service: text,
      selector: z.strictObject({ selector: text, name: text.nullable() }).nullable(),
      versions: z.array(
        z.strictObject({
          id: text,
          deprecated: z.union([z.boolean(), text]),
          sunset: text.nullable(),
          default: z.boolean(),
          assumed: z.boolean(),
        }),
      ),
      operations: z.array(
        endpoint.extend({ versions: z.record(text, standing).describe('By version'), none: asked, unknown: asked }),
      ),
    }),
  ),
});
