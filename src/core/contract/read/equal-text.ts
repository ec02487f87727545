/** Parts of two documents that are written the same, with all that they refer to: about these nothing has to be read. */
import { isMapping, sameJson } from '../../base/json.ts';
import { isTextEqual } from '../../schema/equality/equal-pairs.ts';
import { type At, lookup, type Reader } from '../document/document.ts';
import type { TextEquality } from '../model/contract.ts';
import { schemaAt } from '../read-schema/read-schema.ts';

interface Side {
  readonly reader: Reader;
  readonly at: At;
}

/**
 * The same but for words, behind references too; the same but for schemas that references lead to; or something of which
 * nothing is known. O(the smaller), and once what their references lead to.
 */
export function compareObjectText(a: Side, b: Side): TextEquality {
  let alike: TextEquality = 'same';
  const met = new Set<string>();
  const pairs: (readonly [At, At])[] = [[a.at, b.at]];
  for (const [x, y] of pairs) {
    const references: string[] = [];
    if (!equalExceptReferences(x.value, y.value, references)) return 'unlike';
    for (const reference of references) {
      const name = x.file === a.at.file && y.file === b.at.file ? reference : `${x.file}\n${y.file}\n${reference}`;
      if (met.has(name)) continue;
      met.add(name);
      const [p, q] = [lookup(a.reader, reference, x), lookup(b.reader, reference, y)];
      if (p === undefined || q === undefined) return 'unlike';
      if (!isOfSchemas(p.pointer) || !isOfSchemas(q.pointer)) pairs.push([p, q]);
      else if (!sameSchemas(schemaAt(a.reader, p), schemaAt(b.reader, q))) alike = 'schemas';
    }
  }
  return alike;
}

function sameSchemas(x: ReturnType<typeof schemaAt>, y: ReturnType<typeof schemaAt>): boolean {
  return x !== undefined && y !== undefined && isTextEqual(x, y);
}

function isOfSchemas(pointer: string): boolean {
  return pointer.startsWith('/components/schemas/') || pointer.startsWith('/definitions/');
}

/** In the same order, which counts for media types. Notes references on the way. */
function equalExceptReferences(a: unknown, b: unknown, references: string[]): boolean {
  if (Array.isArray(a))
    return Array.isArray(b) && a.length === b.length && a.every((item, i) => equalExceptReferences(item, b[i], references));
  if (!isMapping(a)) return a === b;
  if (!isMapping(b)) return false;
  const keys = Object.keys(a);
  const others = Object.keys(b);
  if (keys.length !== others.length) return false;
  for (let i = 0; i < keys.length; i++) {
    const key = keys[i] as string;
    // How schemas are held against each other where these lead is said elsewhere.
    if (key !== others[i] || key === '$dynamicRef') return false;
    const x = a[key];
    const y = b[key];
    if (typeof x === 'string') {
      if (isWord(key) && typeof y === 'string') continue;
      if (key === '$ref') references.push(x);
    }
    if (!(isValue(key) ? sameJson(x, y) : equalExceptReferences(x, y, references))) return false;
  }
  return true;
}

function isWord(key: string): boolean {
  return key === 'description' || key === 'summary';
}

/** In these no key means anything. */
function isValue(key: string): boolean {
  return key === 'enum' || key === 'const' || key === 'default';
}
