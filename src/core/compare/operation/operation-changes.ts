/** One operation, old and new. */

import type { Media, Operation, Response } from '../../contract/model/contract.ts';
import { successTypes } from '../../contract/pairing/media-types.ts';
import { decide } from '../../language/limits.ts';
import { sameMedia } from '../../media/media.ts';
import { requestChanges, responseChanges } from '../body/body-changes.ts';
import { encodingChanges } from '../body/encodings.ts';
import { beyond, isSuccess, matchedAnswers, matchedMedia } from '../body/match-media.ts';
import { type ChangeDraft, newChange } from '../changes/change.ts';
import type { ComparisonSession } from '../relation/session.ts';
import { callChanges } from './callback-changes.ts';
import { headerChanges } from './header-changes.ts';
import { affected, deprecated, witness } from './operation-context.ts';
import { parameterChanges } from './parameter-changes.ts';
import { securityChanges } from './security-changes.ts';

/** All that changed between two operations that are one; undecided as a whole where the work of the run is used up. */
export function operationChanges(memory: ComparisonSession, old: Operation, now: Operation): readonly ChangeDraft[] {
  const found = decide(() => changesOf(memory, old, now));
  if (found.decided) return found.value;
  const message = 'whether it is as before could not be decided';
  return [
    {
      ...newChange(affected(now, 'operation'), 'versions/operation-undecided', 'undecided', old, now),
      message,
      undecided: found.why,
    },
  ];
}

function changesOf(memory: ComparisonSession, old: Operation, now: Operation): readonly ChangeDraft[] {
  const alike = old.alike?.(now);
  if (alike === 'same') return [];
  const parameters = (): readonly ChangeDraft[] => {
    if (old.alike?.(now, 'parameters') === 'same') return [];
    return parameterChanges(memory, old, now, affected(now, 'parameter'), () => witness(old));
  };
  const callbacks = callChanges(memory, old.callbacks, now.callbacks, 'callback');
  if (alike === 'schemas') return [...parameters(), ...schemaChanges(memory, old, now), ...callbacks];
  return [
    ...deprecated(old, now, affected(now, 'operation')),
    ...securityChanges(old, now),
    ...parameters(),
    ...body(memory, old, now),
    ...responses(memory, old, now),
    ...callbacks,
  ];
}

/** Of bodies and responses that are written the same, but for schemas that stand elsewhere. */
function schemaChanges(memory: ComparisonSession, old: Operation, now: Operation): readonly ChangeDraft[] {
  const out: ChangeDraft[] = [];
  for (const [i, media] of (old.body?.content ?? []).entries())
    out.push(...requestChanges(memory, media, now.body?.content[i] as Media, affected(now, 'request', null, media.type)));
  for (const [i, was] of old.responses.entries()) {
    const is = now.responses[i] as Response;
    for (const [j, media] of was.content.entries())
      out.push(...responseChanges(memory, media, is.content[j] as Media, affected(now, 'response', was.status, media.type)));
    if (was.headers.length > 0) out.push(...headersOf(memory, was, is, now));
  }
  return out;
}

function headersOf(memory: ComparisonSession, was: Response, is: Response, now: Operation): readonly ChangeDraft[] {
  return headerChanges(memory, was, is, affected(now, 'response', was.status), () => witness(now));
}

function body(memory: ComparisonSession, old: Operation, now: Operation): readonly ChangeDraft[] {
  const [a, b] = [old.body, now.body];
  if (a === undefined) return b === undefined ? [] : addedBody(b, now);
  if (b === undefined)
    return [
      {
        ...newChange(affected(now, 'request'), 'versions/body-removed', 'risky', a, undefined),
        message: 'the body is no longer read',
        advice: 'Keep reading it, or refuse it so that clients notice.',
      },
    ];
  return [...requiredBody(a, b, now), ...bodyTypes(memory, a, b, now)];
}

type RequestBody = NonNullable<Operation['body']>;

function addedBody(b: RequestBody, now: Operation): readonly ChangeDraft[] {
  const at = affected(now, 'request');
  if (!b.required)
    return [{ ...newChange(at, 'versions/body-added', 'compatible', undefined, b), message: 'a body may be sent now' }];
  return [
    {
      ...newChange(at, 'versions/body-required', 'breaking', undefined, b),
      message: 'a body is required now: old requests have none',
      advice: 'Make it optional.',
      witness: witness(now),
    },
  ];
}

function requiredBody(a: RequestBody, b: RequestBody, now: Operation): readonly ChangeDraft[] {
  const at = affected(now, 'request');
  if (a.required === b.required) return [];
  if (a.required)
    return [{ ...newChange(at, 'versions/body-optional', 'compatible', a, b), message: 'the body may be left out now' }];
  return [
    {
      ...newChange(at, 'versions/body-required', 'breaking', a, b),
      message: 'the body is required now: old requests may have none',
      advice: 'Leave it optional.',
      witness: witness(now),
    },
  ];
}

