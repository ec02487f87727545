import type { Rule } from '../engine/rule.ts';
import { declarationFinding, declarations } from './declared.ts';

export const undeclaredParameter: Rule = {
  id: 'types/undeclared',
  level: 'error',
  messages: {
    one: '{operation} has {name} in its path and declares no parameter of that name',
  },
  advice: {
    fix: 'Declare it: in: path, required: true, and a schema.',
  },
  meta: {
    what: 'A parameter in a path template that the operation does not declare.',
    why: 'Nobody is told its type, and generated clients leave it out or fail.',
    example: 'paths:\n  /locks/{lockId}:\n    get: { operationId: locks.read }          # and no parameters',
    fix: 'Declare it at the path or at the operation.',
  },
  check: (context) => declarations(context, 'missing').map((d) => declarationFinding(d)),
};
