/** Two versions of a contract: operations paired by the language of their paths, then compared one by one. */

import type { Contract, Operation } from '../contract/model/contract.ts';
import { isTextEqual } from '../schema/equality/equal-pairs.ts';
import { reportsByFirst } from './changes/cause-log.ts';
import { type Bump, type Change, type ChangeDraft, claimedBump, mergeByCause, newChange, verdictOf } from './changes/change.ts';
import { listed } from './changes/messages.ts';
import { callChanges } from './operation/callback-changes.ts';
import { operationChanges } from './operation/operation-changes.ts';
import { affected, witness } from './operation/operation-context.ts';
import {
  findPrefixShift,
  keyOperations,
  type Moved,
  movedOf,
  type PathKeyedOperation,
  type PrefixShift,
  pairByPath,
} from './operation-pairs.ts';
import { lostKeyDescriber } from './relation/item-keys.ts';
import { type ComparisonSession, newSession } from './relation/session.ts';

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

/** The operations of the old contract with those of the new one that they are held against. O(operations). */
export function pairedOperations(old: Contract, now: Contract, versions: readonly string[]): ReadonlyMap<Operation, Operation> {
  const [was, is] = [keyOperations(old, versions), keyOperations(now, versions)];
  const shift = findPrefixShift(was, is, [old.bases[0] ?? '', now.bases[0] ?? '']);
  const { pairs, gone, added } = pairByPath(was, is, shift);
  return new Map([...pairs, ...movedOf(gone, added)].map(([a, b]) => [a.operation, b.operation]));
}

/** Compares two contracts. */
export function compareContracts(old: Contract, now: Contract, options: CompareOptions): Comparison {
  const [was, is] = [keyOperations(old, options.versions), keyOperations(now, options.versions)];
  const shift = findPrefixShift(was, is, [old.bases[0] ?? '', now.bases[0] ?? '']);
  const { pairs, gone, added } = pairByPath(was, is, shift);
  const sideless = (): boolean => old.sideless === true && now.sideless === true;
  const memory = newSession(options.openEnumerations, sideless, lostKeyDescriber(now.operations));
  const made: ChangeDraft[] = shift === undefined ? [] : [prefixChange(shift, old, now, was[0] as PathKeyedOperation)];
  for (const [i, [a, b]] of pairs.entries()) {
    made.push(...operationChanges(memory, a.operation, b.operation));
    options.progress?.(i + 1, pairs.length);
  }
  const moved = movedOf(gone, added);
  made.push(...unpairedChanges(memory, { gone, added, moved }, old, now), ...serverChanges(old, now));
  made.push(...callChanges(memory, old.webhooks, now.webhooks, 'webhook'));
  const changes = mergeByCause(withTouched(memory, made, moved.filter(isSlash), old.bases[0] ?? ''));
  const same =
    changes.length === 0 &&
    old.schemas.size === now.schemas.size &&
    [...old.schemas].every(([name, s]) => now.schemas.get(name) !== undefined && isTextEqual(s, now.schemas.get(name) as never));
  return { verdict: verdictOf(changes, same), claimed: claimedBump(old.version, now.version), changes };
}

/** Operations that moved, were removed or were added. */
function unpairedChanges(
  memory: ComparisonSession,
  { gone, added, moved }: Record<'gone' | 'added', readonly PathKeyedOperation[]> & { readonly moved: readonly Moved[] },
  old: Contract,
  now: Contract,
): readonly ChangeDraft[] {
  const made: ChangeDraft[] = [];
  const slashed = moved.filter(isSlash);
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
  return made;
}

/** Each change with all that it touches, which is known when everything was compared. */
function withTouched(
  memory: ComparisonSession,
  made: readonly ChangeDraft[],
  slashed: readonly Moved[],
  base: string,
): readonly Change[] {
  const told = reportsByFirst(memory);
  return made.map((m) => ({
    ...withBasePath(told.get(m)?.made ?? m, base),
    touches:
      m.rule === 'versions/slash-changed'
        ? [slashed.map(([a]) => affected(a.operation, 'operation'))]
        : (told.get(m)?.touches ?? [[m.at]]),
  }));
}

/** Clients know the old base. */
function withBasePath(change: ChangeDraft, base: string): ChangeDraft {
  const { witness: shown, at } = change;
  const isCall = at.part === 'webhook' || at.part === 'callback';
  return shown?.kind === 'request' && !isCall ? { ...change, witness: { ...shown, target: base + shown.target } } : change;
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

/** Do two paths differ in the slash at their end alone? */
function isSlash([{ operation: a }, { operation: b }]: Moved): boolean {
  const bare = (path: string): string => path.replace(/\/$/u, '');
  return a.method === b.method && a.path !== b.path && bare(a.path) === bare(b.path);
}

function slashChange(pairs: readonly Moved[]): ChangeDraft {
  const [[a, b]] = pairs as readonly [Moved];
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
