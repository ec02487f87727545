/** What changed between two versions of a contract, and what it does to clients. */

import type { Place } from '../../base/place.ts';
import type { RecordedUse } from '../../base/recorded-use.ts';
import type { ChangeRuleId } from './rules/index.ts';

export const EFFECTS = ['breaking', 'risky', 'undecided', 'compatible'] as const;
export type Effect = (typeof EFFECTS)[number];

/** A webhook and a callback are sent by the service. */
export type Part =
  | 'operation'
  | 'parameter'
  | 'request'
  | 'response'
  | 'security'
  | 'document'
  | 'routing'
  | 'webhook'
  | 'callback';

/** An operation, and what of it is touched. */
export interface Affected {
  readonly method: string;
  readonly path: string;
  readonly part: Part;
  readonly status: string | null;
  readonly media: string | null;
}

export type ChangeWitness =
  | {
      readonly kind: 'value';
      readonly side: 'request' | 'response';
      readonly validUnder: 'old' | 'new';
      readonly invalidUnder: 'old' | 'new';
      readonly body: unknown;
      /** A pointer into the body, to what can never come any more. */
      readonly lost?: string;
    }
  | {
      readonly kind: 'request';
      readonly method: string;
      readonly target: string;
      readonly headers: Readonly<Record<string, string>>;
      readonly wasTakenBy?: string | null;
      readonly isTakenBy?: string | null;
    };

export interface Change {
  readonly rule: ChangeRuleId;
  readonly effect: Effect;
  readonly at: Affected;
  readonly parameter: { readonly name: string; readonly in: string } | null;
  /** Into the body or the parameter's value. */
  readonly value: string | null;
  readonly message: string;
  /** A way to make it compatible. */
  readonly advice: string | null;
  readonly old: Place | undefined;
  readonly new: Place | undefined;
  /** All that it touches, in lists that many changes may share: thousands may touch thousands of operations each. */
  readonly touches: readonly (readonly Affected[])[];
  readonly witness: ChangeWitness | undefined;
  readonly undecided: string | null;
  /** The recorded requests that meet it, where logs were read. */
  readonly recorded?: RecordedUse | undefined;
}

/** A whole body in another shape. */
const WHOLE = /-(?:wrapped|unwrapped|paged|unpaged)$/u;

/** One cause is one change: those that say the same of the same places become one, with all that they touch. */
export function mergeByCause(changes: readonly Change[]): readonly Change[] {
  const groups = new Map<string, Change[]>();
  for (const c of changes) {
    const spot = (p: Place | undefined): string => (p === undefined ? '' : `${p.file}#${p.pointer}`);
    // A wrapper that came or went throughout is one cause, wherever each body is declared.
    const places = WHOLE.test(c.rule) ? [] : [spot(c.old), spot(c.new)];
    const key = [c.rule, c.effect, c.at.part, ...places, c.parameter?.name, c.message].join('\n');
    const known = groups.get(key);
    if (known === undefined) groups.set(key, [c]);
    else known.push(c);
  }
  const all = [...groups.values()].map(
    ([first, ...others]): Change =>
      others.length === 0
        ? (first as Change)
        : { ...(first as Change), touches: [first as Change, ...others].flatMap((o) => o.touches) },
  );
  // What touches most comes first.
  const size = ({ touches }: Change): number => touches.reduce((sum, list) => sum + list.length, 0);
  return all.sort((a, b) => EFFECTS.indexOf(a.effect) - EFFECTS.indexOf(b.effect) || size(b) - size(a));
}

export type ChangeDraft = Omit<Change, 'touches'>;

/** A change of this rule with nothing said yet. */
export function newChange(
  at: Affected,
  rule: ChangeRuleId,
  effect: Change['effect'],
  old: { readonly place: Change['old'] } | undefined,
  now: { readonly place: Change['new'] } | undefined,
): ChangeDraft {
  return {
    rule,
    effect,
    at,
    parameter: null,
    value: null,
    message: '',
    advice: null,
    old: old?.place,
    new: now?.place,
    witness: undefined,
    undecided: null,
  };
}

/** The greatest first. */
export const BUMPS = ['major', 'minor', 'patch', 'none'] as const;
export type Bump = (typeof BUMPS)[number];

/** The verdict on the whole (semver.org): risky alone is minor, and undecided alone is never none. */
export function verdictOf(changes: readonly Change[], sameText: boolean): Bump {
  if (changes.some((c) => c.effect === 'breaking')) return 'major';
  if (changes.length > 0) return 'minor';
  return sameText ? 'none' : 'patch';
}

/** What two version numbers claim; null where they are no semantic versions, or go down. */
export function claimedBump(old: string | undefined, now: string | undefined): Bump | null {
  const parse = (text: string | undefined): readonly number[] | undefined => {
    const match = /^v?(\d+)\.(\d+)\.(\d+)(?:[-+].*)?$/u.exec(text ?? '');
    return match === null || Number(match[1]) > 1900 ? undefined : match.slice(1, 4).map(Number);
  };
  const [a, b] = [parse(old), parse(now)];
  if (a === undefined || b === undefined) return null;
  const at = a.findIndex((n, i) => n !== b[i]);
  if (at < 0) return 'none';
  if ((b[at] as number) < (a[at] as number)) return null;
  return (['major', 'minor', 'patch'] as const)[at] as Bump;
}
