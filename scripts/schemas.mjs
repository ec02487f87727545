/** Writes the JSON Schemas of our formats into schemas/; a test holds them to what describes the formats. */
import { mkdirSync, writeFileSync } from 'node:fs';
import { jsonSchemas } from '../dist/schemas.js';

mkdirSync('schemas/output', { recursive: true });
for (const [file, schema] of Object.entries(jsonSchemas()))
  writeFileSync(`schemas/${file}`, `${JSON.stringify(schema, null, 2)}\n`);
