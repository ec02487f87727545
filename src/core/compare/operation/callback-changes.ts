/**
 * What a service calls its clients with: webhooks (OpenAPI 3.1, 4.8.1) and callbacks (4.8.18). Here the service sends the
 * request, which has to be what clients were told of, and takes the answer. What is read-only is the service's to send.
 */
import type { Header, Media, Operation, Response } from '../../contract/model/contract.ts';
import { requestChanges, responseChanges } from '../body/body-changes.ts';
import { isSuccess, matchedAnswers, matchedMedia } from '../body/match-media.ts';
import { type Change, type ChangeDraft, newChange } from '../changes/change.ts';
import type { ComparisonSession } from '../relation/session.ts';
import { headerChanges } from './header-changes.ts';
import { affected, deprecated } from './operation-context.ts';

export type Call = 'webhook' | 'callback';

/** All that changed between two lists of calls; paired by name, or by expression, and method. */
export function callChanges(
  memory: ComparisonSession,
  old: readonly Operation[],
  now: readonly Operation[],
  part: Call,
): readonly ChangeDraft[] {
  if (old.length === 0 && now.length === 0) return [];
  const key = (o: Operation): string => `${o.method} ${o.path}`;
  const left = new Map(now.map((o) => [key(o), o]));
  const out: ChangeDraft[] = [];
  for (const was of old) {
    const is = left.get(key(was));
    left.delete(key(was));
    if (is !== undefined) out.push(...oneCall(memory, was, is, part));
    else
      out.push({
        ...newChange(affected(was, part), 'versions/call-removed', 'breaking', was, undefined),
        message: 'it never comes any more',
        advice: 'Go on calling until no client waits for it.',
        witness: shown(was),
      });
  }
  for (const is of left.values())
    out.push({ ...newChange(affected(is, part), 'versions/call-added', 'compatible', undefined, is), message: 'it was added' });
  return out;
}

function shown({ method, path }: Operation, headers: Readonly<Record<string, string>> = {}): Change['witness'] {
  // A callback's name is for people.
  return { kind: 'request', method, target: path.slice(path.indexOf(' ') + 1), headers };
}

function oneCall(memory: ComparisonSession, was: Operation, is: Operation, part: Call): readonly ChangeDraft[] {
  if (was.alike?.(is) === 'same') return [];
  return [
    ...deprecated(was, is, affected(is, part)),
    ...sent(memory, was, is, part),
    ...headers(memory, was, is, part),
    ...answers(memory, was, is, part),
  ];
}

function sent(memory: ComparisonSession, was: Operation, is: Operation, part: Call): readonly ChangeDraft[] {
  const [old, now] = [was.body?.content ?? [], is.body?.content ?? []];
  const at = (media: Media): ReturnType<typeof affected> => affected(is, part, null, media.type);
  const { pairs, gone, added } = matchedMedia(old, now, 'response');
  const changed = pairs.flatMap(([media, other]) => responseChanges(memory, media, other, at(other)));
  const lost = gone.map(
    (media): ChangeDraft => ({
      ...newChange(at(media), 'versions/call-type-removed', 'breaking', media, is.body ?? is),
      message: `${media.type} is no longer sent`,
      advice: 'Keep sending it in this version.',
      witness: shown(is, { 'Content-Type': media.type }),
    }),
  );
  const more = added.map(
    (media): ChangeDraft => ({
      ...newChange(at(media), 'versions/call-type-added', old.length === 0 ? 'compatible' : 'breaking', was.body ?? was, media),
      message: old.length === 0 ? `a body of ${media.type} is now sent` : `${media.type} may now be sent; clients were not told`,
      advice: old.length === 0 ? null : 'Send only what was documented, or call those who ask for it.',
      witness: old.length === 0 ? undefined : shown(is, { 'Content-Type': media.type }),
    }),
  );
  return [...changed, ...lost, ...more];
}

/** What stands beside the body is read like the headers of an answer. */
function headers(memory: ComparisonSession, was: Operation, is: Operation, part: Call): readonly ChangeDraft[] {
  if (was.alike?.(is, 'parameters') === 'same') return [];
  const as = ({ parameters, place }: Operation): { readonly headers: readonly Header[]; readonly place: Operation['place'] } => ({
    headers: parameters.filter((p) => p.in === 'header'),
    place,
  });
  return headerChanges(memory, as(was), as(is), affected(is, part), () => shown(is));
}

/** Old clients keep answering what was taken. */
function answers(memory: ComparisonSession, was: Operation, is: Operation, part: Call): readonly ChangeDraft[] {
  const { pairs, uncovered } = matchedAnswers(was.responses, is.responses);
  const changed = pairs.flatMap(([old, now]) =>
    matchedMedia(old.content, now.content, 'request').pairs.flatMap(([media, other]) =>
      requestChanges(memory, media, other, affected(is, part, old.status, media.type)),
    ),
  );
  return [...changed, ...uncovered.filter(isSuccess).map((old) => statusGone(was, old, is, part))];
}

function statusGone(was: Operation, old: Response, is: Operation, part: Call): ChangeDraft {
  return {
    ...newChange(affected(is, part, old.status), 'versions/call-answer-removed', 'breaking', old, is),
    message: `clients may answer ${old.status}, which is no longer taken`,
    advice: 'Keep accepting it in this version.',
    witness: shown(was),
  };
}
