/** Findings in words: messages and advice filled in, places with line and column. The one place where prose is made. */

import type { Place } from '../core/base/place.ts';
import { type Finding, fill, LEVELS, type Spot } from '../core/checks/engine/finding.ts';
import type { Rule } from '../core/checks/engine/rule.ts';
import { ruleOf } from '../core/checks/index.ts';
import type { Located } from './place-text.ts';

export interface Rendered {
  readonly finding: Finding;
  readonly rule: string;
  readonly level: Finding['level'];
  readonly message: string;
  readonly advice: string;
  readonly at: Located;
  readonly related: readonly (Located & { readonly role: string })[];
}

export type Locate = (place: Place) => { readonly line: number; readonly column: number } | undefined;

/** The places that a list of findings needs, so that they can be looked up at once. */
export function placesOf(findings: readonly Finding[]): readonly Place[] {
  return findings.flatMap((f) => [f.at.place, ...(f.related ?? []).map((r) => r.place)]);
}

/** Fills in the words. Findings of one level keep their order within a file; files and rules stay together. */
export function render(findings: readonly Finding[], locate: Locate): readonly Rendered[] {
  return findings.map((finding): Rendered => {
    const rule = ruleOf(finding.rule) as Rule;
    const related = (finding.related ?? []).map((r) => ({ role: r.role, ...located(r, locate) }));
    return {
      finding,
      rule: finding.rule,
      level: finding.level,
      message: fill(rule.messages[finding.message] ?? finding.message, finding.data),
      advice: fill(rule.advice[finding.advice] ?? '', finding.data),
      at: located(finding.at, locate),
      related,
    };
  });
}

function located({ place, what }: Spot, locate: Locate): Located {
  const position = locate(place);
  return { file: place.file, line: position?.line, column: position?.column, pointer: place.pointer, what };
}

/** How many findings there are of each level. */
export function counts(findings: readonly { readonly level: Finding['level'] }[]): Record<Finding['level'], number> {
  const out = { error: 0, warning: 0, note: 0 };
  for (const { level } of findings) out[level] += 1;
  return out;
}

export { LEVELS };
