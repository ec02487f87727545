/** Where what a value may have is declared: a part that many schemas share is one cause. */
import { componentName } from '../place.ts';
import { type Schema, target } from '../schema/node.ts';
import { type Twin, twinOf } from '../schema/same.ts';

/**
 * The component that declares a property for a schema that has it as a part, and what that component became; undefined
 * where the schema declares it itself, or has no such part any more. The same for all that share it. O(parts).
 */
export function declaredIn(a: Schema, b: Schema, name: string): Twin | undefined {
  const [own, ...parts] = saidOf(a);
  if (own === undefined || declares(own, name)) return undefined;
  const part = parts.find((s) => componentName(s.place) !== undefined && declares(s, name));
  if (part === undefined) return undefined;
  const became = saidOf(b).find((s) => s.place.pointer === part.place.pointer);
  return became === undefined ? undefined : twinOf(part, became);
}

/** All that speaks of the same value, the schema first; forms are left aside. */
function saidOf(schema: Schema): readonly Schema[] {
  const seen = new Set([target(schema)]);
  for (const s of seen) {
    const k = s.keywords();
    if (typeof k === 'boolean') continue;
    for (const part of [k.ref, ...k.allOf]) if (part !== undefined) seen.add(target(part));
  }
  return [...seen];
}

function declares(schema: Schema, name: string): boolean {
  const k = schema.keywords();
  return typeof k === 'object' && k.properties.has(name);
}
