/** A route's path with values put in. */
import { usualText } from '../../language/example.ts';
import type { Part, Shape } from '../../paths/pattern.ts';
import { languageOfType } from '../../paths/types.ts';
import { pathOf } from '../request/target.ts';
import type { Route } from '../table/route.ts';

/** The path of a route with these values, and usual ones for parameters that are not named. */
export function filledPath(route: Route, values: ReadonlyMap<string, string>): string {
  return filledShape(route.pattern.shapes[0] ?? [], values);
}

/** The same of a shape. */
export function filledShape(shape: Shape, values: ReadonlyMap<string, string> = new Map()): string {
  const text = (part: Part): string => {
    if (part.kind === 'literal') return part.text;
    const given = part.name === undefined ? undefined : values.get(part.name);
    return given ?? (part.kind === 'parameter' ? (part.type.hints[0] ?? usualText(languageOfType(part.type))) : 'rest');
  };
  return pathOf(shape.flatMap((piece) => piece.parts.map(text).join('')));
}
