/** Holds a body against its schema, with the names in it that were probably meant for others. */
import { isMapping, type Mapping } from '../../base/json.ts';
import { suggest } from '../../base/nearest-word.ts';
import { appendPointer } from '../../base/place.ts';
import type { MediaRange } from '../../media/ranges.ts';
import type { Schema } from '../../schema/model/schema.ts';
import { toDisjuncts } from '../../schema/normalise/flatten.ts';
import { validate } from '../../schema/validate/validate.ts';
import type { Media } from '../model/contract.ts';
import type { RequestError } from './complaint.ts';
import { deserializeForm, sentTexts } from './parse-values.ts';

/** What is wrong with a body of this type. Types that are neither JSON nor a form are not looked into. */
export function bodyComplaints({ schema }: Media, type: MediaRange, body: string): readonly RequestError[] {
  const complain = (message: string, pointer: string, status: number | null, suggestion?: string): RequestError => ({
    in: 'body',
    name: '',
    pointer,
    message,
    suggestion,
    status,
  });
  const json = type.subtype === 'json' || type.subtype.endsWith('+json');
  const form = type.type === 'application' && type.subtype === 'x-www-form-urlencoded';
  let value: unknown;
  if (json) {
    try {
      value = JSON.parse(body);
    } catch (error) {
      return [complain(`the body is not JSON: ${(error as Error).message}`, '', 400)];
    }
  } else if (form && schema !== undefined) value = deserializeForm(schema, sentTexts(new URLSearchParams(body)));
  else return [];
  if (schema === undefined) return [];
  const wrong = validate(schema, value, 'request').map((m) => complain(m.message, m.pointer, 400));
  const near = nearNames(schema, value, '').filter((n) => !wrong.some((w) => w.pointer === n.pointer));
  return [
    ...wrong,
    ...near.map((n) =>
      complain(`the property "${n.name}" is not declared; did you mean "${n.meant}"?`, n.pointer, null, n.meant),
    ),
  ];
}

interface NearName {
  readonly pointer: string;
  readonly name: string;
  readonly meant: string;
}

/** Names that an open schema lets through and that are nearly declared ones. */
function nearNames(schema: Schema, value: unknown, at: string): readonly NearName[] {
  const ways = toDisjuncts(schema, 8);
  if (Array.isArray(value)) {
    const items = ways.find((k) => k.items !== undefined)?.items;
    return items === undefined ? [] : value.flatMap((v, i) => nearNames(items, v, appendPointer(at, i)));
  }
  if (!isMapping(value)) return [];
  const declared = new Map(ways.flatMap((k) => [...k.properties]));
  if (declared.size === 0 || ways.some((k) => k.additional !== undefined || k.patternProperties.size > 0)) return [];
  return Object.keys(value).flatMap((name): readonly NearName[] => {
    const own = declared.get(name);
    if (own !== undefined) return nearNames(own, (value as Mapping)[name], appendPointer(at, name));
    const meant = suggest(
      name,
      [...declared.keys()].filter((d) => !(d in value)),
    );
    return meant === undefined ? [] : [{ pointer: appendPointer(at, name), name, meant }];
  });
}
