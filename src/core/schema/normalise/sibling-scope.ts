/** Rewrites a schema so that its branches also see the names that sibling keywords declare (consumer reading). */

import { KeyedMemo } from '../../base/memo.ts';
import { isPlainText } from '../equality/quick-nonempty.ts';
import { EMPTY_KEYWORDS, type Keywords, type Schema } from '../model/schema.ts';
import { type DeclaredNames, joinDeclared, siblingNames } from './declared-names.ts';
import { hasOnlyKeywords, isScopedUnion, scopedUnion } from './union-view.ts';

const scopedSchemaCache = new KeyedMemo<Schema, string, Schema>();

/** What was made here, what it was made of, and what is told there already. */
const origins = new WeakMap<Schema, { readonly of: Schema; readonly declared: DeclaredNames }>();

/** A schema beside which this is declared; itself where that makes no difference to a receiver. */
export function closeOverSiblings(schema: Schema, beside: DeclaredNames): Schema {
  const { names, patterns, allowsOthers } = beside;
  if ((!allowsOthers && names.size + patterns.length === 0) || isScopedUnion(schema) || !containsOneOf(schema)) return schema;
  const before = origins.get(schema);
  if (before !== undefined) {
    const { of, declared } = before;
    const isTold = [...names].every((n) => declared.names.has(n)) && patterns.every((p) => declared.patterns.includes(p));
    if (isTold && (declared.allowsOthers || !allowsOthers)) return schema;
    if (of !== schema) return closeOverSiblings(of, joinDeclared([declared, beside]));
  }
  const key = [allowsOthers ? 'open' : '', ...[...names].sort(), '', ...[...patterns].sort()].join('\n');
  const found = scopedSchemaCache.get(schema, key);
  if (found !== undefined) return found;
  // Recursive schema: a branch may be the schema itself, so store it before recursing.
  scopedSchemaCache.set(schema, key, schema);
  const made = rewriteInScope(schema, beside, key);
  scopedSchemaCache.set(schema, key, made);
  return made;
}

function rewriteInScope(schema: Schema, beside: DeclaredNames, key: string): Schema {
  const all = conjunctClosure(schema).map((s) => s.keywords());
  if (all.includes(false)) return schema;
  const said = all.filter((k): k is Keywords => typeof k === 'object');
  const declared = joinDeclared([beside, siblingNames(said, 'consumer')]);
  const there = (s: Schema): Schema => closeOverSiblings(s, declared);
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
      ...(hasOnlyKeywords(rest, []) ? [] : [restOf(schema, rest, declared)]),
      ...(oneOf === undefined ? [] : [scopedUnion(schema, 'oneOf', oneOf.map(there), declared)]),
    ];
  });
  const keywords: Keywords = { ...EMPTY_KEYWORDS, allOf };
  const made: Schema = { place: schema.place, raw: { beside: key, whole: schema.raw }, keywords: () => keywords };
  origins.set(made, { of: schema, declared });
  return made;
}

function restOf({ place }: Schema, rest: Keywords, declared: DeclaredNames): Schema {
  const made: Schema = { place, raw: undefined, keywords: () => rest };
  origins.set(made, { of: made, declared });
  return made;
}

function without({ ref: _, ...k }: Keywords): Keywords {
  const { oneOf: _forms, ...rest } = k;
  return { ...rest, allOf: [] };
}

/** The schema and all that it refers to or has as a part. */
function conjunctClosure(schema: Schema): readonly Schema[] {
  const seen = new Set([schema]);
  for (const s of seen) {
    const k = s.keywords();
    if (typeof k !== 'boolean') for (const part of [k.ref, ...k.allOf]) if (part !== undefined) seen.add(part);
  }
  return [...seen];
}

const containsOneOfCache = new WeakMap<Schema, boolean>();

/** Is there a `oneOf` that speaks of the value itself? */
function containsOneOf(schema: Schema): boolean {
  if (isPlainText(schema)) return false;
  const done = containsOneOfCache.get(schema);
  if (done !== undefined) return done;
  const seen = new Set([schema]);
  let found = false;
  for (const s of seen) {
    const k = s.keywords();
    if (typeof k === 'boolean') continue;
    found ||= k.oneOf !== undefined;
    for (const part of [k.ref, ...k.allOf, ...(k.anyOf ?? []), k.then, k.else]) if (part !== undefined) seen.add(part);
  }
  containsOneOfCache.set(schema, found);
  return found;
}
