/** Sentences about a value that breaks something. */
import { brief } from '../../base/excerpt.ts';
import { componentName } from '../../base/place.ts';
import type { Schema } from '../../schema/model/schema.ts';
import { findUnion } from '../../schema/normalise/union-view.ts';
import { validate } from '../../schema/validate/validate.ts';
import type { ValidationError } from '../../schema/validate/validation.ts';

/** So many characters of a value are told in a sentence, and so many names. */
const MOST_TOLD = 80;
const MOST_NAMES = 4;

/** Where nothing but the whole body is meant. */
export const WHOLE_BODY = 'the body';

/** What is sent and `taken` refuses, which stand at this place. */
export function breakingMessage(
  where: string,
  { sent, taken }: { readonly sent: Schema; readonly taken: Schema },
  value: unknown,
  side: 'request' | 'response',
): string {
  const request = side === 'request';
  // Of the whole it goes without saying.
  const prefix = where === WHOLE_BODY ? '' : `${where}: `;
  const forms = findUnion(taken)?.union.forms.length ?? 0;
  const wrong = validate(taken, value, side, 'consumer');
  const missing = wrong.flatMap((m) => (m.missing === undefined ? [] : [nameAt(m.pointer, m.missing)]));
  if (forms === 0 && missing.length > 0 && missing.length === wrong.length)
    return request
      ? `${prefix}${listed(missing)} ${missing.length === 1 ? 'is' : 'are'} now required; requests without ${missing.length === 1 ? 'it' : 'them'} are rejected`
      : `${prefix}${listed(missing)} may be missing now`;
  const shown = brief(value, MOST_TOLD);
  const why = forms > 1 ? ` (${nameOf(sent)}none of the ${forms} forms)` : reasonText(wrong[0], value);
  return request
    ? `${where}: ${shown} is no longer accepted${why}`
    : `${where}: ${shown} is now possible in the response; clients were not told${why}`;
}

/** The name of a component. */
function nameOf({ place }: Schema): string {
  const name = componentName(place);
  return name === undefined ? '' : `${name} is `;
}

/** A short value says itself what is wrong with it. */
function reasonText(wrong: ValidationError | undefined, value: unknown): string {
  if (wrong === undefined || (typeof value !== 'object' && JSON.stringify(value).length < MOST_TOLD / 2)) return '';
  // What was found is told already.
  const [expected = ''] = wrong.message.split(', found ');
  return ` (${wrong.pointer === '' ? '' : `${wrong.pointer}: `}${expected})`;
}

function nameAt(pointer: string, name: string): string {
  return pointer === '' ? name : `${pointer}/${name}`;
}

/** A few names, and how many more there are. */
export function listed(names: readonly string[]): string {
  if (names.length > MOST_NAMES) return `${names.slice(0, MOST_NAMES).join(', ')} and ${names.length - MOST_NAMES} more`;
  return names.length === 1 ? (names[0] as string) : `${names.slice(0, -1).join(', ')} and ${names.at(-1)}`;
}
