/** What the commands write with `--format json`, described for the programs that read it. Nothing here runs with a command. */
import * as z from 'zod';
import { LEVELS } from '../../core/checks/engine/finding.ts';
import { EFFECTS } from '../../core/compare/changes/change.ts';
import { OUTCOMES } from '../../core/routes/follow/outcome.ts';

const text = z.string();
const whole = z.int().min(0);
const texts = z.array(text);
const status = z.int().min(100).max(599).nullable();
const headers = z.record(text, text);
const level = z.enum(LEVELS);
const line = z.int().min(1);

const place = z.strictObject({ file: text, line: line.optional(), column: line.optional(), pointer: text });
const spot = place.extend({ what: text }).describe('Where, and what stands there');
const request = z.strictObject({ method: text, target: text, headers, body: text.optional() });
const outcome = z.enum(OUTCOMES);

const requestWitness = request
  .extend({ kind: z.literal('request'), takenBy: text.nullable(), status })
  .describe('A request that shows it: the handler that gets it, or the status that is expected');
const valueWitness = z
  .strictObject({ kind: z.literal('value'), validUnder: text, invalidUnder: text, body: z.unknown() })
  .describe('A JSON value that one side takes and the other refuses');

const finding = z.strictObject({
  rule: text,
  level,
  service: text,
  message: text,
  at: spot,
  related: z.array(spot.extend({ role: text })),
  witness: z.union([requestWitness, valueWitness]).nullable(),
  advice: text,
  restsOn: z.array(z.record(text, z.unknown())).describe('Router facts that the finding depends on'),
  undecided: text.nullable().describe('Why it could not be decided, where it could not'),
  fingerprint: text.describe('Stays the same from run to run'),
});

const summary = z.strictObject({ error: whole, warning: whole, note: whole, known: whole });
const tool = z.strictObject({ name: z.literal('elm-gate'), version: text });
const check = z.strictObject({ tool, summary, findings: z.array(finding) });

const change = z.strictObject({
  rule: text,
  effect: z.enum(EFFECTS),
  operation: z.strictObject({ method: text, path: text }),
  part: text,
  status: text.nullable(),
  media: text.nullable(),
  parameter: z.strictObject({ name: text, in: text }).nullable(),
  value: text.nullable().describe('A pointer into the body, or into the value of the parameter'),
  message: text,
  advice: text.nullable(),
  old: place.extend({ line: line.nullable(), column: line.nullable() }).nullable(),
  new: place.extend({ line: line.nullable(), column: line.nullable() }).nullable(),
  affects: z.array(z.strictObject({ method: text, path: text, part: text, status: text.nullable(), media: text.nullable() })),
  witness: z.record(text, z.unknown()).nullable(),
  undecided: text.nullable(),
});

const compare = z.strictObject({
  verdict: text,
  claimed: text.nullable().describe('What the two version numbers promise'),
  factsWithoutEffect: z.array(z.strictObject({ fact: text, was: text, is: text })).optional(),
  changes: z.array(change),
});

const review = z.strictObject({
  compared: text,
  verdict: text,
  fails: texts,
  added: z.array(finding.pick({ rule: true, level: true, message: true, at: true, fingerprint: true })),
  gone: z.array(finding.pick({ rule: true, level: true, message: true, at: true, fingerprint: true })),
  stayed: whole,
  changes: z.array(
    z.strictObject({
      of: text,
      rule: text,
      effect: z.enum(EFFECTS),
      at: z.record(text, z.unknown()),
      message: text,
      advice: text.nullable(),
      witness: z.record(text, z.unknown()).nullable(),
    }),
  ),
  clients: texts,
  notes: texts,
});

const follow = z.strictObject({
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

const route = z.strictObject({
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

const table = z.array(
  z.strictObject({
    service: text,
    style: text,
    precedence: z.strictObject({ value: text, assumed: z.boolean() }),
    routes: z.array(route),
  }),
);

const endpoint = z.strictObject({ method: text, path: text });
const resource = z.strictObject({
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
const life = z.strictObject({
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
const methods = z.union([
  z.strictObject({ services: z.array(z.strictObject({ service: text, resources: z.array(resource) })) }),
  z.strictObject({ resources: z.array(life) }).describe('Where a resource was named'),
]);

const media = z.strictObject({
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

const rehearse = z.strictObject({
  origin: text,
  stopped: z.boolean(),
  summary: z.strictObject({ sent: whole, agrees: whole, contradicts: whole, open: whole, undocumented: whole }),
  requests: z.array(
    z.strictObject({
      service: text,
      request,
      verdict: z.enum(['agrees', 'contradicts', 'open']),
      expected: text,
      came: text,
      restsOn: texts,
      undocumented: texts,
      curl: text,
    }),
  ),
  facts: z.array(
    z.strictObject({
      service: text,
      fact: text,
      assumed: text,
      consistent: texts,
      state: z.enum(['confirmed', 'contradicted', 'open']),
      together: texts,
      requests: texts,
    }),
  ),
  withoutEffect: texts,
  unsafe: whole,
  notes: texts,
});

const version = z.strictObject({ id: text, default: z.boolean() }).nullable();
const asked = z
  .strictObject({ request, outcome, status, handler: text.nullable(), version })
  .nullable()
  .describe('What becomes of a request that names no version, or one that nobody knows');
const standing = z.strictObject({
  standing: text,
  path: text.nullable(),
  handler: text.nullable(),
  documented: z.boolean(),
  deprecated: z.boolean(),
  sunset: text.nullable(),
});
const versions = z.strictObject({
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

const settings = z.strictObject({
  settings: z.array(z.strictObject({ key: text, value: z.unknown(), from: text.describe('file:line, or default') })),
});

const imported = z.strictObject({
  look: text,
  columns: texts.nullable(),
  style: z.strictObject({ value: text, asked: z.boolean(), marked: whole, against: whole }),
  routes: z.array(
    z.strictObject({
      methods: texts.nullable(),
      path: text,
      handler: text,
      name: text.nullable(),
      host: text.nullable(),
      at: place.extend({ line: line.nullable() }),
    }),
  ),
  skipped: z.array(z.record(text, z.unknown())),
  notes: texts,
  table: text,
});

/** By command. */
export const OUTPUTS = {
  check,
  compare,
  follow,
  import: imported,
  media,
  methods,
  rehearse,
  review,
  settings,
  table,
  versions,
} as const;
