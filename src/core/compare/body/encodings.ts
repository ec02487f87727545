/** How the properties of a form are written, old and new: the same value is another text, or a part of another type. */
import type { Encoding, Media } from '../../contract/model/contract.ts';
import type { Keywords, Schema } from '../../schema/model/schema.ts';
import { toDisjuncts } from '../../schema/normalise/flatten.ts';
import { type Affected, type Change, type ChangeDraft, newChange } from '../changes/change.ts';
import { isForm } from './form-bodies.ts';
import { matchedMedia } from './match-media.ts';

/** Of properties that both versions declare, where one of them says something (3.1, 4.8.14.4 and 4.8.15). */
export function encodingChanges(old: Media, now: Media, at: Affected, request: Change['witness']): readonly ChangeDraft[] {
  if (!isForm(at) || old.schema === undefined || now.schema === undefined) return [];
  const names = new Set([...(old.encoding?.keys() ?? []), ...(now.encoding?.keys() ?? [])]);
  return [...names].flatMap((name) => {
    const [was, is] = [propertyOf(old.schema as Schema, name), propertyOf(now.schema as Schema, name)];
    if (was.length === 0 || is.length === 0) return [];
    const [a, b] = [old, now].map((m): Encoding => m.encoding?.get(name) ?? { ...UNSAID, place: m.place }) as [
      Encoding,
      Encoding,
    ];
    const told = { at, a, b, name, request };
    return /^multipart/iu.test(at.media ?? '') && (a.types ?? b.types) !== undefined
      ? partChanges(told, a.types ?? [usualType(was)], b.types ?? [usualType(is)])
      : styleChanges(told, [...was, ...is]);
  });
}

const UNSAID = { types: undefined, style: 'form', explode: true } as const;

interface Told {
  readonly at: Affected;
  readonly a: Encoding;
  readonly b: Encoding;
  readonly name: string;
  readonly request: Change['witness'];
}

/** Only lists and objects are written in more than one way. */
function styleChanges({ at, a, b, name, request }: Told, values: readonly Keywords[]): readonly ChangeDraft[] {
  const compound = values.some((k) => k.types?.some((t) => t === 'array' || t === 'object'));
  if (!compound || (a.style === b.style && a.explode === b.explode)) return [];
  const writing = ({ style, explode }: Encoding): string => `${style} with explode: ${explode}`;
  return [
    {
      ...newChange(at, 'versions/form-style', 'breaking', a, b),
      message: `${name} of the form is written in another way: ${writing(a)} became ${writing(b)}`,
      advice: 'Keep the style; take both for a while.',
      witness: request,
    },
  ];
}

function partChanges({ at, a, b, name, request }: Told, was: readonly string[], is: readonly string[]): readonly ChangeDraft[] {
  const listed = (types: readonly string[], { place }: Encoding): readonly Media[] =>
    types.map((type) => ({ type, schema: undefined, examples: [], place }));
  const { uncovered, added } = matchedMedia(listed(was, a), listed(is, b), 'request');
  // What stands for what nobody said is a habit more than a promise.
  const sure = b.types !== undefined;
  const more = sure ? added : [];
  return [
    ...uncovered.map(
      ({ type }): ChangeDraft => ({
        ...newChange(at, 'versions/part-type-removed', sure ? 'breaking' : 'risky', a, b),
        message: sure
          ? `the part ${name} is no longer taken as ${type}`
          : `nothing is said of the type of the part ${name} any more: it was ${type}, and is ${is.join(', ')} by default`,
        advice: `Keep accepting ${name} as ${type} in this version.`,
        witness: request,
      }),
    ),
    ...more.map(
      ({ type }): ChangeDraft => ({
        ...newChange(at, 'versions/part-type-added', 'compatible', a, b),
        message: `the part ${name} is taken as ${type} too`,
      }),
    ),
  ];
}

/** What is said of a property, through all ways of the form. */
function propertyOf(schema: Schema, name: string): readonly Keywords[] {
  return toDisjuncts(schema, 4).flatMap((k) => {
    const own = k.properties.get(name);
    return own === undefined ? [] : toDisjuncts(own, 4);
  });
}

/** The type of a part of which nothing is said (3.1, 4.8.15.1); of a list each item is one. */
function usualType([whole]: readonly Keywords[]): string {
  const isList = whole?.types?.[0] === 'array';
  const [k] = isList ? (whole.items === undefined ? [] : toDisjuncts(whole.items, 1)) : [whole];
  const [type] = k?.types ?? [];
  if (type === 'object' || type === 'array') return 'application/json';
  return type === undefined || k?.format === 'binary' ? 'application/octet-stream' : 'text/plain';
}
