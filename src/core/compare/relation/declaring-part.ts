/** Where what a value may have is declared: a part that many schemas share is one cause. */
import { componentName } from '../../base/place.ts';
import { compareText } from '../../schema/equality/equal-pairs.ts';
import { derivedBranches } from '../../schema/model/derived-union.ts';
import { dereference, type Schema, type TextPair } from '../../schema/model/schema.ts';

/**
 * What declares a property for a schema that has it as a part, or as one of several that may stand there, and what that
 * became; undefined where the schema declares it itself, or has no such part any more. The same for all that share it.
 * O(parts).
 */
export function declaringConjunct(a: Schema, b: Schema, name: string): TextPair | undefined {
  const [own, ...parts] = conjunctsOf(a);
  if (own === undefined || declares(own, name)) return undefined;
  const forms = new Set(derivedBranches(a)?.map(dereference));
  const isShared = (s: Schema): boolean => componentName(s.place) !== undefined || forms.has(s);
  const part = parts.find((s) => isShared(s) && declares(s, name));
  if (part === undefined) return undefined;
  const became = conjunctsOf(b).find((s) => s.place.pointer === part.place.pointer);
  return became === undefined ? undefined : compareText(part, became);
}

/** All that speaks of the same value, the schema first; forms are left aside, but for those that nobody wrote. */
function conjunctsOf(schema: Schema): readonly Schema[] {
  const seen = new Set([dereference(schema)]);
  for (const s of seen) {
    for (const form of derivedBranches(s) ?? []) seen.add(dereference(form));
    const k = s.keywords();
    if (typeof k === 'boolean') continue;
    for (const part of [k.ref, ...k.allOf]) if (part !== undefined) seen.add(dereference(part));
  }
  return [...seen];
}

function declares(schema: Schema, name: string): boolean {
  const k = schema.keywords();
  return typeof k === 'object' && k.properties.has(name);
}
