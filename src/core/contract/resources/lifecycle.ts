/** The life of a resource: what creates, reads and changes it, where its key comes from, and what its values look like. */

import { normalisedName } from '../../base/bare-name.ts';
import { dereference, type Schema } from '../../schema/model/schema.ts';
import { toDisjuncts } from '../../schema/normalise/flatten.ts';
import type { Media, Operation } from '../model/contract.ts';
import type { Endpoint } from '../pairing/endpoints.ts';
import { tellingOf } from './item-keys.ts';
import type { Resource, Step } from './resources.ts';

/** The endpoint of a step, the documented one first. */
export function stepOf(resource: Resource, step: Step): Endpoint | undefined {
  const all = resource.members.filter((m) => m.step === step).map((m) => m.endpoint);
  return all.find((e) => e.operation !== undefined) ?? all[0];
}

/** The JSON of a request. */
export function sentSchema(operation: Operation | undefined): Schema | undefined {
  return jsonOf(operation?.body?.content ?? []);
}

/** The JSON of the first successful answer that has any. */
export function answeredSchema(operation: Operation | undefined): Schema | undefined {
  for (const response of operation?.responses ?? []) {
    const schema = response.status.startsWith('2') ? jsonOf(response.content) : undefined;
    if (schema !== undefined) return schema;
  }
  return undefined;
}

function jsonOf(content: readonly Media[]): Schema | undefined {
  return (content.find((m) => /[/+]json\b/iu.test(m.type)) ?? content[0])?.schema;
}

/** The properties of an object schema through references and parts; undefined where it is none. */
export function propertiesOf(schema: Schema | undefined): ReadonlyMap<string, Schema> | undefined {
  if (schema === undefined) return undefined;
  const ways = toDisjuncts(schema, 4).filter((k) => k.properties.size > 0);
  return ways.length === 0 ? undefined : new Map(ways.flatMap((k) => [...k.properties]));
}

/** The items of a list, or of the list that an object wraps. */
export function listedSchema(schema: Schema | undefined): Schema | undefined {
  if (schema === undefined) return undefined;
  for (const k of toDisjuncts(schema, 4)) if (k.items !== undefined) return k.items;
  for (const property of propertiesOf(schema)?.values() ?? [])
    for (const k of toDisjuncts(property, 4)) if (k.items !== undefined) return k.items;
  return undefined;
}

/** The one property that holds everything, and what it holds: `{ lock: { … } }`. */
export function envelopeOf(schema: Schema | undefined): { readonly name: string; readonly inner: Schema } | undefined {
  const properties = propertiesOf(schema);
  if (properties === undefined || properties.size !== 1) return undefined;
  const [[name, inner]] = [...properties] as [[string, Schema]];
  return propertiesOf(inner) === undefined ? undefined : { name, inner };
}

/** The property that holds an item's key, by the name of its parameter; `id` and the like stand for it too. */
export function keyProperty(schema: Schema | undefined, parameter: string): string | undefined {
  const wrapped = envelopeOf(schema);
  const properties = propertiesOf(wrapped?.inner ?? schema);
  if (properties === undefined) return undefined;
  const bare = normalisedName(parameter);
  const ends = ['id', 'key', 'number', 'no', 'code', 'slug', 'name', 'uuid'];
  const names = [...properties.keys()];
  return (
    names.find((n) => normalisedName(n) === bare) ??
    names.find(
      (n) =>
        normalisedName(n) === 'id' ||
        normalisedName(n) === 'href' ||
        normalisedName(n) === 'self' ||
        normalisedName(n) === 'links',
    ) ??
    names.find((n) => ends.includes(normalisedName(n)) && bare.endsWith(normalisedName(n)))
  );
}

/** Where an answer tells the key of what it speaks of; undefined where it doesn't. */
export function keyIn(operation: Operation, parameter: string, list: boolean): string | undefined {
  const telling = tellingOf(operation, parameter, list);
  return typeof telling === 'object' ? telling.by : undefined;
}

/** Do two schemas end at the same one? */
export function sameSchema(a: Schema | undefined, b: Schema | undefined): boolean {
  return a !== undefined && b !== undefined && dereference(a) === dereference(b);
}
