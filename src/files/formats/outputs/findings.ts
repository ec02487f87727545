/** What check, compare and review write. */
import * as z from 'zod';
import { EFFECTS } from '../../../core/compare/changes/change.ts';
import { level, line, place, request, spot, status, text, texts, traffic, whole } from './parts.ts';

export const requestWitness = request
  .extend({ kind: z.literal('request'), takenBy: text.nullable(), status })
  .describe('A request that shows it: the handler that gets it, or the status that is expected');
export const valueWitness = z
  .strictObject({ kind: z.literal('value'), validUnder: text, invalidUnder: text, body: z.unknown() })
  .describe('A JSON value that one side takes and the other refuses');

export const finding = z.strictObject({
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
  traffic,
  fingerprint: text.describe('Stays the same from run to run'),
});

export const summary = z.strictObject({ error: whole, warning: whole, note: whole, known: whole });
export const tool = z.strictObject({ name: z.literal('elm-gate'), version: text });
export const check = z.strictObject({ tool, summary, findings: z.array(finding) });

export const change = z.strictObject({
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
  traffic,
});

export const compare = z.strictObject({
  verdict: text,
  claimed: text.nullable().describe('What the two version numbers promise'),
  factsWithoutEffect: z.array(z.strictObject({ fact: text, was: text, is: text })).optional(),
  changes: z.array(change),
});

export const review = z.strictObject({
  compared: text,
  verdict: text,
  fails: texts,
  added: z.array(finding.pick({ rule: true, level: true, message: true, at: true, fingerprint: true, traffic: true })),
  gone: z.array(finding.pick({ rule: true, level: true, message: true, at: true, fingerprint: true, traffic: true })),
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
      traffic,
    }),
  ),
  clients: texts,
  notes: texts,
});
