/** The route table file, `*.routes.yaml`. */
import * as z from 'zod';
import { COLUMN_KINDS } from '../../core/listing/row.ts';
import { STYLES } from '../../core/paths/pattern.ts';
import { SHORT_FORM } from '../../core/routes/table/entries.ts';
import { STEPS } from '../../core/routes/table/route.ts';
import { FACT_NAMES, FACTS, KINDS, type RouterSettings } from '../../core/routes/table/router-facts.ts';

const text = z.string().min(1);
const path = z.string();
/** A number is what YAML makes of `version: 2`. */
const versionId = z.union([text, z.number().transform(String)]);
const date = z.iso.date();

const common = {
  version: z
    .union([versionId, z.array(versionId)])
    .optional()
    .describe('The API version or versions that this belongs to'),
  host: text.optional().describe('The host that a request must name; * stands for any text'),
  takes: z.array(text).optional().describe('Media types of the request body'),
  returns: z.array(text).optional().describe('Media types of the answer, the default first'),
  headers: z.record(text, z.string()).optional().describe('Header values that a request must bring'),
  query: z.record(text, z.string()).optional().describe('Query values that a request must bring'),
  deprecated: z.union([z.boolean(), date]).optional().describe('Deprecated, or since when'),
  sunset: date.optional().describe('The day on which it goes away'),
};

const parameters = z.record(text, text).optional().describe("Types that the handler wants, by parameter's name");

/** What is wrong with a line is told by the checks, so that one line spoils no other; editors get the pattern. */
const line = z.string().meta({ pattern: SHORT_FORM.source });
const shortRoute = line.describe('METHOD[|METHOD] /path -> handler');

const longRoute = z.strictObject({
  route: line.describe('METHOD[|METHOD] /path'),
  handler: text.describe('Which handler the route has'),
  name: text.optional(),
  summary: z.string().optional(),
  parameters,
  ...common,
});

const entries = z.lazy(() => z.array(entry));

const group = z.strictObject({
  within: path.describe('The prefix that all routes inside share'),
  names: z.string().optional().describe('Put before the name of each route inside'),
  handlers: z.string().optional().describe('Put before the handler of each route inside'),
  unmatched: z.enum(FACTS.unmatched.values).optional(),
  parameters,
  ...common,
  get routes() {
    return entries;
  },
});

const resource = z.strictObject({
  resource: path.describe('The path of the collection'),
  item: text.optional().describe('The segment that names one item, such as {lockId:int}'),
  handler: text.optional().describe("Put before list, create, ...; the resource's name by default"),
  name: text.optional(),
  serves: z.array(z.enum(STEPS)).optional().describe('Which of the conventional routes there are; all by default'),
  parameters,
  ...common,
  get below() {
    return entries.optional();
  },
});

const include = z.strictObject({
  include: text.describe('The file of another route table, relative to this one'),
  within: path.optional(),
  names: z.string().optional(),
  handlers: z.string().optional(),
  ...common,
});

const from = z.strictObject({
  from: text.describe('A listing, a CSV or JSON file, a folder of route files, or source files by glob; relative to this table'),
  within: path.optional(),
  names: z.string().optional(),
  handlers: z.string().optional(),
  columns: z.array(z.enum(COLUMN_KINDS)).min(1).optional().describe('What the columns hold, where it is not found by itself'),
  row: text.optional().describe('An expression with the groups method, path, handler and name; each match is a route'),
  skip: text.optional().describe('Rows that this expression matches are no routes'),
  file: text.optional().describe('In a folder: which files are looked at, such as route.*'),
  style: z.enum(STYLES).optional().describe('How its paths are written, where it is not recognised'),
  types: z.enum(['ignore', 'keep']).optional().describe('ignore takes the types off its patterns'),
  ...common,
});

/** In the order in which an entry is recognised; each but the first has a key of its own. */
export const ENTRY_KEYS = ['route', 'resource', 'include', 'from', 'within'] as const;
export const entry: z.ZodType = z.union([shortRoute, longRoute, resource, include, from, group]);

const facts = Object.fromEntries(
  FACT_NAMES.map((name) => [
    name,
    z
      .preprocess(
        (value) => (typeof value === 'number' ? String(value) : value),
        z.enum([...FACTS[name].values, 'unknown'] as [string, ...string[]]),
      )
      .optional()
      .describe(FACTS[name].means),
  ]),
);

export const routerFacts = z
  .strictObject({
    kind: z.enum(KINDS).optional().describe('Sets the usual facts of a family of routers; single facts override them'),
    ...facts,
    longestValue: z.number().int().positive().optional().describe('The longest value of a parameter, in characters'),
    suffixes: z.record(text, text).optional().describe('What a suffix stands for: json: application/json'),
  })
  .transform((value) => value as RouterSettings);

export const routeTable = z.strictObject({
  routeTable: z.literal(1).describe('The version of this format'),
  service: text.optional().describe('The name of the service'),
  style: z.enum(STYLES).optional().describe('How path patterns are written'),
  router: routerFacts.optional().describe('How the router behaves where routers differ'),
  types: z
    .record(
      text,
      z.union([z.strictObject({ pattern: text, example: text.optional() }), z.strictObject({ among: z.array(text).min(1) })]),
    )
    .optional()
    .describe('Parameter types of this table'),
  sharedNames: z.boolean().optional().describe('Route names stand for resources, so that one may be used more than once'),
  routes: entries.describe('The routes, in the order in which they are declared'),
});

export type RouteTableFile = z.infer<typeof routeTable>;
