/** Which paths a router looks for at all: what it takes off a path first is in none of them. */
import { ANY_CHARACTER, BOUNDARY, unionSets } from '../../language/charset.ts';
import { choice, EMPTY, literal, oneOf, repeat, SLASH, sequence } from '../../language/expression.ts';
import { accepts, type Language, languageOf, subtract, wordLanguage } from '../../language/language.ts';
import type { Facts } from '../table/router-facts.ts';
import type { Axis } from './product.ts';

const anything = () => oneOf(unionSets(ANY_CHARACTER, [BOUNDARY, BOUNDARY]));

/**
 * One side of a reach without the texts that normalising a path leaves none of. Where the router takes one slash off the
 * end, `usual` leaves out paths that end in one too: they are left only of those that end in two.
 */
export function withoutUnnormalised(
  side: Language,
  axis: Axis,
  axes: readonly Axis[],
  facts: Facts,
  paths: 'usual' | 'all' = 'usual',
): Language {
  if (axis.kind !== 'segment' && axis.kind !== 'rest') return side;
  // Every path starts with a slash.
  if (axis.kind === 'rest' && axis.at === 0 && accepts(side, ''))
    return withoutUnnormalised(subtract(side, wordLanguage('')), axis, axes, facts, paths);
  if (facts.dotSegments === 'resolved')
    return withoutUnnormalised(withoutDotSegments(side, axis), axis, axes, { ...facts, dotSegments: 'kept' }, paths);
  const takesSlash = facts.trailingSlash === 'removed' || facts.trailingSlash === 'ignored';
  const losesSlash = takesSlash && (paths === 'usual' || facts.doubledSlash === 'one');
  if (!losesSlash && facts.doubledSlash !== 'one') return side;
  const last = !axes.some((a) => (a.kind === 'segment' || a.kind === 'rest') && (a as { at: number }).at > axis.at);
  let left = side;
  if (axis.kind === 'segment') {
    const empty = last ? losesSlash && axis.at > 0 : facts.doubledSlash === 'one';
    return empty ? subtract(left, wordLanguage('')) : left;
  }
  // The root path is a slash alone and stays.
  if (losesSlash) left = subtract(left, languageOf(sequence(repeat(anything(), axis.at === 0 ? 1 : 0), SLASH)));
  if (facts.doubledSlash === 'one')
    left = subtract(left, languageOf(sequence(repeat(anything()), SLASH, SLASH, repeat(anything()))));
  return left;
}

/** Without the segments that are resolved before a route is looked for (RFC 3986, 5.2.4). */
function withoutDotSegments(side: Language, { kind }: Axis): Language {
  const dots = choice(literal('.'), literal('..'));
  if (kind === 'segment') return subtract(side, languageOf(dots));
  const more = choice(EMPTY, sequence(SLASH, repeat(anything())));
  return subtract(side, languageOf(sequence(repeat(anything()), SLASH, dots, more)));
}
