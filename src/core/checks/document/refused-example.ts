import { schemasOf } from '../../contract/model/visit.ts';
import type { Schema } from '../../schema/model/schema.ts';
import { validate } from '../../schema/validate/validate.ts';
import type { Found } from '../engine/finding.ts';
import { inEachDocument } from '../engine/in-each-document.ts';
import type { Rule } from '../engine/rule.ts';

export const refusedExample: Rule = {
  id: 'document/refused-example',
  level: 'note',
  messages: {
    one: 'this example is {value}, which its own schema refuses: {why}{more}',
  },
  advice: {
    fix: 'Correct the example, or the schema.',
  },
  meta: {
    what: 'An example that its own schema refuses.',
    why: 'People copy examples before they read schemas.',
    example: '{ type: string, format: date, example: tomorrow }',
    fix: 'Choose an example that the schema holds.',
  },
  check: inEachDocument((contract) => schemasOf(contract).flatMap((schema) => refused(schema, contract.title) ?? [])),
};

function refused(schema: Schema, title: string): Found | undefined {
  const k = schema.keywords();
  if (typeof k === 'boolean') return undefined;
  for (const value of k.examples) {
    // Null says that there is none, and an ellipsis that something is left out.
    if (value === null || value === undefined || JSON.stringify(value).includes('...')) continue;
    const [first] = validate(schema, value);
    if (first === undefined) continue;
    const text = JSON.stringify(value);
    return {
      message: 'one',
      together: schema.place.file,
      advice: 'fix',
      data: { value: text.length > 80 ? `${text.slice(0, 79)}…` : text, why: first.message },
      at: { place: schema.place, what: title },
    };
  }
  return undefined;
}
