/** What changes no set of values: another default (3.1, 4.8.24), another name that tells forms apart (4.8.25), what is declared. */

import { brief } from '../../base/excerpt.ts';
import { appendPointer } from '../../base/place.ts';
import type { Schema, TextPair } from '../../schema/model/schema.ts';
import { addAffectedIfReported, reportOnce } from '../changes/cause-log.ts';
import { type Affected, type ChangeDraft, newChange } from '../changes/change.ts';
import { listed } from '../changes/messages.ts';
import type { AnnotationDifference } from '../relation/annotation-facts.ts';
import type { LossPair } from '../relation/lost-properties.ts';
import type { ComparisonSession } from '../relation/session.ts';

/** Of one list of pairs, which many bodies share, for each side. */
const quietCache = new WeakMap<readonly LossPair[], Partial<Record<'request' | 'response', readonly Found[]>>>();

/** What hurts nobody on this side: a form's name those who send it, a new property those who read it. */
const HARMLESS = { request: 'form name', response: 'declared' } as const;

interface Found extends AnnotationDifference {
  readonly pair: LossPair;
}

/** All of it in two bodies, each told once. A form's name hurts those who read it. */
export function annotationChanges(
  memory: ComparisonSession,
  a: Schema,
  b: Schema,
  at: Affected,
  side: 'request' | 'response',
): readonly ChangeDraft[] {
  const web = memory.losses[side];
  const root = web.nodeFor(a, b);
  const pairs = web.failuresBelow(root);
  const kept = quietCache.get(pairs) ?? {};
  quietCache.set(pairs, kept);
  kept[side] ??= pairs.flatMap((pair) =>
    (pair.localFailure?.quiet ?? []).filter((q) => q.kind !== HARMLESS[side]).map((q): Found => ({ ...q, pair })),
  );
  const list = kept[side];
  const keyOf = ({ kind }: Found): string => `${kind} ${side}`;
  if (list.length === 0 || addAffectedIfReported(memory, list, keyOf, `quiet ${side}`, at, causeOf)) return [];
  return list.flatMap((q) =>
    reportOnce(memory, q.cause, keyOf(q), at, () => {
      const way = web.shortestPath(root, q.pair)?.pointer ?? '';
      switch (q.kind) {
        case 'default':
          return defaultChange(q, way, at, side);
        case 'default added':
          return newDefault(q, way, at);
        case 'nullable':
          return otherNull(q, way, at);
        case 'declared':
          return declared(q, way, at);
        case 'undeclared':
          return undeclared(q, way, at, side);
        default:
          return discriminatorNameChange(q, way, at);
      }
    }),
  );
}

function causeOf({ cause }: Found): TextPair {
  return cause;
}

function defaultChange({ cause, name, was, is }: Found, way: string, at: Affected, side: 'request' | 'response'): ChangeDraft {
  const value = way + appendPointer('', name);
  return {
    ...newChange(at, 'versions/default-changed', 'risky', cause.a, cause.b),
    value,
    message: `the default of ${value} was ${brief(was, 80)} and is ${is === undefined ? 'none' : brief(is, 80)} now`,
    advice:
      side === 'request'
        ? 'Keep the default; clients that leave it out get another answer.'
        : 'Keep the default; clients that know the old one go on with it where nothing is sent.',
  };
}

function newDefault({ cause, name, is }: Found, way: string, at: Affected): ChangeDraft {
  const value = way + appendPointer('', name);
  return {
    ...newChange(at, 'versions/default-added', 'compatible', cause.a, cause.b),
    value,
    message: `${value} now has the default ${brief(is, 80)}; it had none`,
  };
}

function otherNull({ cause, is }: Found, way: string, at: Affected): ChangeDraft {
  const where = way === '' ? 'the body' : way;
  return {
    ...newChange(at, 'versions/nullable-beside-reference', 'risky', cause.a, cause.b),
    value: way,
    message: `nullable: true ${is === true ? 'stands' : 'no longer stands'} beside allOf or $ref of ${where}, where it has no effect (3.0.3) and many read it as "or null"`,
    advice: 'Say what is meant: type: beside it, or a form for null.',
  };
}

export function undeclared({ cause, is }: Found, way: string, at: Affected, side: 'request' | 'response'): ChangeDraft {
  const names = is as readonly string[];
  const it = names.length === 1 ? 'it' : 'them';
  const what =
    side === 'request'
      ? `clients may keep sending ${it}, and nobody says what becomes of ${it}`
      : `${names.length === 1 ? 'it' : 'they'} may still come, as anything`;
  return {
    ...newChange(at, 'versions/property-undeclared', 'risky', cause.a, cause.b),
    value: way + appendPointer('', names[0] as string),
    message: `${pointers(way, names)} ${names.length === 1 ? 'is' : 'are'} no longer declared: ${what}`,
    advice: `Keep declaring ${listed(names)}.`,
  };
}

export function declared({ cause, is }: Found, way: string, at: Affected): ChangeDraft {
  const names = is as readonly string[];
  const [they, them] = names.length === 1 ? ['it is', 'it'] : ['they are', 'them'];
  return {
    ...newChange(at, 'versions/request-property-declared', 'risky', cause.a, cause.b),
    value: way + appendPointer('', names[0] as string),
    message: `clients may now send ${pointers(way, names)}; a client that already sent ${them} was ignored, and now ${they} read or rejected`,
    advice: `Check recorded requests: no client should send ${them} yet.`,
  };
}

function pointers(way: string, names: readonly string[]): string {
  return listed(names.map((name) => way + appendPointer('', name)));
}

function discriminatorNameChange({ cause, name, is }: Found, way: string, at: Affected): ChangeDraft {
  const names = (is as readonly string[]).map((n) => JSON.stringify(n));
  const value = way + appendPointer('', name);
  return {
    ...newChange(at, 'versions/form-name-added', 'risky', cause.a, cause.b),
    value,
    message: `${value} may be ${names.join(' or ')} now, by which clients tell no form yet`,
    advice: 'Tell clients; those that know the old names alone may stumble.',
  };
}
