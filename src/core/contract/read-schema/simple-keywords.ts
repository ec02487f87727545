/** Keywords that no other schema stands in: types, texts, names. */
import { isMapping, kindOf, type Mapping } from '../../base/json.ts';
import { suggest } from '../../base/nearest-word.ts';
import { JSON_TYPES, type JsonType, type Keywords } from '../../schema/model/schema.ts';
import { type At, addFlaw, child, listAt, type Reader } from '../document/document.ts';

const KINDS: readonly unknown[] = [...JSON_TYPES, 'integer'];

export function typesOf(reader: Reader, at: At<Mapping>): Keywords['types'] | undefined {
  const { type, nullable } = at.value;
  if (type === undefined) return undefined;
  // A file of 2.0 is any text.
  if (type === 'file') return ['string'];
  const list = Array.isArray(type) ? type : [type];
  const known = list.filter((t): t is JsonType | 'integer' => KINDS.includes(t));
  for (const t of list) {
    if (KINDS.includes(t)) continue;
    const near = typeof t === 'string' ? suggest(t, KINDS as string[]) : undefined;
    addFlaw(
      reader,
      child(at, 'type'),
      `expected a type, found ${kindOf(t)}; ${near === undefined ? `known are ${KINDS.join(', ')}` : `did you mean ${near}?`}`,
    );
  }
  if (known.length === 0) return undefined;
  return nullable === true && reader.dialect === '3.0' && !known.includes('null') ? [...known, 'null'] : known;
}

export function textAt(reader: Reader, at: At<Mapping>, key: string): string | undefined {
  const value = at.value[key];
  if (value === undefined || typeof value === 'string') return value;
  return addFlaw(reader, child(at, key), `expected text for ${key}, found ${kindOf(value)}`);
}

export function requiredOf(reader: Reader, at: At<Mapping>): readonly string[] {
  const { required } = at.value;
  if (required === undefined) return [];
  // A flag on a property, as parameters have it, is a common slip.
  if (typeof required === 'boolean') {
    addFlaw(
      reader,
      child(at, 'required'),
      'expected a list of property names, found true or false; name the property in required of the object that holds it',
    );
    return [];
  }
  return listAt(reader, child(at, 'required'), 'a list of property names').flatMap((item) => {
    if (typeof item.value === 'string') return [item.value];
    addFlaw(reader, item, `expected the name of a property, found ${kindOf(item.value)}`);
    return [];
  });
}

export function discriminatorOf(value: Mapping): Keywords['discriminator'] | undefined {
  const d = value.discriminator;
  if (typeof d === 'string') return { property: d, names: [] };
  if (!isMapping(d) || typeof d.propertyName !== 'string') return undefined;
  return { property: d.propertyName, names: isMapping(d.mapping) ? Object.keys(d.mapping) : [] };
}
