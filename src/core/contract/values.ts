/** From the texts of a request to the values of its parameters. */

import { fits } from '../schema/fits.ts';
import { flat } from '../schema/flat.ts';
import type { JsonType, Schema } from '../schema/node.ts';
import type { Parameter } from './model.ts';
import { separatorOf } from './typing.ts';

const MAX_WAYS = 8;
const NUMBER = /^-?\d+(?:\.\d+)?(?:[eE][+-]?\d+)?$/u;

/**
 * What these texts may stand for, the first that fits; otherwise the likeliest one. `undefined` where the value is written
 * in a way that can't be read back (an object in one text).
 */
export function readValue(parameter: Parameter, texts: readonly string[]): { readonly value: unknown } | undefined {
  const { schema } = parameter;
  if (schema === undefined) return undefined;
  const all = readings(schema, texts, separatorOf(parameter));
  if (all.length === 0) return undefined;
  return { value: all.find((value) => fits(schema, value)) ?? all[0] };
}

function readings(schema: Schema, texts: readonly string[], separator: string | undefined): readonly unknown[] {
  return flat(schema, MAX_WAYS).flatMap((k) => {
    const types = k.types ?? (k.enum === undefined ? ['string' as const] : [...new Set(k.enum.map(kind))]);
    return types.flatMap((type): unknown[] => {
      if (type === 'object') return [];
      if (type === 'array') {
        const items = separator === undefined ? texts : texts.flatMap((t) => (t === '' ? [] : t.split(separator)));
        return [items.map((text) => (k.items === undefined ? text : (readings(k.items, [text], undefined)[0] ?? text)))];
      }
      return [scalar(type, texts[texts.length - 1] ?? '')];
    });
  });
}

function kind(value: unknown): JsonType {
  return value === null ? 'null' : (typeof value as JsonType);
}

/** The text itself where it can't be read as the type. */
function scalar(type: string, text: string): unknown {
  switch (type) {
    case 'integer':
    case 'number':
      return NUMBER.test(text) ? Number(text) : text;
    case 'boolean':
      return text === 'true' ? true : text === 'false' ? false : text;
    case 'null':
      return text === '' || text === 'null' ? null : text;
    default:
      return text;
  }
}
