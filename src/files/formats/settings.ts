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
  host: text.optional().describe('The host for which the gateway passes requests to it, or all below one as *.canal.example'),
  headers: z.record(text, z.string()).optional().describe('Headers that a request must have for the gateway to pass it on'),
  version: z
    .union([text, z.number().transform(String)])
    .optional()
    .describe('The version that a request must ask for'),
});

const id = z.union([text, z.number().transform(String)]);
const status = z.number().int().min(100).max(599);
const date = z.iso.date();

const versioning = z
  .strictObject({
    selector: z.enum(['path', 'header', 'query', 'media-type']).describe('Where a request names the version that it wants'),
    name: text.optional().describe('Of the header, the query parameter or the media type parameter'),
    also: z
      .array(z.strictObject({ selector: z.enum(['header', 'query', 'media-type']), name: text }))
      .optional()
      .describe('Where else a request may name it, asked in this order'),
    default: id.optional().describe('The version of a request that names none'),
    versions: z
      .array(z.strictObject({ id, deprecated: z.union([z.boolean(), date]).optional(), sunset: date.optional() }))
      .min(1),
    missing: status.optional().describe('Answered when no version is named and there is no default; 400'),
    unknown: status.optional().describe('Answered for an unknown version; 400'),
    elsewhere: status.optional().describe('Answered when only other routes have the version; 404'),
  })
  .refine((v) => v.selector === 'path' || v.name !== undefined, {
    message: 'expected name: of the header, query or media type parameter',
    path: ['selector'],
  });

const expectation = z.strictObject({
  request: z
    .string()
    .regex(/^\S+\s+\S+$/u, 'expected METHOD /target')
    .describe('METHOD /target'),
  headers: z.record(text, z.string()).optional(),
  service: text.optional().describe('Which service; the first by default'),
  handler: text.optional().describe('Who should take it'),
  status: status.optional().describe('What should be answered when no route matches'),
  parameters: z.record(text, z.string()).optional(),
  allow: z.array(text).optional(),
});

const methodList = z.array(z.string().regex(/^[A-Za-z]+(?:\|[A-Za-z]+)*$/u, 'expected a method, or several with | between them'));

const methods = z.strictObject({
  collection: methodList.optional().describe('Methods that a collection should take; GET and POST'),
  item: methodList.optional().describe('Methods that an item should take; GET, PUT|PATCH and DELETE'),
  resources: z
    .record(text, z.strictObject({ collection: methodList.optional(), item: methodList.optional() }))
    .optional()
    .describe('Others for single resources, by path'),
});

const client = z.strictObject({
  name: text,
  accept: text.optional().describe('What it sends as Accept; leave it out if it sends none'),
  sends: text.optional().describe('The media type of its bodies'),
  services: z.array(text).optional().describe('The services that it calls; all by default'),
});

const gateway = z.strictObject({
  choose: z
    .enum(['order', 'longest-prefix'])
    .describe('Which service gets a request that fits several: the first that is named, or the one with the longest mount'),
  path: z
    .enum(['taken-off', 'kept'])
    .optional()
    .describe('Whether the mount is taken off before the service sees the path, or its routes have it themselves; taken-off'),
});

const levels = z.record(text, z.enum([...LEVELS, 'off']));

export const settings = z.strictObject({
  services: z.array(service).min(1).optional(),
  fleet: z
    .union([text, z.array(text).min(1)])
    .optional()
    .describe('Folders, by glob, each with its own elm-gate.yaml: check looks at all of them'),
  gateway: gateway.optional().describe('How a gateway before the services chooses between them'),
  versioning: versioning.optional().describe('How clients choose a version'),
  expect: z.array(expectation).optional().describe('Requests whose outcome is known; check holds the table to them'),
  methods: methods.optional().describe('Which methods resources should have'),
  clients: z.array(client).optional().describe('Who calls the service'),
  openEnumerations: z
    .string()
    .startsWith('x-', 'expected the name of an extension, which starts with x-')
    .optional()
    .describe('The extension that marks an enumeration to which members may be added'),
  extends: z
    .union([text, z.array(text)])
    .optional()
    .describe('Other settings files, from which levels, levelsBelow, methods, openEnumerations and failOn are taken'),
  levels: levels.optional().describe('The level of a rule, or off'),
  levelsBelow: z
    .record(z.string().startsWith('/', 'expected a path, which starts with /'), levels)
    .optional()
    .describe('The level of a rule on a path and below it, or off'),
  failOn: level.optional().describe('The lowest level that makes check end with status 1'),
});

export type Settings = z.infer<typeof settings>;
