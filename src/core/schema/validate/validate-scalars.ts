/** What numbers and texts have to be. */
import { accepts } from '../../language/language.ts';
import type { Keywords } from '../model/schema.ts';
import { isMultiple } from '../vocabulary/decimals.ts';
import { formatLanguage, NUMBER_FORMATS } from '../vocabulary/formats.ts';
import { matchesPattern } from '../vocabulary/patterns.ts';

/** The keyword, and a sentence. */
export type ScalarMisfit = readonly [keyword: string, message: string];

/** What keeps a number or a text from these keywords; nothing for other values. */
export function validateScalar(k: Keywords, value: unknown): readonly ScalarMisfit[] {
  if (typeof value === 'number') return numberMisfits(k, value);
  return typeof value === 'string' ? textMisfits(k, value) : [];
}

function numberMisfits(k: Keywords, value: number): ScalarMisfit[] {
  const out: ScalarMisfit[] = [];
  const found = `, found ${value}`;
  if (k.minimum !== undefined && value < k.minimum) out.push(['minimum', `expected ${k.minimum} or more${found}`]);
  if (k.maximum !== undefined && value > k.maximum) out.push(['maximum', `expected ${k.maximum} or less${found}`]);
  if (k.exclusiveMinimum !== undefined && value <= k.exclusiveMinimum)
    out.push(['exclusiveMinimum', `expected more than ${k.exclusiveMinimum}${found}`]);
  if (k.exclusiveMaximum !== undefined && value >= k.exclusiveMaximum)
    out.push(['exclusiveMaximum', `expected less than ${k.exclusiveMaximum}${found}`]);
  if (k.multipleOf !== undefined && !isMultiple(value, k.multipleOf))
    out.push(['multipleOf', `expected a multiple of ${k.multipleOf}${found}`]);
  const range = k.format === undefined ? undefined : NUMBER_FORMATS[k.format];
  if (range !== undefined && (!Number.isInteger(value) || value < range[0] || value > range[1]))
    out.push(['format', `expected an ${k.format}${found}`]);
  return out;
}

function textMisfits(k: Keywords, value: string): ScalarMisfit[] {
  const out: ScalarMisfit[] = [];
  const length = k.minLength === undefined && k.maxLength === undefined ? 0 : [...value].length;
  const found = `, found ${JSON.stringify(value).slice(0, 60)}`;
  if (k.minLength !== undefined && length < k.minLength)
    out.push(['minLength', `expected ${k.minLength} characters or more${found}`]);
  if (k.maxLength !== undefined && length > k.maxLength)
    out.push(['maxLength', `expected ${k.maxLength} characters or fewer${found}`]);
  if (k.pattern !== undefined && matchesPattern(k.pattern, value) === false)
    out.push(['pattern', `expected text that matches ${k.pattern}${found}`]);
  const language = k.format === undefined ? undefined : formatLanguage(k.format);
  if (language !== undefined && !accepts(language, value)) out.push(['format', `expected ${k.format}${found}`]);
  return out;
}
