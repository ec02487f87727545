/** How the properties of a form are written: `encoding` of 3.x, `collectionFormat` of 2.0. */
import { isMapping } from '../json.ts';
import type { Encoding, ParameterStyle } from './model.ts';
import { type At, child, flaw, membersAt, placeOf, type Reader } from './reader.ts';

const STYLES: readonly ParameterStyle[] = ['form', 'spaceDelimited', 'pipeDelimited', 'deepObject'];

/** Undefined where nothing is said. */
export function encodingAt(reader: Reader, at: At): ReadonlyMap<string, Encoding> | undefined {
  if (at.value === undefined) return undefined;
  const out = new Map<string, Encoding>();
  for (const [name, item] of membersAt(reader, at, 'a mapping of encodings')) {
    if (!isMapping(item.value)) {
      flaw(reader, item, 'expected a mapping that says how a property is written, found something else');
      continue;
    }
    const { contentType, style: said, explode } = item.value;
    const style = STYLES.find((s) => s === said) ?? 'form';
    if (said !== undefined && said !== style)
      flaw(
        reader,
        child(item, 'style'),
        `expected one of the styles of a form (${STYLES.join(', ')}), found ${JSON.stringify(said)}`,
      );
    out.set(name, {
      types: typeof contentType === 'string' ? contentType.split(',').map((type) => type.trim()) : undefined,
      style,
      explode: typeof explode === 'boolean' ? explode : style === 'form',
      place: placeOf(item),
    });
  }
  return out;
}
