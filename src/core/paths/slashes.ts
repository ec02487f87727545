/** Regular expressions that can match a slash stand for several segments. */
import { BOUNDARY, setHas, unionSets } from '../language/charset.ts';
import type { Expression } from '../language/expression.ts';

const SLASH_CODE = 0x2f;

/** The expression with every slash that it can match also standing for the boundary between segments. */
export function withBoundaries(expression: Expression): Expression {
  switch (expression.kind) {
    case 'set':
      return setHas(expression.set, SLASH_CODE)
        ? { kind: 'set', set: unionSets(expression.set, [BOUNDARY, BOUNDARY]) }
        : expression;
    case 'sequence':
    case 'choice':
      return { kind: expression.kind, items: expression.items.map(withBoundaries) };
    case 'repeat':
      return { ...expression, item: withBoundaries(expression.item) };
    default:
      return expression;
  }
}

/** Can it match a boundary? */
export function crosses(expression: Expression): boolean {
  switch (expression.kind) {
    case 'set':
      return setHas(expression.set, BOUNDARY);
    case 'sequence':
    case 'choice':
      return expression.items.some(crosses);
    case 'repeat':
      return expression.max > 0 && crosses(expression.item);
    default:
      return false;
  }
}
