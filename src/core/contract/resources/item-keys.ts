/** Does an answer tell the key by which an item is addressed? */

import { normalisedName } from '../../base/bare-name.ts';
import type { Keywords, Schema } from '../../schema/model/schema.ts';
import { toDisjuncts } from '../../schema/normalise/flatten.ts';
import type { Operation } from '../model/contract.ts';

/** What tells the key, in words; `open` where it may stand in what is not declared; `lacks` where it can't; `silent` where nothing is said. */
export type Telling = { readonly by: string } | 'open' | 'lacks' | 'silent';

/** How many objects deep a key is looked for; lists count for nothing. */
const DEEP = 2;
/** How many forms of a schema are looked at. */
const MOST_WAYS = 4;

/** Names that stand for a key of any kind. */
const ANY_KEY = new Set(['id', 'pk', 'uuid', 'guid', 'href', 'url', 'uri', 'self', 'links', 'selflink', 'location']);
/** Words that stand for the key of what is named before them. */
const ENDINGS = ['id', 'key', 'number', 'no', 'code', 'slug', 'name', 'uuid', 'hash', 'ref', 'token'];

/** Does a property hold the key that a path calls by this parameter: `liftId`, `lift_id`, `id` of `{liftId}`, and the reverse? */
export function isKey(property: string, parameter: string): boolean {
  const [own, asked] = [normalisedName(property), normalisedName(parameter)];
  if (own === asked || ANY_KEY.has(own)) return true;
  // A thing that is called by its kind has a name or a code: `{ticker}`; one that says what of it is meant has just that.
  const ending = ENDINGS.find((end) => asked.endsWith(end));
  if (
    ending === undefined
      ? ENDINGS.includes(own)
      : asked !== ending && ENDINGS.some((end) => own === asked.slice(0, -ending.length) + end)
  )
    return true;
  const long = own.length > 5 && asked.length > 5 && (own.endsWith(asked) || asked.endsWith(own));
  return (
    long ||
    ENDINGS.some(
      (end) => (own === end && asked.endsWith(end)) || (asked === end && own.endsWith(end)) || own === `${asked}${end}`,
    )
  );
}

/** What the successful answers of an operation tell of an item's key. O(properties down to two objects deep). */
export function tellingOf(operation: Operation, parameter: string, list: boolean): Telling {
  const good = operation.responses.filter((r) => /^[23]/u.test(r.status));
  if (good.some((r) => r.headers.some((h) => /^(?:content-)?location$/iu.test(h.name)))) return { by: 'the header Location' };
  if (good.some((r) => r.links.length > 0)) return { by: 'a link' };
  const content = good.filter((r) => r.status.startsWith('2')).flatMap((r) => r.content);
  if (content.length === 0) return 'silent';
  if (content.some((m) => m.schema === undefined)) return 'open';
  const found = content.map((m) => search(m.schema as Schema, parameter, { depth: 0, listed: false }));
  const told = found.find((f) => f.by !== undefined)?.by;
  if (told !== undefined) return { by: told };
  if (found.some((f) => f.open)) return 'open';
  // What lists nothing was never meant to tell the keys of items.
  return list && !found.some((f) => f.lists) ? 'silent' : 'lacks';
}

interface At {
  /** How many objects it is inside. */
  readonly depth: number;
  /** It is an item of a list. */
  readonly listed: boolean;
  /** It is inside an item of a list: what is listed there is something else, and so are its keys. */
  readonly inItem?: boolean;
  readonly foreign?: boolean;
}

interface Found {
  readonly by?: string;
  readonly open: boolean;
  readonly lists: boolean;
}

function search(schema: Schema, parameter: string, at: At): Found {
  const parts = toDisjuncts(schema, MOST_WAYS).map((k) => searchIn(k, parameter, at));
  const by = parts.find((p) => p.by !== undefined)?.by;
  return {
    ...(by === undefined ? {} : { by }),
    open: parts.length === 0 || parts.some((p) => p.open),
    lists: parts.some((p) => p.lists),
  };
}

function searchIn(k: Keywords, parameter: string, at: At): Found {
  const types = k.types ?? [];
  const isObject =
    types.includes('object') || k.properties.size > 0 || k.additional !== undefined || k.patternProperties.size > 0;
  if (types.includes('array') || k.items !== undefined) {
    if (k.items === undefined) return { open: at.depth === 0, lists: true };
    return { ...search(k.items, parameter, { ...at, listed: true, foreign: at.inItem === true }), lists: true };
  }
  if (!isObject) {
    // A list of texts or numbers is a list of keys.
    if (at.listed && at.foreign !== true && types.some((t) => t === 'string' || t === 'integer' || t === 'number'))
      return { by: 'the items themselves', open: false, lists: false };
    return { open: types.length === 0 && at.depth === 0, lists: false };
  }
  const names = [...k.properties.keys()];
  const own =
    names.find((n) => normalisedName(n) === normalisedName(parameter)) ??
    (at.foreign === true ? undefined : names.find((n) => isKey(n, parameter)));
  if (own !== undefined) return { by: `the property ${own}`, open: false, lists: false };
  if (isMap(k)) return { by: 'the names of its properties', open: false, lists: true };
  const open = (names.length === 0 || saysOpen(k)) && at.depth <= 1;
  if (at.depth >= DEEP) return { open, lists: false };
  const inner = [...k.properties.values()].map((s) =>
    search(s, parameter, { depth: at.depth + 1, listed: false, inItem: at.inItem === true || at.listed }),
  );
  const by = inner.find((f) => f.by !== undefined)?.by;
  return {
    ...(by === undefined ? {} : { by }),
    open: open || inner.some((f) => f.open && f.lists),
    lists: inner.some((f) => f.lists),
  };
}

/** Its names are whatever there is: `{ additionalProperties: { … } }`. */
function isMap(k: Keywords): boolean {
  const rest = k.additional?.keywords();
  return (rest !== undefined && typeof rest !== 'boolean') || k.patternProperties.size > 0;
}

function saysOpen(k: Keywords): boolean {
  return k.additional?.keywords() === true;
}
