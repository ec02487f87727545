/** The file of known findings, `elm-gate.known.yaml`. */
import * as z from 'zod';

const text = z.string().min(1);

export const knownFindings = z.strictObject({
  knownFindings: z.literal(1),
  findings: z
    .record(
      z.string().regex(/^[0-9a-f]{16}$/u, 'expected a fingerprint of 16 hexadecimal digits'),
      z.strictObject({
        rule: text,
        at: z.string().describe('What it was found on'),
        message: text,
        reason: text.describe('Why it may stay'),
        by: text.optional().describe('Who says so'),
        until: z.iso.date().optional().describe('The day from which it is told again'),
      }),
    )
    .describe('By fingerprint, in their order'),
});

export type KnownFindings = z.infer<typeof knownFindings>;
export type KnownFinding = KnownFindings['findings'][string];
