/** How values are written as text: `style` and `explode`. */
import type { Mapping } from '../../base/json.ts';
import { type At, addFlaw, child, type Reader } from '../document/document.ts';
import type { Parameter, ParameterStyle } from '../model/contract.ts';

export const DEFAULT_STYLE: Readonly<Record<Parameter['in'], ParameterStyle>> = {
  path: 'simple',
  header: 'simple',
  query: 'form',
  cookie: 'form',
  querystring: 'form',
};

const STYLES: Readonly<Record<Parameter['in'], readonly ParameterStyle[]>> = {
  path: ['simple', 'label', 'matrix'],
  header: ['simple'],
  query: ['form', 'spaceDelimited', 'pipeDelimited', 'deepObject'],
  cookie: ['form', 'cookie'],
  querystring: ['form'],
};

/** A property of a form is written as a `query` parameter is (3.1, 4.8.15); `what` it is called where the style is none. */
export function styleOf(reader: Reader, at: At<Mapping>, where: Parameter['in'], what: string): ParameterStyle {
  const { style } = at.value;
  if (style === undefined) return DEFAULT_STYLE[where];
  if ((STYLES[where] as readonly unknown[]).includes(style)) return style as ParameterStyle;
  addFlaw(
    reader,
    child(at, 'style'),
    `expected one of the styles of ${what} (${STYLES[where].join(', ')}), found ${JSON.stringify(style)}`,
  );
  return DEFAULT_STYLE[where];
}

export function isExploded({ explode }: Mapping, style: ParameterStyle): boolean {
  return typeof explode === 'boolean' ? explode : style === 'form' || style === 'cookie';
}
