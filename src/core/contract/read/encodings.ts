/** How the properties of a form are written: `encoding` of 3.x. */
import { isMapping } from '../../base/json.ts';
import { type At, addFlaw, membersAt, placeOf, type Reader } from '../document/document.ts';
import type { Encoding } from '../model/contract.ts';
import { isExploded, styleOf } from './styles.ts';

/** Undefined where nothing is said. */
export function encodingAt(reader: Reader, at: At): ReadonlyMap<string, Encoding> | undefined {
  if (at.value === undefined) return undefined;
  const out = new Map<string, Encoding>();
  for (const [name, item] of membersAt(reader, at, 'a mapping of encodings')) {
    if (!isMapping(item.value)) {
      addFlaw(reader, item, 'expected a mapping that says how a property is written, found something else');
      continue;
    }
    const { value } = item;
    const style = styleOf(reader, { ...item, value }, 'query', 'a property of a form');
    const { contentType } = value;
    out.set(name, {
      types: typeof contentType === 'string' ? contentType.split(',').map((type) => type.trim()) : undefined,
      style,
      explode: isExploded(value, style),
      place: placeOf(item),
    });
  }
  return out;
}
