/** Holds what a command wrote against the schema that is published for it. */
import { readFileSync } from 'node:fs';
import { Ajv2020, type ValidateFunction } from 'ajv/dist/2020.js';

const ajv = new Ajv2020({ strict: false, validateFormats: false });
const known = new Map<string, ValidateFunction>();

/** What is wrong with the JSON that `command` wrote; none where it is as published. */
export function undescribed(command: string, json: string): readonly string[] {
  const validate = known.get(command) ?? ajv.compile(JSON.parse(readFileSync(`schemas/output/${command}.schema.json`, 'utf8')));
  known.set(command, validate);
  validate(JSON.parse(json));
  return (validate.errors ?? []).map((e) => `${command} ${e.instancePath}: ${e.message} ${JSON.stringify(e.params)}`);
}
