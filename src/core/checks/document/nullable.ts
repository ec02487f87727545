import { isMapping } from '../../base/json.ts';
import { schemasOf } from '../../contract/model/visit.ts';
import type { Found } from '../engine/finding.ts';
import { inEachDocument } from '../engine/in-each-document.ts';
import type { Rule } from '../engine/rule.ts';

/** What people write it beside, and mean "or null". */
const BESIDE = ['$ref', 'allOf', 'anyOf', 'oneOf', 'enum', 'properties'] as const;

export const nullable: Rule = {
  id: 'document/nullable-without-effect',
  level: 'note',
  messages: {
    one: 'nullable: true stands beside {beside} and without type, where it has no effect{more}',
  },
  advice: {
    fix: 'Write type beside it, or a form of its own for null.',
  },
  meta: {
    what: 'nullable: true where no type stands beside it (OpenAPI 3.0.3, 4.7.24).',
    why: 'By the standard null is rejected there, and many tools accept it: clients and services disagree.',
    example: '{ nullable: true, allOf: [{ $ref: "#/components/schemas/Lock" }] }',
    fix: 'Say type: object beside it, or null as a form of its own.',
  },
  check: inEachDocument((contract) =>
    schemasOf(contract).flatMap(({ raw, place }): Found[] => {
      if (!isMapping(raw) || raw.nullable !== true || raw.type !== undefined) return [];
      const beside = BESIDE.find((key) => raw[key] !== undefined);
      if (beside === undefined) return [];
      return [
        {
          message: 'one',
          advice: 'fix',
          together: place.file,
          data: { beside },
          at: { place: { ...place, pointer: `${place.pointer}/nullable` }, what: contract.title },
        },
      ];
    }),
  ),
};
