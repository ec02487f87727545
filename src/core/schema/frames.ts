/** Values with a place for a part that somebody else fills in. */
import { isMapping } from '../json.ts';
import type { Side } from './fits.ts';
import { type Answers, valueIn } from './inside.ts';
import type { Schema } from './node.ts';
import { isUnsent } from './sides.ts';
import { isPlainText } from './some.ts';

/**
 * A value of a plain schema in which whatever the schema says of this place may stand there; undefined where that is not
 * seen at once. What stands beside the place is looked for once for each schema.
 */
export function frameOf(schema: Schema, keys: readonly string[], side: Side, answers: Answers): unknown {
  const [key, ...rest] = keys;
  if (key === undefined) return null;
  const { raw } = schema;
  if (!isMapping(raw) || 'enum' in raw || !isPlainText(schema)) return undefined;
  const listed = raw.type === 'array' && key === '0' && raw.maxItems === undefined;
  const part = listed ? schema.part?.() : raw.type === 'object' ? schema.part?.(key) : undefined;
  if (part === undefined || isUnsent(part, side)) return undefined;
  const inner = frameOf(part, rest, side, answers);
  if (inner === undefined || listed) return inner === undefined ? undefined : [inner];
  const beside = valueBeside(schema, side, answers);
  return isMapping(beside) ? { ...beside, [key]: inner } : undefined;
}

function valueBeside(schema: Schema, side: Side, answers: Answers): unknown {
  const row = answers.holders.get(schema) ?? new Map();
  answers.holders.set(schema, row);
  const found = row.get(side) ?? valueIn(schema, side, answers);
  row.set(side, found);
  return found.kind === 'witness' ? found.value : undefined;
}
