import { schemasOf } from '../../contract/model/visit.ts';
import type { Keywords } from '../../schema/model/schema.ts';
import { validate } from '../../schema/validate/validate.ts';
import type { Found } from '../engine/finding.ts';
import type { Rule } from '../engine/rule.ts';

/** Is it the text of a value that fits? Documents are often written by hand, and YAML asks for no quotes. */
function isText(value: unknown, { types = [] }: Keywords): boolean {
  if (typeof value !== 'string') return false;
  return types.includes('boolean')
    ? value === 'true' || value === 'false'
    : types.some((t) => t === 'integer' || t === 'number') && value.trim() !== '' && Number.isFinite(Number(value));
}

export const badDefault: Rule = {
  id: 'types/bad-default',
  level: 'warning',
  messages: {
    parameter: 'the default of {name} is {value}, which its own schema refuses: {why}{more}',
    schema: 'this default is {value}, which its own schema refuses: {why}{more}',
  },
  advice: {
    fix: 'Correct the default, or the schema.',
  },
  meta: {
    what: 'A default that its own schema refuses.',
    why: 'Clients and servers that fill it in send and store values that are refused elsewhere.',
    example: 'schema: { type: integer, minimum: 1, default: 0 }',
    fix: 'Choose a default that the schema holds.',
  },
  check: (context) =>
    context.service.contracts.flatMap((contract) => {
      const names = new Map(
        contract.operations.flatMap((o) =>
          o.parameters.flatMap((p) => (p.schema === undefined ? [] : [[p.schema, p.name] as const])),
        ),
      );
      return schemasOf(contract).flatMap((schema): Found[] => {
        const k = schema.keywords();
        // A default of null says that there is none.
        if (typeof k === 'boolean' || k.default === undefined || k.default.value === null) return [];
        const { value } = k.default;
        const [first] = validate(schema, value);
        if (first === undefined) return [];
        const name = names.get(schema);
        return [
          {
            message: name === undefined ? 'schema' : 'parameter',
            // Tools read the text as the value that is meant.
            ...(isText(value, k) ? { level: 'note' as const } : {}),
            advice: 'fix',
            together: [schema.place.file, JSON.stringify(value), first.message].join(' '),
            data: { name: name ?? '', value: JSON.stringify(value), why: first.message },
            at: { place: { ...schema.place, pointer: `${schema.place.pointer}/default` }, what: contract.title },
            witness: { kind: 'value', value, validUnder: 'nothing here', invalidUnder: 'its own schema' },
          },
        ];
      });
    }),
};
