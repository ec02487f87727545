/**
 * What one walk over all of a parsed document tells. Large documents are walked as seldom as may be: it takes as long as a fifth
 * of parsing them.
 */
import type { Mapping } from '../../base/json.ts';

export interface Survey {
  /** Deeper than allowed; the walk stopped, so `sideless` is only valid if this is false. */
  readonly deeper: boolean;
  /** Nothing in it is said of requests or of responses alone, and it refers to no other file, which might say so. */
  readonly sideless: boolean;
}

/** Looks at a document that may nest so many levels deep. O(size); only collections are visited. */
export function surveyDocument(value: unknown, levels: number): Survey {
  const seen = { sideless: true };
  const deeper = typeof value === 'object' && value !== null && nestsDeeper(value, levels, seen);
  return { deeper, sideless: seen.sideless };
}

function nestsDeeper(value: object, levels: number, seen: { sideless: boolean }): boolean {
  if (levels === 0) return true;
  if (Array.isArray(value)) {
    for (const item of value) if (typeof item === 'object' && item !== null && nestsDeeper(item, levels - 1, seen)) return true;
    return false;
  }
  for (const key in value) {
    const item = (value as Mapping)[key];
    if (key === 'readOnly' || key === 'writeOnly') seen.sideless = false;
    if (typeof item === 'object') {
      if (item !== null && nestsDeeper(item, levels - 1, seen)) return true;
    } else if (key === '$ref' && !String(item).startsWith('#')) seen.sideless = false;
  }
  return false;
}
