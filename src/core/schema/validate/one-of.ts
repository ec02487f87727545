/** Which forms of a `oneOf` count, by who reads it. */

import type { Schema } from '../model/schema.ts';
import type { Count } from '../model/side.ts';
import { type Declared, declaresAll } from '../normalise/declared-names.ts';
import type { Judge } from './validation.ts';

/** Who sends a value sends nothing that a taker would take for what it must not be. */
export function excluding(judge: Judge): Judge {
  return asking(judge, judge.count === 'sent' ? 'taken' : judge.count);
}

/** Whether it fits is enough. */
function asking(judge: Judge, count: Count): Judge {
  return { ...judge, count, hasty: true, tracks: false };
}

interface Tried {
  readonly ok: boolean;
}

/** The forms that count: none of several that a sender could mean, each closed; else a receiver takes what fits any. */
export function counted<T extends Tried>(
  judge: Judge,
  members: readonly Schema[],
  tries: readonly T[],
  value: unknown,
  attempt: (judge: Judge, schema: Schema, value: unknown) => Tried,
): readonly T[] {
  const form = (t: T): Schema => members[tries.indexOf(t)] as Schema;
  const beside = (): Declared => judge.beside.declaredTo(judge.count === 'sent' ? 'sender' : 'receiver');
  const closed = (t: T): boolean => declaresAll(form(t), value, beside);
  const open = tries.filter((t) => t.ok);
  if (judge.count === 'sent') {
    const meant = open.filter(closed);
    const could = (t: T): boolean => !t.ok && closed(t) && attempt(excluding(judge), form(t), value).ok;
    return meant.length === 1 && tries.some(could) ? [] : meant;
  }
  const sure = open.filter(closed);
  const meant = sure.length < 2 ? [] : sure.filter((t) => attempt(asking(judge, 'sent'), form(t), value).ok);
  return meant.length > 1 ? meant : open.slice(0, 1);
}
