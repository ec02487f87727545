/** What rehearse, traffic, settings and import write. */
import * as z from 'zod';
import { line, place, request, text, texts, whole } from './parts.ts';

export const rehearse = z.strictObject({
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

export const settings = z.strictObject({
  settings: z.array(z.strictObject({ key: text, value: z.unknown(), from: text.describe('file:line, or default') })),
});

export const imported = z.strictObject({
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

const counted = {
  requests: whole,
  statuses: z.record(text, whole),
  clients: z.record(text, whole),
  last: text.nullable(),
};
const counter = z.strictObject(counted);

export const recorded = z.strictObject({
  files: texts,
  from: text.nullable(),
  to: text.nullable(),
  broken: z.array(z.strictObject({ why: text, file: text, line, count: whole })),
  total: counter,
  outside: whole.describe('Requests that are not below the path of --strip'),
  routes: z.array(z.strictObject({ service: text, methods: texts, path: text, handler: text, ...counted })),
  contradictions: z.array(z.strictObject({ what: text, expected: text, came: text, explainedBy: texts, ...counted })),
  unmatched: z.array(
    z.strictObject({
      method: text,
      shape: text,
      expected: text,
      nearest: z.strictObject({ handler: text, path: text, cause: text }).nullable(),
      ...counted,
    }),
  ),
  undeclared: z.array(z.strictObject({ operation: text, in: text, name: text, ...counted })),
  deprecated: z.array(z.strictObject({ what: text, sunset: text.nullable(), ...counted })),
  unused: z.strictObject({
    routes: z.array(z.strictObject({ methods: texts, path: text, handler: text })),
    operations: texts,
    parameters: z.array(z.strictObject({ operation: text, in: text, name: text })),
    types: z.array(z.strictObject({ operation: text, side: text, type: text })).nullable(),
  }),
});
