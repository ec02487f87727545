/** What can be seen at once of keywords that hold no schemas. */
import { sameJson } from '../../base/json.ts';
import type { Keywords } from '../model/schema.ts';
import { jsonTypeOf } from '../search/branches.ts';

function typesIn(k: Keywords, types: NonNullable<Keywords['types']>): boolean {
  const has = (t: (typeof types)[number]): boolean => types.includes(t) || (t === 'integer' && types.includes('number'));
  if (k.types?.every(has) === true) return true;
  return k.enum?.every((v) => has(jsonTypeOf(v)) || (Number.isInteger(v) && has('integer'))) === true;
}

/** Types, enumerations, bounds, lengths, patterns and counts: each that the taker names is named by the sender, as strict or stricter. */
export function scalarsImplied(sent: readonly Keywords[], b: Keywords): boolean {
  const some = (test: (k: Keywords) => boolean): boolean => sent.some(test);
  if (b.types !== undefined && !some((k) => typesIn(k, b.types as never))) return false;
  if (b.enum !== undefined && !some((k) => k.enum !== undefined && among(k.enum, b.enum as never))) return false;
  const least = (key: 'minLength' | 'minItems' | 'minProperties'): boolean =>
    b[key] === undefined || b[key] === 0 || some((k) => (k[key] ?? -1) >= (b[key] as number));
  const most = (key: 'maxLength' | 'maxItems' | 'maxProperties'): boolean =>
    b[key] === undefined || some((k) => (k[key] ?? Infinity) <= (b[key] as number));
  const { minimum, exclusiveMinimum, maximum, exclusiveMaximum } = b;
  return (
    (minimum === undefined || some((k) => Math.max(k.minimum ?? -Infinity, k.exclusiveMinimum ?? -Infinity) >= minimum)) &&
    (exclusiveMinimum === undefined ||
      some((k) => (k.exclusiveMinimum ?? -Infinity) >= exclusiveMinimum || (k.minimum ?? -Infinity) > exclusiveMinimum)) &&
    (maximum === undefined || some((k) => Math.min(k.maximum ?? Infinity, k.exclusiveMaximum ?? Infinity) <= maximum)) &&
    (exclusiveMaximum === undefined ||
      some((k) => (k.exclusiveMaximum ?? Infinity) <= exclusiveMaximum || (k.maximum ?? Infinity) < exclusiveMaximum)) &&
    (b.multipleOf === undefined || some((k) => k.multipleOf === b.multipleOf)) &&
    (b.pattern === undefined || some((k) => k.pattern === b.pattern)) &&
    (b.format === undefined || some((k) => k.format === b.format && typesAlike(k, b))) &&
    least('minLength') &&
    most('maxLength') &&
    least('minItems') &&
    most('maxItems') &&
    least('minProperties') &&
    most('maxProperties') &&
    (!b.uniqueItems || some((k) => k.uniqueItems))
  );
}

/** A format means what its types make of it. */
function typesAlike(k: Keywords, b: Keywords): boolean {
  return k.types === undefined || b.types === undefined || typesIn(k, b.types);
}

function among(list: readonly unknown[], all: readonly unknown[]): boolean {
  const scalars = new Set(all.filter((v) => typeof v !== 'object' || v === null));
  return list.every((v) => (typeof v === 'object' && v !== null ? all.some((w) => sameJson(v, w)) : scalars.has(v)));
}
