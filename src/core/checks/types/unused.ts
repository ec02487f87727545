import type { Rule } from '../engine/rule.ts';
import { declarationFinding, declarations } from './declared.ts';

export const unusedParameter: Rule = {
  id: 'types/unused',
  level: 'warning',
  messages: {
    one: '{operation} declares the path parameter {name}, which its path does not have',
  },
  advice: {
    fix: 'Take it out, or put it into the path; it may be misspelt on one side.',
  },
  meta: {
    what: 'A declared path parameter that the path template does not have.',
    why: 'It can never be sent. Mostly the name is misspelt on one side, and the one in the path is undeclared.',
    example:
      'paths:\n  /locks/{lockId}:\n    parameters: [{ name: lockid, in: path, required: true, schema: { type: integer } }]',
    fix: 'Use one spelling.',
  },
  check: (context) => declarations(context, 'unused').map((d) => declarationFinding(d)),
};
