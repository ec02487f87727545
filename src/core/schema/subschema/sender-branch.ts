/** What a sender means by one form of a union, as a schema of its own. */

import { eitherOf } from '../model/derived-union.ts';
import { type Keywords, NO_KEYWORDS, type Schema, standsAlone } from '../model/schema.ts';
import type { Side } from '../model/side.ts';
import { type Declared, declaredNames } from '../normalise/declared-names.ts';
import { excluded, sentBeside } from '../normalise/sibling-branches.ts';
import { partsOf, saysNoMore, unionOf } from '../normalise/union-view.ts';

/** By the form, then by what it stands in, the side, and the names beside it. */
const made = new WeakMap<Schema, { readonly within: object; readonly key: string; readonly form: Schema }[]>();

/**
 * A form of an `anyOf` together with what its schema says besides and with what its other forms declare; the form itself
 * where that is no more than types. Found once. Undefined where a form says nothing by itself.
 */
export function anyForm(schema: Schema, forms: readonly Schema[], side: Side): ((form: Schema) => Schema) | undefined {
  const alone = unionOf(schema);
  const own = alone?.declaring === undefined ? [] : [alone.declaring];
  const parts = alone === undefined ? partsOf(schema) : own;
  if (parts === undefined) return undefined;
  const beside = parts.filter((p) => unionOf(p)?.forms !== forms && !saysTypes(p));
  const declared = declaredNames(beside);
  return (form) => {
    const all = [...beside, form, ...sentBeside(form, forms, side, declared)];
    return all.length === 1 ? form : kept(form, schema, side, { ...NO_KEYWORDS, allOf: all });
  };
}

/** A form of a `oneOf` without what could be another, each closed; itself where plainly nothing could. Found once. */
export function oneForm(forms: readonly Schema[], beside: Declared, side: Side): (form: Schema, became: boolean) => Schema {
  const { names, patterns, open } = beside;
  const key = JSON.stringify([side, open, [...names].sort(), [...patterns].sort()]);
  return (form, became) => {
    if (became) return form;
    const [other, ...more] = excluded(form, forms, 'sent', beside, side);
    if (other === undefined) return form;
    return kept(form, forms, key, { ...NO_KEYWORDS, allOf: [form], not: eitherOf(other, more) });
  };
}

function kept(form: Schema, within: object, key: string, keywords: Keywords): Schema {
  const row = made.get(form) ?? [];
  const known = row.find((m) => m.within === within && m.key === key);
  if (known !== undefined) return known.form;
  // Nobody wrote it, so that it has no text to be held against another's.
  const own: Schema = { place: form.place, raw: undefined, keywords: () => keywords };
  made.set(form, [...row, { within, key, form: own }]);
  return own;
}

function saysTypes(schema: Schema): boolean {
  const k = schema.keywords();
  return typeof k !== 'boolean' && saysNoMore(k, ['types']);
}

/** The forms of every `oneOf` that speaks of the same value. */
export function formsWithin(sent: readonly Keywords[]): readonly Schema[] {
  const out: Schema[] = [];
  const inner = (k: Keywords): readonly (Schema | undefined)[] =>
    standsAlone(k)
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
