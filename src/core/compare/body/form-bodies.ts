/** Bodies that are forms: most of what they hold is text. */
import { isEmpty, subtract } from '../../language/language.ts';
import { decide } from '../../language/limits.ts';
import { languageOfSchema } from '../../schema/wire/text-language.ts';
import type { Affected } from '../changes/change.ts';
import type { RootCause } from '../relation/pair-flaw.ts';

/** In these each property is text, but for what is an object (3.1, 4.8.14.4). */
export function isForm({ part, media }: Affected): boolean {
  return part === 'request' && /^(?:application\/x-www-form-urlencoded|multipart\/form-data)\b/iu.test(media ?? '');
}

/** A property of a form, or an item of one, of which all texts are taken still: `7` is both a number and a text. */
export function isTextCompatible({ sent, taken, pointer, verdict }: RootCause): boolean {
  if (verdict.kind !== 'counterexample' || typeof verdict.witness === 'object' || !/^\/[^/]+(?:\/\d+)?$/u.test(pointer()))
    return false;
  const held = decide(() => {
    const [x, y] = [languageOfSchema(sent, undefined, 'producer'), languageOfSchema(taken, undefined)];
    return x.decided && y.decided && isEmpty(subtract(x.value, y.value));
  });
  return held.decided && held.value;
}
