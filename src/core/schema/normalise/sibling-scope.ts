/** Parts of a schema as a receiver reads them where they stand: what is declared beside them counts for the forms in them. */

import { isPlainText } from '../equality/quick-nonempty.ts';
import { type Keywords, NO_KEYWORDS, type Schema } from '../model/schema.ts';
import { type Declared, declaredBeside, together } from './declared-names.ts';
import { formsAlone, isAlone, saysNoMore } from './union-view.ts';

const known = new WeakMap<Schema, Map<string, Schema>>();

/** What was made here, what it was made of, and what is told there already. */
const told = new WeakMap<Schema, { readonly of: Schema; readonly declared: Declared }>();

/** A schema beside which this is declared; itself where that makes no difference to a receiver. */
export function besideThese(schema: Schema, beside: Declared): Schema {
  const { names, patterns, open } = beside;
  if ((!open && names.size + patterns.length === 0) || isAlone(schema) || !hasForms(schema)) return schema;
  const before = told.get(schema);
  if (before !== undefined) {
    const { of, declared } = before;
    const isTold = [...names].every((n) => declared.names.has(n)) && patterns.every((p) => declared.patterns.includes(p));
    if (isTold && (declared.open || !open)) return schema;
    if (of !== schema) return besideThese(of, together([declared, beside]));
  }
  const row = known.get(schema) ?? new Map<string, Schema>();
  known.set(schema, row);
  const key = [open ? 'open' : '', ...[...names].sort(), '', ...[...patterns].sort()].join('\n');
  const found = row.get(key);
  if (found !== undefined) return found;
  // A form may be what it is a form of.
  row.set(key, schema);
  const made = inContext(schema, beside, key);
  row.set(key, made);
  return made;
}

function inContext(schema: Schema, beside: Declared, key: string): Schema {
  const all = wholeOf(schema).map((s) => s.keywords());
  if (all.includes(false)) return schema;
  const said = all.filter((k): k is Keywords => typeof k === 'object');
  const declared = together([beside, declaredBeside(said, 'receiver')]);
  const there = (s: Schema): Schema => besideThese(s, declared);
  const allOf = said.flatMap((k) => {
    const { then, else: other, anyOf, oneOf } = k;
    const rest: Keywords = {
      ...without(k),
      ...(anyOf === undefined ? {} : { anyOf: anyOf.map(there) }),
      // biome-ignore lint/suspicious/noThenProperty: the keyword of JSON Schema
      ...(then === undefined ? {} : { then: there(then) }),
      ...(other === undefined ? {} : { else: there(other) }),
    };
    return [
      ...(saysNoMore(rest, []) ? [] : [restOf(schema, rest, declared)]),
      ...(oneOf === undefined ? [] : [formsAlone(schema, 'oneOf', oneOf.map(there), declared)]),
    ];
  });
  const keywords: Keywords = { ...NO_KEYWORDS, allOf };
  const made: Schema = { place: schema.place, raw: { beside: key, whole: schema.raw }, keywords: () => keywords };
  told.set(made, { of: schema, declared });
  return made;
}

function restOf({ place }: Schema, rest: Keywords, declared: Declared): Schema {
  const made: Schema = { place, raw: undefined, keywords: () => rest };
  told.set(made, { of: made, declared });
  return made;
}

function without({ ref: _, ...k }: Keywords): Keywords {
  const { oneOf: _forms, ...rest } = k;
  return { ...rest, allOf: [] };
}

/** The schema and all that it refers to or has as a part. */
function wholeOf(schema: Schema): readonly Schema[] {
  const seen = new Set([schema]);
  for (const s of seen) {
    const k = s.keywords();
    if (typeof k !== 'boolean') for (const part of [k.ref, ...k.allOf]) if (part !== undefined) seen.add(part);
  }
  return [...seen];
}

const forms = new WeakMap<Schema, boolean>();

/** Is there a `oneOf` that speaks of the value itself? */
function hasForms(schema: Schema): boolean {
  if (isPlainText(schema)) return false;
  const done = forms.get(schema);
  if (done !== undefined) return done;
  const seen = new Set([schema]);
  let found = false;
  for (const s of seen) {
    const k = s.keywords();
    if (typeof k === 'boolean') continue;
    found ||= k.oneOf !== undefined;
    for (const part of [k.ref, ...k.allOf, ...(k.anyOf ?? []), k.then, k.else]) if (part !== undefined) seen.add(part);
  }
  forms.set(schema, found);
  return found;
}
