/** What rehearse, settings and import write. */
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
