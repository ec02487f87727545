/** From the texts of a request to the values of its parameters. */

import type { Mapping } from '../../base/json.ts';
import type { JsonType, Schema } from '../../schema/model/schema.ts';
import { toDisjuncts } from '../../schema/normalise/flatten.ts';
import { isValid } from '../../schema/validate/validate.ts';
import type { Parameter } from '../model/contract.ts';
import { separatorOf } from '../pairing/parameter-types.ts';

const MAX_WAYS = 8;
const WHOLE = /^-?\d+$/u;
const NUMBER = /^-?\d+(?:\.\d+)?(?:[eE][+-]?\d+)?$/u;

/**
 * What these texts may stand for, the first that fits; otherwise the likeliest one. `undefined` where the value is written
 * in a way that can't be read back (an object in one text).
 */
export function deserialize(
  parameter: Pick<Parameter, 'schema' | 'style' | 'explode'>,
  texts: readonly string[],
): { readonly value: unknown } | undefined {
  const { schema } = parameter;
  if (schema === undefined) return undefined;
  const all = interpretations(schema, texts, separatorOf(parameter));
  if (all.length === 0) return undefined;
  const fitting = all.findIndex((value) => isValid(schema, value));
  return { value: all[Math.max(0, fitting)] };
}

function interpretations(schema: Schema, texts: readonly string[], separator: string | undefined): readonly unknown[] {
  return toDisjuncts(schema, MAX_WAYS).flatMap((k) => {
    const types = k.types ?? (k.enum === undefined ? ['string' as const] : [...new Set(k.enum.map(kind))]);
    return types.flatMap((type): unknown[] => {
      if (type === 'object') return [];
      if (type === 'array') {
        const items = separator === undefined ? texts : texts.flatMap((t) => (t === '' ? [] : t.split(separator)));
        return [items.map((text) => (k.items === undefined ? text : itemOf(k.items, text)))];
      }
      return [scalar(type, texts[texts.length - 1] ?? '')];
    });
  });
}

/** The first reading that fits; otherwise the likeliest. */
function itemOf(schema: Schema, text: string): unknown {
  const all = interpretations(schema, [text], undefined);
  return all.find((value) => isValid(schema, value)) ?? all[0] ?? text;
}

function kind(value: unknown): JsonType {
  return value === null ? 'null' : (typeof value as JsonType);
}

/** The text itself where it can't be read as the type. */
function scalar(type: string, text: string): unknown {
  switch (type) {
    case 'integer':
      return WHOLE.test(text) ? Number(text) : text;
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

/** Texts by the names under which they were sent: a query, or a form. */
export type Sent = ReadonlyMap<string, readonly string[]>;

export function sentTexts(text: URLSearchParams): Sent {
  const out = new Map<string, string[]>();
  for (const [name, value] of text) out.set(name, [...(out.get(name) ?? []), value]);
  return out;
}

/** An object whose properties are texts of their own; what is not declared stays text. */
export function deserializeForm(schema: Schema, texts: Sent): Mapping {
  const declared = new Map(toDisjuncts(schema, MAX_WAYS).flatMap((k) => [...k.properties]));
  return Object.fromEntries(
    [...texts].map(([name, all]) => {
      const own = declared.get(name);
      const read = own === undefined ? undefined : deserialize({ ...FORM, schema: own }, all);
      return [name, read === undefined ? (all.length === 1 ? all[0] : all) : read.value];
    }),
  );
}

/** How the properties of a form are written (OpenAPI 3.1, 4.8.15.1). */
const FORM = { style: 'form', explode: true } as const;

/**
 * An object parameter of the query: `filter[least]=1` (deepObject), `least=1` (form, exploded) or `filter=least,1`.
 * Undefined where nothing of it was sent.
 */
export function readQueryObject(
  { name, style, explode, schema }: Parameter,
  query: Sent,
): { readonly value: unknown } | undefined {
  if (schema === undefined) return undefined;
  const texts = new Map<string, readonly string[]>();
  if (style === 'deepObject') {
    for (const [key, all] of query)
      if (key.startsWith(`${name}[`) && key.endsWith(']')) texts.set(key.slice(name.length + 1, -1), all);
  } else if (explode) {
    const names = new Set(toDisjuncts(schema, MAX_WAYS).flatMap((k) => [...k.properties.keys()]));
    for (const [key, all] of query) if (names.has(key)) texts.set(key, all);
  } else {
    const parts = (query.get(name)?.at(-1) ?? '').split(SEPARATORS[style] ?? ',');
    for (let i = 0; i + 1 < parts.length; i += 2) texts.set(parts[i] as string, [parts[i + 1] as string]);
  }
  return texts.size === 0 ? undefined : { value: deserializeForm(schema, texts) };
}

const SEPARATORS: Readonly<Record<string, string>> = { spaceDelimited: ' ', pipeDelimited: '|' };
