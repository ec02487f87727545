/** The settings file, `elm-gate.yaml`. */
import * as z from 'zod';

const text = z.string().min(1);
export const LEVELS = ['error', 'warning', 'note'] as const;
const level = z.enum(LEVELS);

const service = z.strictObject({
  name: text.describe('The name of the service'),
  routes: text.optional().describe('Its route table'),
  document: z
    .union([text, z.array(text)])
    .optional()
    .describe('Its OpenAPI document, or one for each version'),
  mount: z.string().startsWith('/').optional().describe('Where the gateway puts this service'),
});

export const settings = z.strictObject({
  services: z.array(service).min(1).optional(),
  levels: z
    .record(text, z.enum([...LEVELS, 'off']))
    .optional()
    .describe('The level of a rule, or off'),
  failOn: level.optional().describe('The lowest level that makes check end with status 1'),
});

export type Settings = z.infer<typeof settings>;
export type ServiceSettings = z.infer<typeof service>;
