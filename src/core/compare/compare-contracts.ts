/** Two versions of a contract: operations paired by the language of their paths, then compared one by one. */

import { normalisedName } from '../base/bare-name.ts';
import type { Contract, Operation } from '../contract/model/contract.ts';
import { pathKeys } from '../paths/keys.ts';
import { literalText, type Piece } from '../paths/pattern.ts';
import { parseTemplate } from '../paths/template.ts';
import { isTextEqual } from '../schema/equality/equal-pairs.ts';
import { reportsByFirst } from './changes/cause-log.ts';
import { type Bump, type Change, type ChangeDraft, claimedBump, mergeByCause, newChange, verdictOf } from './changes/change.ts';
import { listed } from './changes/messages.ts';
import { callChanges } from './operation/callback-changes.ts';
import { operationChanges } from './operation/operation-changes.ts';
import { affected, witness } from './operation/operation-context.ts';
import { lostKeyDescriber } from './relation/item-keys.ts';
import { newSession } from './relation/session.ts';

export interface Comparison {
  readonly verdict: Bump;
  /** What the version numbers say; null where they say nothing. */
  readonly claimed: Bump | null;
  readonly changes: readonly Change[];
  /** How many changes the settings weigh otherwise, or leave out. */
  readonly weighed?: number;
  /** Of two route tables: the router facts that changed and of which no request shows anything. */
  readonly factsWithoutEffect?: readonly { readonly fact: string; readonly was: string; readonly is: string }[];
}

export interface CompareOptions {
  /** Ids of versions that stand in paths, and are taken off before paths are paired. */
  readonly versions: readonly string[];
  /** The extension that marks an enumeration to which members may be added. */
  readonly openEnumerations?: string | undefined;
  /** Told after each operation that both have. */
  readonly progress?: (done: number, of: number) => void;
}

interface PathKeyedOperation {
  readonly operation: Operation;
  /** The path with its base, as it is written. */
  readonly path: string;
  /** By what each segment matches, those of a version left out. */
  readonly keys: readonly string[];
  /** As people write them. */
  readonly segments: readonly string[];
}

/** Compares two contracts. */
export function compareContracts(old: Contract, now: Contract, options: CompareOptions): Comparison {
  const [was, is] = [keyOperations(old, options), keyOperations(now, options)];
  const shift = findPrefixShift(was, is, [old.bases[0] ?? '', now.bases[0] ?? '']);
  const { pairs, gone, added } = pair(was, is, shift);
  const sideless = (): boolean => old.sideless === true && now.sideless === true;
  const memory = newSession(options.openEnumerations, sideless, lostKeyDescriber(now.operations));
  const made: ChangeDraft[] = shift === undefined ? [] : [prefixChange(shift, old, now, was[0] as PathKeyedOperation)];
  for (const [i, [a, b]] of pairs.entries()) {
    made.push(...operationChanges(memory, a.operation, b.operation));
    options.progress?.(i + 1, pairs.length);
  }
  const moved = movedOf(gone, added);
  const slashed = moved.filter(([a, b]) => isSlash(a.operation, b.operation));
  // A slash that many paths lost is one change.
  const together = slashed.length > 1 ? slashed : [];
  if (together.length > 0) made.push(slashChange(together));
  for (const [a, b] of moved) {
    if (!together.some(([x]) => x === a)) made.push(movedChange(a.operation, b.operation));
    made.push(...operationChanges(memory, a.operation, b.operation));
  }
  const elsewhere = new Set(moved.flat());
  for (const a of gone) if (!elsewhere.has(a)) made.push(removedChange(a.operation, now));
  for (const b of added)
    if (!elsewhere.has(b))
      made.push({
        ...newChange(affected(b.operation, 'operation'), 'versions/operation-added', 'compatible', old, b.operation),
        message: 'the operation was added',
      });
  made.push(...serverChanges(old, now));
  made.push(...callChanges(memory, old.webhooks, now.webhooks, 'webhook'));
  const told = reportsByFirst(memory);
  const base = old.bases[0] ?? '';
  const changes = mergeByCause(
    made.map((m) => ({
      ...withBasePath(told.get(m)?.made ?? m, base),
      touches:
        m.rule === 'versions/slash-changed'
          ? [slashed.map(([a]) => affected(a.operation, 'operation'))]
          : (told.get(m)?.touches ?? [[m.at]]),
    })),
  );
  const same =
    changes.length === 0 &&
    old.schemas.size === now.schemas.size &&
    [...old.schemas].every(([name, s]) => now.schemas.get(name) !== undefined && isTextEqual(s, now.schemas.get(name) as never));
  return { verdict: verdictOf(changes, same), claimed: claimedBump(old.version, now.version), changes };
}

