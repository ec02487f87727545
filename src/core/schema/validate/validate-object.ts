/** Does an object fit what a schema says of objects (JSON Schema 2020-12 Validation 6.5; Core 10.3.2, 11.3)? */

import type { Mapping } from '../../base/json.ts';
import { suggest } from '../../base/nearest-word.ts';
import { appendPointer } from '../../base/place.ts';
import type { Keywords } from '../model/schema.ts';
import type { Side } from '../model/side.ts';
import { isExcludedFrom } from '../model/side-view.ts';
import { matchesPattern } from '../vocabulary/patterns.ts';
import { addError, type EvaluatedLocations, type EvaluationContext, nearest, type Steps } from './validation.ts';

/** The properties of an object, those that are missing, and how many there are. */
export function evaluateObject(
  steps: Steps,
  judge: EvaluationContext,
  k: Keywords,
  value: Mapping,
  at: string,
  seen: EvaluatedLocations | undefined,
): void {
  const names = Object.keys(value);
  if (k.minProperties !== undefined && names.length < k.minProperties)
    addError(judge, at, 'minProperties', `expected ${k.minProperties} properties or more, found ${names.length}`);
  if (k.maxProperties !== undefined && names.length > k.maxProperties)
    addError(judge, at, 'maxProperties', `expected ${k.maxProperties} properties or fewer, found ${names.length}`);
  evaluateRequired(judge, k, value, at);
  for (const name of names) evaluateProperty(steps, judge, k, value, name, at, seen);
  for (const [name, wanted] of k.dependentRequired) {
    if (!Object.hasOwn(value, name)) continue;
    for (const other of wanted)
      if (!Object.hasOwn(value, other))
        addError(judge, at, 'dependentRequired', `the property "${other}" is missing, which "${name}" needs`);
  }
  if (k.unevaluatedProperties !== undefined) {
    for (const name of names) {
      if (seen?.names.has(name) !== true) steps.evaluate(judge, k.unevaluatedProperties, value[name], appendPointer(at, name));
      seen?.names.add(name);
    }
  }
}

function evaluateRequired(judge: EvaluationContext, k: Keywords, value: Mapping, at: string): void {
  const names = Object.keys(value);
  for (const name of k.required) {
    if (!Object.hasOwn(value, name) && isSent(k, name, judge.side)) {
      const near = judge.failFast
        ? undefined
        : suggest(
            name,
            names.filter((n) => !k.properties.has(n)),
          );
      addError(
        judge,
        at,
        'required',
        `the property "${name}" is missing${near === undefined ? '' : `; "${near}" may be meant for it`}`,
        name,
      );
    }
  }
}

function evaluateProperty(
  { evaluate, isMatch }: Steps,
  judge: EvaluationContext,
  k: Keywords,
  value: Mapping,
  name: string,
  at: string,
  seen: EvaluatedLocations | undefined,
): void {
  // Where one misfit is enough nobody asks for its place.
  const pointer = judge.failFast ? at : appendPointer(at, name);
  if (k.propertyNames !== undefined && !isMatch(judge, k.propertyNames, name))
    addError(judge, pointer, 'propertyNames', `the name "${name}" is not one of those that are allowed`);
  const written = k.properties.get(name);
  const unsent = judge.semantics !== 'standard' && written !== undefined && isExcludedFrom(written, judge.side);
  if (unsent && judge.semantics === 'producer')
    addError(judge, pointer, 'readOnly', `the property "${name}" is not sent in this direction`);
  // To a taker it is as if it were not declared.
  const own = unsent ? undefined : written;
  let matched = own !== undefined;
  if (own !== undefined) {
    seen?.names.add(name);
    evaluate(judge, own, value[name], pointer);
  }
  for (const [pattern, schema] of k.patternProperties) {
    if (matchesPattern(pattern, name) !== true) continue;
    matched = true;
    seen?.names.add(name);
    evaluate(judge, schema, value[name], pointer);
  }
  if (!matched) evaluateAdditional(evaluate, judge, k, value, name, pointer, seen);
}

function evaluateAdditional(
  evaluate: Steps['evaluate'],
  judge: EvaluationContext,
  k: Keywords,
  value: Mapping,
  name: string,
  pointer: string,
  seen: EvaluatedLocations | undefined,
): void {
  if (k.additional === undefined) return;
  if (judge.semantics !== 'standard' && isExcludedFrom(k.additional, judge.side)) {
    if (judge.semantics === 'producer')
      addError(judge, pointer, 'readOnly', `the property "${name}" is not sent in this direction`);
    return;
  }
  seen?.names.add(name);
  if (k.additional.keywords() === false) {
    const hint = nearest(judge, name, k.properties.keys(), value);
    addError(judge, pointer, 'additionalProperties', `the property "${name}" is not declared, and no others are allowed${hint}`);
  } else evaluate(judge, k.additional, value[name], pointer);
}

/** A property that this side never sends is not missing. */
function isSent(k: Keywords, name: string, side: Side): boolean {
  const property = k.properties.get(name);
  return property === undefined || !isExcludedFrom(property, side);
}
