/** Paths that look like another style than that of their table. */

import type { Place } from '../../base/place.ts';
import type { Style } from '../../paths/pattern.ts';
import type { Flaw, Route } from './route.ts';

export interface OtherStyle {
  readonly style: Style;
  readonly route: string;
  readonly pattern: string;
  readonly place: Place;
}

/** Where the style was not said and most paths look like another one, that is one mistake; else each path is. */
export function styleFlaws(
  routes: readonly Route[],
  otherStyles: readonly OtherStyle[],
  style: Style,
  isSaid: boolean,
): readonly Flaw[] {
  const [first] = otherStyles;
  if (first === undefined) return [];
  const error = (message: string) => ({ message, start: 0, end: 0 });
  const alike = otherStyles.filter((o) => o.style === first.style);
  const withParameters = routes.filter((r) =>
    r.pattern.shapes[0]?.some((piece) => piece.kind === 'span' || piece.text === undefined),
  );
  if (!isSaid && alike.length === otherStyles.length && withParameters.length === 0) {
    const example = alike.length > 1 ? `${alike.length} paths such as ${first.pattern} look` : `${first.pattern} looks`;
    const message = `${example} like style ${first.style}, and the table does not say a style, which means ${style}; write style: ${first.style}`;
    return [{ kind: 'style', route: first.route, pattern: '', error: error(message), place: first.place }];
  }
  return otherStyles.map(({ style: other, route, pattern, place: at }) => ({
    kind: 'style' as const,
    route,
    pattern: '',
    error: error(`${pattern} looks like style ${other}, and the style here is ${style}`),
    place: at,
  }));
}