function bodyTypes(memory: ComparisonSession, a: RequestBody, b: RequestBody, now: Operation): readonly ChangeDraft[] {
  const { pairs, uncovered, added } = matchedMedia(a.content, b.content, 'request');
  const types = pairs.flatMap(([media, other]) => {
    const of = affected(now, 'request', null, other.type);
    const asked = witness(now, { 'Content-Type': media.type });
    return [...requestChanges(memory, media, other, of), ...encodingChanges(media, other, of, asked)];
  });
  const known = b.content.map((m) => m.type);
  const refused = uncovered.map(
    (media): ChangeDraft => ({
      ...newChange(affected(now, 'request', null, media.type), 'versions/request-type-removed', 'breaking', media, b),
      message: `${media.type} is no longer taken: 415`,
      advice: 'Keep accepting it in this version.',
      witness: witness(now, { 'Content-Type': beyond(media.type, known) }),
    }),
  );
  const more = added.map(
    (m): ChangeDraft => ({
      ...newChange(affected(now, 'request', null, m.type), 'versions/request-type-added', 'compatible', undefined, m),
      message: `${m.type} is taken too`,
    }),
  );
  return [...types, ...refused, ...more];
}

function responses(memory: ComparisonSession, old: Operation, now: Operation): readonly ChangeDraft[] {
  const { pairs, uncovered, gone, added } = matchedAnswers(old.responses, now.responses);
  const out = pairs.flatMap(([was, is]) => oneResponse(memory, was, is, now));
  for (const was of uncovered) {
    const at = affected(now, 'response', was.status);
    if (isSuccess(was) && gone.includes(was))
      out.push({
        ...newChange(at, 'versions/status-removed', 'breaking', was, now),
        message: `${was.status} is no longer returned`,
        advice: 'Keep answering it in this version.',
        witness: witness(now),
      });
    else if (gone.includes(was) && !isSuccess(was))
      out.push({
        ...newChange(at, 'versions/error-status-removed', 'risky', was, undefined),
        message: `${was.status} is no longer documented: clients that knew it may meet another error`,
        advice: 'Keep documenting it, or say what comes instead.',
      });
    else
      out.push({
        ...newChange(at, 'versions/status-removed', 'compatible', was, now),
        message: gone.includes(was) ? `${was.status} is no longer documented` : `not all of ${was.status} is documented any more`,
      });
  }
  for (const is of added) {
    const at = affected(now, 'response', is.status);
    const risky = isSuccess(is) && old.responses.some(isSuccess);
    out.push({
      ...newChange(at, 'versions/status-added', risky ? 'risky' : 'compatible', undefined, is),
      message: `${is.status} may now be returned`,
      advice: risky ? 'Clients may know the old statuses alone; answer with one of them where it fits.' : null,
    });
  }
  const [first, other] = [successTypes(old)[0], successTypes(now)[0]];
  if (
    first !== undefined &&
    other !== undefined &&
    !sameMedia(first, other) &&
    successTypes(now).some((t) => sameMedia(t, first))
  )
    out.push({
      ...newChange(affected(now, 'response'), 'versions/default-type-changed', 'risky', old, now),
      message: `a client without Accept got ${first} and gets ${other} now`,
      advice: `Declare ${first} first.`,
      witness: witness(now),
    });
  return out;
}

function oneResponse(memory: ComparisonSession, was: Response, is: Response, now: Operation): readonly ChangeDraft[] {
  // By the one that speaks of less.
  const status = was.status === 'default' || (was.status.endsWith('XX') && is.status !== 'default') ? is.status : was.status;
  const { pairs, gone, added } = matchedMedia(was.content, is.content, 'response');
  const out = pairs.flatMap(([media, other]) =>
    responseChanges(memory, media, other, affected(now, 'response', status, other.type)),
  );
  for (const media of gone) {
    const good = isSuccess({ ...was, status });
    const rule = good ? 'versions/response-type-removed' : 'versions/error-type-removed';
    out.push({
      ...newChange(affected(now, 'response', status, media.type), rule, good ? 'breaking' : 'risky', media, is),
      message: `${media.type} is no longer sent`,
      advice: good ? 'Keep offering it in this version.' : 'Keep answering errors in the format that clients read.',
      witness: witness(now, { Accept: media.type }),
    });
  }
  for (const media of added)
    out.push({
      ...newChange(affected(now, 'response', status, media.type), 'versions/response-type-added', 'compatible', undefined, media),
      message: `${media.type} is offered too`,
    });
  out.push(...headersOf(memory, was, is, now));
  return out;
}
