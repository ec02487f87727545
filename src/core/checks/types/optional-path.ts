import type { Rule } from '../engine/rule.ts';
import { declarationFinding, declarations } from './declared.ts';

export const optionalPath: Rule = {
  id: 'types/optional-path',
  level: 'warning',
  messages: {
    one: 'the path parameter {name} of {operation} does not say required: true',
  },
  advice: {
    fix: 'Add required: true; a path without it would be another path.',
  },
  meta: {
    what: 'A path parameter that is not required.',
    why: 'OpenAPI demands it, and some programs leave the parameter out, which asks for another path.',
    example: '- { name: lockId, in: path, schema: { type: integer } }',
    fix: 'Add required: true.',
  },
  check: (context) => declarations(context, 'optional').map((d) => declarationFinding(d)),
};
