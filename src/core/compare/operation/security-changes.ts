/** What lets a client in: every way in that clients had has to lead in still. */
import type { NeededScheme, Operation, SecurityNeed } from '../../contract/model/contract.ts';
import { type ChangeDraft, newChange } from '../changes/change.ts';
import { affected, witness } from './operation-context.ts';

/** Nothing is needed. */
const FREE: readonly SecurityNeed[] = [[]];

export function securityChanges(old: Operation, now: Operation): readonly ChangeDraft[] {
  if (old.alike?.(now, 'security') === 'same') return [];
  const alternatives = ({ security }: Operation): readonly SecurityNeed[] => (security.length === 0 ? FREE : security);
  const [was, is] = [alternatives(old), alternatives(now)];
  const at = affected(now, 'security');
  const lost = was.find((has) => !is.some((need) => satisfies(need, has)));
  if (lost !== undefined) {
    // Of one name, and yet two: what is sent tells them apart, and where each is declared is what has to be mended.
    const [one, other] =
      lost.map((s) => [s, is.flat().find((n) => n.name === s.name && !isSameScheme(n, s))]).find(([, n]) => n) ?? [];
    const words = (need: SecurityNeed): string => wordsOf(need, one !== undefined);
    return [
      {
        ...newChange(
          at,
          'versions/security-tightened',
          'breaking',
          { place: one?.scheme.place ?? old.securityPlace },
          { place: other?.scheme.place ?? now.securityPlace },
        ),
        message: `${words(lost)} was enough, and ${is.map(words).join(' or ')} is needed now`,
        advice: 'Keep accepting what was enough in this version.',
        witness: witness(old),
      },
    ];
  }
  const more = is.some((need) => !was.some((has) => satisfies(has, need)));
  if (!more || !was.some((has) => has.length > 0)) return [];
  return [
    {
      ...newChange(at, 'versions/security-loosened', 'compatible', { place: old.securityPlace }, { place: now.securityPlace }),
      message: `${is.map((need) => wordsOf(need, false)).join(' or ')} is enough now`,
    },
  ];
}

/** Do these credentials and scopes do? What a scheme is called says nothing. */
function satisfies(need: SecurityNeed, has: SecurityNeed): boolean {
  return need.every((n) => has.some((own) => isSameScheme(n, own) && n.scopes.every((s) => own.scopes.includes(s))));
}

/** Wherever such credentials came from they have to come from still. */
function isSameScheme({ scheme }: NeededScheme, { scheme: own }: NeededScheme): boolean {
  return own.credentials === scheme.credentials && own.sources.every((s) => scheme.sources.includes(s));
}

function wordsOf(need: SecurityNeed, exact: boolean): string {
  const words = ({ name, scopes, scheme }: NeededScheme): string => {
    const more = [...(exact ? [[scheme.credentials, ...scheme.sources].join(', ')] : []), ...scopes];
    return more.length === 0 ? name : `${name} (${more.join(', ')})`;
  };
  return need.map(words).join(' and ') || 'nothing';
}
