/** The JSON Schemas of our formats, made from what describes them. */
import * as z from 'zod';
import { knownFindings } from './known-findings.ts';
import { OUTPUTS } from './outputs/index.ts';
import { routeTable } from './route-table.ts';
import { settings } from './settings.ts';

/** By file name, those of what the commands write as `output/COMMAND`. What a transform makes of a value is left out: a schema describes what stands in the file. */
export function jsonSchemas(): Readonly<Record<string, object>> {
  const make = (schema: z.ZodType, title: string): object => ({
    ...z.toJSONSchema(schema, { io: 'input', unrepresentable: 'any' }),
    title,
  });
  return {
    'known-findings.schema.json': make(knownFindings, 'Elm Gate known findings'),
    'route-table.schema.json': make(routeTable, 'Elm Gate route table'),
    'settings.schema.json': make(settings, 'Elm Gate settings'),
    ...Object.fromEntries(
      Object.entries(OUTPUTS).map(([command, schema]) => [
        `output/${command}.schema.json`,
        make(schema, `Elm Gate: what ${command} writes with --format json`),
      ]),
    ),
  };
}
