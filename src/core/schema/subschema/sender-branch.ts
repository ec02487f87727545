/** What a sender means by one form of a union, as a schema of its own. */

import { joinSchemas } from '../model/derived-union.ts';
import { EMPTY_KEYWORDS, hasNoInPlaceApplicators, type Keywords, type Schema } from '../model/schema.ts';
import type { Side } from '../model/side.ts';
import { collectDeclaredNames, type DeclaredNames } from '../normalise/declared-names.ts';
import { branchesToExclude, otherBranchNames } from '../normalise/sibling-branches.ts';
import { asConjunction, asUnion, hasOnlyKeywords } from '../normalise/union-view.ts';

/** By the form, then by what it stands in, the side, and the names beside it. */
const branchCache = new WeakMap<Schema, { readonly within: object; readonly key: string; readonly form: Schema }[]>();

/**
 * A form of an `anyOf` together with what its schema says besides and with what its other forms declare; the form itself
 * where that is no more than types. Found once. Undefined where a form says nothing by itself.
 */
export function producerBranchOfAnyOf(
  schema: Schema,
  forms: readonly Schema[],
  side: Side,
): ((form: Schema) => Schema) | undefined {
  const alone = asUnion(schema);
  const own = alone?.declaring === undefined ? [] : [alone.declaring];
  const parts = alone === undefined ? asConjunction(schema) : own;
  if (parts === undefined) return undefined;
  const beside = parts.filter((p) => asUnion(p)?.forms !== forms && !saysTypes(p));
  const declared = collectDeclaredNames(beside);
  return (form) => {
    const all = [...beside, form, ...otherBranchNames(form, forms, side, declared)];
    return all.length === 1 ? form : cachedBranch(form, schema, side, { ...EMPTY_KEYWORDS, allOf: all });
  };
}

/** A form of a `oneOf` without what could be another, each closed; itself where plainly nothing could. Found once. */
export function producerBranchOfOneOf(
  forms: readonly Schema[],
  beside: DeclaredNames,
  side: Side,
): (form: Schema, became: boolean) => Schema {
  const { names, patterns, allowsOthers } = beside;
  const key = JSON.stringify([side, allowsOthers, [...names].sort(), [...patterns].sort()]);
  return (form, became) => {
    if (became) return form;
    const [other, ...more] = branchesToExclude(form, forms, 'producer', beside, side);
    if (other === undefined) return form;
    return cachedBranch(form, forms, key, { ...EMPTY_KEYWORDS, allOf: [form], not: joinSchemas(other, more) });
  };
}

function cachedBranch(form: Schema, within: object, key: string, keywords: Keywords): Schema {
  const row = branchCache.get(form) ?? [];
  const known = row.find((m) => m.within === within && m.key === key);
  if (known !== undefined) return known.form;
  // Nobody wrote it, so that it has no text to be held against another's.
  const own: Schema = { place: form.place, raw: undefined, keywords: () => keywords };
  branchCache.set(form, [...row, { within, key, form: own }]);
  return own;
}

function saysTypes(schema: Schema): boolean {
  const k = schema.keywords();
  return typeof k !== 'boolean' && hasOnlyKeywords(k, ['types']);
}

/** The forms of every `oneOf` that speaks of the same value. */
export function nestedOneOfBranches(sent: readonly Keywords[]): readonly Schema[] {
  const out: Schema[] = [];
  const inner = (k: Keywords): readonly (Schema | undefined)[] =>
    hasNoInPlaceApplicators(k)
      ? []
      : [k.ref, ...k.allOf, ...(k.anyOf ?? []), ...(k.oneOf ?? []), k.if, k.then, k.else, ...k.dependentSchemas.values()];
  const seen = new Set<Schema | undefined>(sent.flatMap(inner));
  for (const k of sent) out.push(...(k.oneOf ?? []));
  for (const s of seen) {
    const k = s?.keywords();
    if (typeof k !== 'object') continue;
    out.push(...(k.oneOf ?? []));
    for (const part of inner(k)) seen.add(part);
  }
  return [...new Set(out)];
}
