/** The kinds of JSON values, for judging and for sentences. */
import { isMapping, kindOf } from '../../base/json.ts';

/** Is a value of this type? `integer` is a number that is whole. */
export function isType(value: unknown, type: string): boolean {
  switch (type) {
    case 'null':
      return value === null;
    case 'integer':
      return typeof value === 'number' && Number.isInteger(value);
    case 'array':
      return Array.isArray(value);
    case 'object':
      return isMapping(value);
    default:
      return typeof value === type;
  }
}

const TYPE_NAMES: Readonly<Record<string, string>> = {
  integer: 'a whole number',
  number: 'a number',
  string: 'text',
  boolean: 'true or false',
  array: 'a list',
  object: 'an object',
  null: 'null',
};

export function typeName(type: string): string {
  return TYPE_NAMES[type] ?? type;
}

/** `"open" or "closed"`. */
export function listed(values: readonly unknown[]): string {
  const shown = values.slice(0, 8).map((v) => JSON.stringify(v));
  return values.length > 8 ? `${shown.join(', ')} or one of ${values.length - 8} more` : shown.join(' or ');
}

/** What was found, for a sentence; a null that somebody sends is a value. */
export function wordsOf(value: unknown): string {
  return value === null ? 'null' : kindOf(value);
}

export function noFormWords(forms: number, value: unknown): string {
  const found = wordsOf(value);
  return forms === 1
    ? `expected its only form, which ${found} does not fit`
    : `expected one of ${forms} forms, and none fits ${found}`;
}
