/** What the outputs of several commands are made of. */
import * as z from 'zod';
import { LEVELS } from '../../../core/checks/engine/finding.ts';
import { OUTCOMES } from '../../../core/routes/follow/outcome.ts';

export const text = z.string();
export const whole = z.int().min(0);
export const texts = z.array(text);
export const status = z.int().min(100).max(599).nullable();
export const headers = z.record(text, text);
export const traffic = z
  .strictObject({ requests: whole, of: whole, clients: texts, last: text.nullable(), isAtMost: z.boolean() })
  .optional()
  .describe('The recorded requests that meet it, with --traffic');
export const level = z.enum(LEVELS);
export const line = z.int().min(1);

export const place = z.strictObject({ file: text, line: line.optional(), column: line.optional(), pointer: text });
export const spot = place.extend({ what: text }).describe('Where, and what stands there');
export const request = z.strictObject({ method: text, target: text, headers, body: text.optional() });
export const outcome = z.enum(OUTCOMES);
