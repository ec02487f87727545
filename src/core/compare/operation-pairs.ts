/** The operations of two contracts, paired by what their paths match, by their ids, or by how their paths read. */

import { normalisedName } from '../base/bare-name.ts';
import type { Contract, Operation } from '../contract/model/contract.ts';
import { pathKeys } from '../paths/keys.ts';
import { literalText, type Piece } from '../paths/pattern.ts';
import { parseTemplate } from '../paths/template.ts';

export interface PathKeyedOperation {
  readonly operation: Operation;
  /** The path with its base, as it is written. */
  readonly path: string;
  /** By what each segment matches, those of a version left out. */
  readonly keys: readonly string[];
  /** As people write them. */
  readonly segments: readonly string[];
}

/** The operations with the keys of their paths, `versions` taken off them. The keys are found when first asked for. */
export function keyOperations(contract: Contract, versions: readonly string[]): readonly PathKeyedOperation[] {
  const ids = new Set(versions.flatMap((v) => [v, `v${v}`]));
  const known = new Map<string, Pick<PathKeyedOperation, 'keys' | 'segments'>>();
  return contract.operations.map((operation) => {
    const path = ((operation.bases ?? contract.bases)[0] ?? '') + operation.path;
    // Most are paired by their text, and need no closer look.
    const place = (): Pick<PathKeyedOperation, 'keys' | 'segments'> => {
      const found = known.get(path) ?? placeOf(path, ids);
      known.set(path, found);
      return found;
    };
    return {
      operation,
      path,
      get keys() {
        return place().keys;
      },
      get segments() {
        return place().segments;
      },
    };
  });
}

function placeOf(path: string, ids: ReadonlySet<string>): Pick<PathKeyedOperation, 'keys' | 'segments'> {
  const [shape = []] = parseTemplate(path).shapes;
  const kept = shape.flatMap((piece, i) => (ids.has(literalText(piece) ?? '') ? [] : [i]));
  const keys = pathKeys(shape);
  return { keys: kept.map((i) => keys[i] as string), segments: kept.map((i) => textOf(shape[i] as Piece)) };
}

function textOf(piece: Piece): string {
  return piece.parts.map((part) => (part.kind === 'literal' ? part.text : `{${part.name}}`)).join('');
}

/** What is to be taken off the paths of each side, so that they are the same. */
export interface PrefixShift {
  readonly old: readonly string[];
  readonly new: readonly string[];
  readonly message: string;
}

/** A prefix that most paths of one side have and those of the other lack, or another base for all of them. */
export function findPrefixShift(
  was: readonly PathKeyedOperation[],
  is: readonly PathKeyedOperation[],
  bases: readonly [string, string],
): PrefixShift | undefined {
  const key = (p: readonly string[]): string => p.join('/');
  const paths = new Set(is.map((p) => p.path));
  if (was.some((p) => paths.has(p.path))) return undefined;
  const known = new Set(is.map((p) => key(p.keys)));
  if (was.length === 0 || was.some((p) => known.has(key(p.keys)))) return undefined;
  const hold = (old: readonly string[], now: readonly string[]): boolean => {
    const targets = new Set(is.map((p) => key(without(p.keys, now))));
    const hits = was.filter((p) => targets.has(key(without(p.keys, old)))).length;
    return hits * 2 > Math.min(was.length, is.length);
  };
  const prefixes = (from: readonly PathKeyedOperation[]): readonly (readonly [readonly string[], string])[] => {
    const [{ keys, segments } = { keys: [], segments: [] }] = from;
    return keys.slice(1).map((_, n) => [keys.slice(0, n + 1), `/${segments.slice(0, n + 1).join('/')}`]);
  };
  for (const [prefix, text] of prefixes(is))
    if (hold([], prefix)) return { old: [], new: prefix, message: `every path has the prefix ${text} now` };
  for (const [prefix, text] of prefixes(was))
    if (hold(prefix, [])) return { old: prefix, new: [], message: `every path lost the prefix ${text}` };
  const [old, now] = bases.map((base) => placeOf(base, new Set()).keys) as [readonly string[], readonly string[]];
  return hold(old, now)
    ? { old, new: now, message: `every path moved from ${bases[0] || '/'} to ${bases[1] || '/'}` }
    : undefined;
}

/** Without this prefix, where it has it. */
function without(keys: readonly string[], prefix: readonly string[]): readonly string[] {
  return prefix.every((key, i) => keys[i] === key) ? keys.slice(prefix.length) : keys;
}

/** Operations of both sides that clients call by the same requests, and those that one side has alone. O(operations). */
export function pairByPath(
  was: readonly PathKeyedOperation[],
  is: readonly PathKeyedOperation[],
  shift: PrefixShift | undefined,
): {
  pairs: readonly (readonly [PathKeyedOperation, PathKeyedOperation])[];
  gone: readonly PathKeyedOperation[];
  added: readonly PathKeyedOperation[];
} {
  const key = (p: PathKeyedOperation, side: 'old' | 'new'): string =>
    `${p.operation.method} ${without(p.keys, shift?.[side] ?? []).join('/')}`;
  const written = new Map(is.map((p) => [`${p.operation.method} ${p.path}`, p]));
  const byText = new Map(
    was.flatMap((a) => {
      const b = written.get(`${a.operation.method} ${a.path}`);
      return b === undefined ? [] : [[a, b] as const];
    }),
  );
  const taken = new Set(byText.values());
  const targets = new Map(is.flatMap((p) => (taken.has(p) ? [] : [[key(p, 'new'), p] as const])));
  const pairs: (readonly [PathKeyedOperation, PathKeyedOperation])[] = [];
  const gone: PathKeyedOperation[] = [];
  for (const a of was) {
    const same = byText.get(a);
    const b = same ?? targets.get(key(a, 'old'));
    if (b === undefined) gone.push(a);
    else {
      pairs.push([a, b]);
      if (same === undefined) targets.delete(key(a, 'old'));
    }
  }
  return { pairs, gone, added: [...targets.values()] };
}

/** An operation as it was, and the one that it is now under another path. */
export type Moved = readonly [PathKeyedOperation, PathKeyedOperation];

/** Of the same operationId, or of a path that is written otherwise and reads the same: letter case, hyphens, a slash at its end. */
export function movedOf(gone: readonly PathKeyedOperation[], added: readonly PathKeyedOperation[]): readonly Moved[] {
  const reads = ({ method, path }: Operation): string =>
    [
      method,
      ...path.split('/').map((s) =>
        s
          .split(/\{[^{}]*\}/u)
          .map(normalisedName)
          .join('{}'),
      ),
    ]
      .filter((s) => s !== '')
      .join('/');
  const byReading = new Map(added.map((n) => [reads(n.operation), n]));
  const byId = new Map([...added].reverse().map((n) => [n.operation.id, n]));
  const taken = new Set<PathKeyedOperation>();
  return gone.flatMap((a) => {
    const { id } = a.operation;
    const b = (id === undefined ? undefined : byId.get(id)) ?? byReading.get(reads(a.operation));
    if (b === undefined || taken.has(b)) return [];
    taken.add(b);
    return [[a, b] as const];
  });
}
