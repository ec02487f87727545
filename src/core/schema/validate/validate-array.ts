/** Does a list fit what a schema says of lists (JSON Schema 2020-12 Validation 6.4; Core 10.3.1, 11.2)? */

import { sameJson } from '../../base/json.ts';
import { appendPointer } from '../../base/place.ts';
import { wordsOf } from '../model/json-types.ts';
import type { Keywords, Schema } from '../model/schema.ts';
import { asNegation } from './one-of.ts';
import { addError, type EvaluatedLocations, type EvaluationContext, type Steps } from './validation.ts';

/** The items of an array, and how many there are. */
export function evaluateArray(
  { evaluate, isMatch }: Steps,
  judge: EvaluationContext,
  k: Keywords,
  value: readonly unknown[],
  at: string,
  seen: EvaluatedLocations | undefined,
): void {
  const found = `, found ${value.length}`;
  if (k.minItems !== undefined && value.length < k.minItems)
    addError(judge, at, 'minItems', `expected ${k.minItems} items or more${found}`);
  if (k.maxItems !== undefined && value.length > k.maxItems)
    addError(judge, at, 'maxItems', `expected ${k.maxItems} items or fewer${found}`);
  if (k.uniqueItems) {
    const twice = value.findIndex((v, i) => value.slice(0, i).some((w) => sameJson(v, w)));
    if (twice >= 0)
      addError(judge, appendPointer(at, twice), 'uniqueItems', `expected every item once, found ${wordsOf(value[twice])} again`);
  }
  value.forEach((item, i) => {
    const schema = k.prefixItems[i] ?? k.items;
    if (schema === undefined) return;
    seen?.items.add(i);
    evaluate(judge, schema, item, appendPointer(at, i));
  });
  if (k.contains !== undefined) evaluateContains(isMatch, judge, k, value, at, seen);
  if (k.unevaluatedItems !== undefined) {
    value.forEach((item, i) => {
      if (seen?.items.has(i) !== true) evaluate(judge, k.unevaluatedItems as Schema, item, appendPointer(at, i));
      seen?.items.add(i);
    });
  }
}

function evaluateContains(
  isMatch: Steps['isMatch'],
  judge: EvaluationContext,
  k: Keywords,
  value: readonly unknown[],
  at: string,
  seen: EvaluatedLocations | undefined,
): void {
  const matching = value.flatMap((item, i) => (isMatch(judge, k.contains as Schema, item) ? [i] : []));
  for (const i of matching) seen?.items.add(i);
  const least = k.minContains ?? 1;
  if (matching.length < least)
    addError(
      judge,
      at,
      'contains',
      `expected ${least} ${least === 1 ? 'item' : 'items'} or more of one kind, found ${matching.length}`,
    );
  const { maxContains: most } = k;
  const could = most === undefined ? [] : value.filter((item) => isMatch(asNegation(judge), k.contains as Schema, item));
  if (most !== undefined && could.length > most)
    addError(judge, at, 'maxContains', `expected ${most} items or fewer of one kind, found ${could.length}`);
}
