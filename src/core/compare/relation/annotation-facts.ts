/** Differences between two schemas that change no set of values: defaults, names of a discriminator, what is declared. */
import { isMapping, sameJson } from '../../base/json.ts';
import { componentName } from '../../base/place.ts';
import { compareText } from '../../schema/equality/equal-pairs.ts';
import { dereference, type Keywords, type Schema, type TextPair } from '../../schema/model/schema.ts';
import { toDisjuncts } from '../../schema/normalise/flatten.ts';

/** Of one pair of schemas; `name` is the property that has another default, or that tells the forms apart. */
export interface AnnotationDifference {
  readonly kind: 'default' | 'default added' | 'form name' | 'nullable' | 'undeclared' | 'declared';
  readonly name: string;
  readonly cause: TextPair;
  readonly was: unknown;
  /** `undefined` where there is no default any more. */
  readonly is: unknown;
}

/** A default that counts, because who sends it may leave the property out. Of several forms nobody knows which became which. */
export function defaultChanged(
  name: string,
  old: readonly Keywords[],
  now: readonly Keywords[],
): readonly AnnotationDifference[] {
  const [x, y] = [soleObjectDisjunct(name, old), soleObjectDisjunct(name, now)];
  if (x === undefined || y === undefined || y.isRequired) return [];
  const cause = compareText(dereference(x.schema), dereference(y.schema));
  // The same text, or one that only leads to what differs.
  if (!cause.differs || cause.differingChildren !== undefined) return [];
  const was = toDisjuncts(x.schema, 1)[0]?.default;
  const is = toDisjuncts(y.schema, 1)[0]?.default;
  if (was === undefined) return is === undefined ? [] : [{ kind: 'default added', name, cause, was: undefined, is: is.value }];
  return is !== undefined && sameDefault(was.value, is.value)
    ? []
    : [{ kind: 'default', name, cause, was: was.value, is: is?.value }];
}

/** The same value, or its text: `"false"` is read as `false` where a boolean is meant. */
export function sameDefault(a: unknown, b: unknown): boolean {
  const isPlain = (v: unknown): boolean => typeof v === 'boolean' || typeof v === 'number' || typeof v === 'string';
  return sameJson(a, b) || (isPlain(a) && isPlain(b) && String(a) === String(b));
}

/** What the only object among several ways says of a property. */
function soleObjectDisjunct(
  name: string,
  ways: readonly Keywords[],
): { readonly schema: Schema; readonly isRequired: boolean } | undefined {
  const [k, ...more] = ways.filter((w) => w.properties.size > 0);
  const schema = k?.properties.get(name);
  return k === undefined || schema === undefined || more.length > 0
    ? undefined
    : { schema, isRequired: k.required.includes(name) };
}

/** Names that a discriminator knows now, for the same forms. */
export function formNamesAdded(a: Schema, b: Schema): readonly AnnotationDifference[] {
  // Most have none, which their text tells.
  if (isMapping(b.raw) && !('discriminator' in b.raw)) return [];
  const [x, y] = [a.keywords(), b.keywords()];
  if (typeof x === 'boolean' || typeof y === 'boolean' || x.discriminator?.property !== y.discriminator?.property) return [];
  const forms = (k: Keywords): readonly Schema[] => k.oneOf ?? k.anyOf ?? [];
  // A form more is no quiet change.
  if (forms(x).length !== forms(y).length) return [];
  const known = new Set([...(x.discriminator?.names ?? []), ...forms(x).map((s) => componentName(dereference(s).place))]);
  const added = (y.discriminator?.names ?? []).filter((name) => !known.has(name));
  if (added.length === 0) return [];
  return [{ kind: 'form name', name: y.discriminator?.property ?? '', cause: compareText(a, b), was: undefined, is: added }];
}

/** `nullable` beside `allOf` or `$ref` has no effect (3.0.3), and many documents mean it. */
export function nullableBeside(a: Schema, b: Schema): readonly AnnotationDifference[] {
  const says = ({ raw }: Schema): boolean =>
    isMapping(raw) && raw.nullable === true && raw.type === undefined && (raw.allOf !== undefined || raw.$ref !== undefined);
  if (!isMapping(a.raw) || !isMapping(b.raw) || says(a) === says(b)) return [];
  return [{ kind: 'nullable', name: '', cause: compareText(a, b), was: says(a), is: says(b) }];
}

/** Properties of one object, told together. */
export function named(
  kind: 'declared' | 'undeclared',
  names: readonly string[],
  a: Schema,
  b: Schema,
): readonly AnnotationDifference[] {
  const [name] = names;
  return name === undefined ? [] : [{ kind, name, cause: compareText(a, b), was: undefined, is: names }];
}