/** Clients know the old base. */
function withBasePath(change: ChangeDraft, base: string): ChangeDraft {
  const { witness: shown, at } = change;
  const isCall = at.part === 'webhook' || at.part === 'callback';
  return shown?.kind === 'request' && !isCall ? { ...change, witness: { ...shown, target: base + shown.target } } : change;
}

function keyOperations(contract: Contract, { versions }: CompareOptions): readonly PathKeyedOperation[] {
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
interface PrefixShift {
  readonly old: readonly string[];
  readonly new: readonly string[];
  readonly message: string;
}

/** A prefix that most paths of one side have and those of the other lack, or another base for all of them. */
function findPrefixShift(
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

function pair(
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

/** A host that clients know and that the new document no longer names. */
function serverChanges(old: Contract, now: Contract): readonly ChangeDraft[] {
  const [was, is] = [old.hosts ?? [], now.hosts ?? []];
  const gone = was.filter((host) => !is.includes(host));
  const [first] = old.operations;
  if (first === undefined || gone.length === 0 || is.length === 0) return [];
  return [
    {
      ...newChange(affected(first, 'document'), 'versions/server-changed', 'risky', old, now),
      message: `${listed(gone)} ${gone.length === 1 ? 'is' : 'are'} no longer among the servers, which are ${listed(is)} now`,
      advice: 'Keep serving the old host, or redirect (308), until clients have moved.',
    },
  ];
}

function prefixChange({ message }: PrefixShift, old: Contract, now: Contract, first: PathKeyedOperation): ChangeDraft {
  return {
    ...newChange({ ...affected(first.operation, 'document') }, 'versions/prefix-changed', 'breaking', old, now),
    message,
    advice: 'Serve both for a while, or redirect (308).',
    witness: witness(first.operation),
  };
}

/** Of the same operationId, or of a path that is written otherwise and reads the same: letter case, hyphens, a slash at its end. */
function movedOf(
  gone: readonly PathKeyedOperation[],
  added: readonly PathKeyedOperation[],
): readonly (readonly [PathKeyedOperation, PathKeyedOperation])[] {
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

/** Do two paths differ in the slash at their end alone? */
function isSlash(a: Operation, b: Operation): boolean {
  const bare = (path: string): string => path.replace(/\/$/u, '');
  return a.method === b.method && a.path !== b.path && bare(a.path) === bare(b.path);
}

function slashChange(pairs: readonly (readonly [PathKeyedOperation, PathKeyedOperation])[]): ChangeDraft {
  const [[a, b]] = pairs as readonly [readonly [PathKeyedOperation, PathKeyedOperation]];
  const how = a.path.endsWith('/') ? 'lost' : 'have';
  return {
    ...newChange(affected(a.operation, 'document'), 'versions/slash-changed', 'breaking', a.operation, b.operation),
    message: `${pairs.length} operations ${how} the slash at the end of their path now: ${a.path} is ${b.path}`,
    advice: 'Serve both for a while, or redirect (308).',
    witness: witness(a.operation),
  };
}

function movedChange(a: Operation, b: Operation): ChangeDraft {
  const isCase = a.path !== b.path && a.path.toLowerCase() === b.path.toLowerCase();
  const letters = isCase ? ' (its letter case changed)' : '';
  return {
    ...newChange(affected(a, 'operation'), 'versions/operation-moved', 'breaking', a, b),
    message: `it moved to ${b.method} ${b.path}${letters}`,
    advice: 'Serve the old path too, or redirect (308), until clients have moved.',
    witness: witness(a),
  };
}

function removedChange(a: Operation, now: Contract): ChangeDraft {
  return {
    ...newChange(affected(a, 'operation'), 'versions/operation-removed', 'breaking', a, now),
    message: 'the operation was removed',
    advice: a.deprecated
      ? 'It was deprecated; see that its sunset has passed and that nobody calls it.'
      : 'Deprecate it first, with a sunset.',
    witness: witness(a),
  };
}
