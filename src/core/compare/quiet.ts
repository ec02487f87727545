/** What changes no set of values: another default (3.1, 4.8.24), another name that tells forms apart (4.8.25), what is declared. */
import { brief } from '../brief.ts';
import { isMapping, sameJson } from '../json.ts';
import { below, componentName } from '../place.ts';
import { flat } from '../schema/flat.ts';
import { type Keywords, type Schema, target } from '../schema/node.ts';
import { type Twin, twinOf } from '../schema/same.ts';
import { type Affected, type Made, plain } from './change.ts';
import type { LossPair } from './losses.ts';
import type { Memory } from './memory.ts';
import { listed } from './reasons.ts';
import { tell, touchedBefore } from './telling.ts';

/** Of one pair of schemas; `name` is the property that has another default, or that tells the forms apart. */
export interface Quiet {
  readonly kind: 'default' | 'default added' | 'form name' | 'nullable' | 'undeclared' | 'declared';
  readonly name: string;
  readonly cause: Twin;
  readonly was: unknown;
  /** `undefined` where there is no default any more. */
  readonly is: unknown;
}

/** A default that counts, because who sends it may leave the property out. Of several forms nobody knows which became which. */
export function defaultChanged(name: string, old: readonly Keywords[], now: readonly Keywords[]): readonly Quiet[] {
  const [x, y] = [onlyOf(name, old), onlyOf(name, now)];
  if (x === undefined || y === undefined || y.isRequired) return [];
  const cause = twinOf(target(x.schema), target(y.schema));
  // The same text, or one that only leads to what differs.
  if (!cause.differs || cause.parts !== undefined) return [];
  const was = flat(x.schema, 1)[0]?.default;
  const is = flat(y.schema, 1)[0]?.default;
  if (was === undefined) return is === undefined ? [] : [{ kind: 'default added', name, cause, was: undefined, is: is.value }];
  return is !== undefined && sameDefault(was.value, is.value)
    ? []
    : [{ kind: 'default', name, cause, was: was.value, is: is?.value }];
}

/** The same value, or its text: `"false"` is read as `false` where a boolean is meant. */
export function sameDefault(a: unknown, b: unknown): boolean {
  const isPlain = (v: unknown): boolean => typeof v === 'boolean' || typeof v === 'number' || typeof v === 'string';
  return sameJson(a, b) || (isPlain(a) && isPlain(b) && String(a) === String(b));
}

/** What the only object among several ways says of a property. */
function onlyOf(name: string, ways: readonly Keywords[]): { readonly schema: Schema; readonly isRequired: boolean } | undefined {
  const [k, ...more] = ways.filter((w) => w.properties.size > 0);
  const schema = k?.properties.get(name);
  return k === undefined || schema === undefined || more.length > 0
    ? undefined
    : { schema, isRequired: k.required.includes(name) };
}

/** Names that a discriminator knows now, for the same forms. */
export function formNamesAdded(a: Schema, b: Schema): readonly Quiet[] {
  // Most have none, which their text tells.
  if (isMapping(b.raw) && !('discriminator' in b.raw)) return [];
  const [x, y] = [a.keywords(), b.keywords()];
  if (typeof x === 'boolean' || typeof y === 'boolean' || x.discriminator?.property !== y.discriminator?.property) return [];
  const forms = (k: Keywords): readonly Schema[] => k.oneOf ?? k.anyOf ?? [];
  // A form more is no quiet change.
  if (forms(x).length !== forms(y).length) return [];
  const known = new Set([...(x.discriminator?.names ?? []), ...forms(x).map((s) => componentName(target(s).place))]);
  const added = (y.discriminator?.names ?? []).filter((name) => !known.has(name));
  if (added.length === 0) return [];
  return [{ kind: 'form name', name: y.discriminator?.property ?? '', cause: twinOf(a, b), was: undefined, is: added }];
}

/** `nullable` beside `allOf` or `$ref` has no effect (3.0.3), and many documents mean it. */
export function nullableBeside(a: Schema, b: Schema): readonly Quiet[] {
  const says = ({ raw }: Schema): boolean =>
    isMapping(raw) && raw.nullable === true && raw.type === undefined && (raw.allOf !== undefined || raw.$ref !== undefined);
  if (!isMapping(a.raw) || !isMapping(b.raw) || says(a) === says(b)) return [];
  return [{ kind: 'nullable', name: '', cause: twinOf(a, b), was: says(a), is: says(b) }];
}

/** Properties of one object, told together. */
export function named(kind: 'declared' | 'undeclared', names: readonly string[], a: Schema, b: Schema): readonly Quiet[] {
  const [name] = names;
  return name === undefined ? [] : [{ kind, name, cause: twinOf(a, b), was: undefined, is: names }];
}

/** Of one list of pairs, which many bodies share, for each side. */
const made = new WeakMap<readonly LossPair[], Partial<Record<'request' | 'response', readonly Found[]>>>();

/** What hurts nobody on this side: a form's name those who send it, a new property those who read it. */
const HARMLESS = { request: 'form name', response: 'declared' } as const;

interface Found extends Quiet {
  readonly pair: LossPair;
}

/** All of it in two bodies, each told once. A form's name hurts those who read it. */
export function quietChanges(memory: Memory, a: Schema, b: Schema, at: Affected, side: 'request' | 'response'): readonly Made[] {
  const web = memory.losses[side];
  const root = web.pair(a, b);
  const pairs = web.flaws(root);
  const kept = made.get(pairs) ?? {};
  made.set(pairs, kept);
  kept[side] ??= pairs.flatMap((pair) =>
    (pair.flaw?.quiet ?? []).filter((q) => q.kind !== HARMLESS[side]).map((q): Found => ({ ...q, pair })),
  );
  const list = kept[side];
  const keyOf = ({ kind }: Found): string => `${kind} ${side}`;
  if (list.length === 0 || touchedBefore(memory, list, keyOf, `quiet ${side}`, at, causeOf)) return [];
  return list.flatMap((q) =>
    tell(memory, q.cause, keyOf(q), at, () => {
      const way = web.wayBetween(root, q.pair)?.pointer ?? '';
      switch (q.kind) {
        case 'default':
          return otherDefault(q, way, at, side);
        case 'default added':
          return newDefault(q, way, at);
        case 'nullable':
          return otherNull(q, way, at);
        case 'declared':
          return declared(q, way, at);
        case 'undeclared':
          return undeclared(q, way, at, side);
        default:
          return otherName(q, way, at);
      }
    }),
  );
}

function causeOf({ cause }: Found): Twin {
  return cause;
}

function otherDefault({ cause, name, was, is }: Found, way: string, at: Affected, side: 'request' | 'response'): Made {
  const value = way + below('', name);
  return {
    ...plain(at, 'versions/default-changed', 'risky', cause.a, cause.b),
    value,
    message: `the default of ${value} was ${brief(was, 80)} and is ${is === undefined ? 'none' : brief(is, 80)} now`,
    advice:
      side === 'request'
        ? 'Keep the default; clients that leave it out get another answer.'
        : 'Keep the default; clients that know the old one go on with it where nothing is sent.',
  };
}

function newDefault({ cause, name, is }: Found, way: string, at: Affected): Made {
  const value = way + below('', name);
  return {
    ...plain(at, 'versions/default-added', 'compatible', cause.a, cause.b),
    value,
    message: `${value} now has the default ${brief(is, 80)}; it had none`,
  };
}

function otherNull({ cause, is }: Found, way: string, at: Affected): Made {
  const where = way === '' ? 'the body' : way;
  return {
    ...plain(at, 'versions/nullable-beside-reference', 'risky', cause.a, cause.b),
    value: way,
    message: `nullable: true ${is === true ? 'stands' : 'no longer stands'} beside allOf or $ref of ${where}, where it has no effect (3.0.3) and many read it as "or null"`,
    advice: 'Say what is meant: type: beside it, or a form for null.',
  };
}

function undeclared({ cause, is }: Found, way: string, at: Affected, side: 'request' | 'response'): Made {
  const names = is as readonly string[];
  const it = names.length === 1 ? 'it' : 'them';
  const what =
    side === 'request'
      ? `clients may go on sending ${it}, and nobody says what becomes of ${it}`
      : `${names.length === 1 ? 'it' : 'they'} may still come, as anything`;
  return {
    ...plain(at, 'versions/property-undeclared', 'risky', cause.a, cause.b),
    value: way + below('', names[0] as string),
    message: `${pointers(way, names)} ${names.length === 1 ? 'is' : 'are'} no longer declared: ${what}`,
    advice: `Go on declaring ${listed(names)}.`,
  };
}

function declared({ cause, is }: Found, way: string, at: Affected): Made {
  const names = is as readonly string[];
  const [they, them] = names.length === 1 ? ['it is', 'it'] : ['they are', 'them'];
  return {
    ...plain(at, 'versions/request-property-declared', 'risky', cause.a, cause.b),
    value: way + below('', names[0] as string),
    message: `clients may now send ${pointers(way, names)}; a client that already sent ${them} was ignored, and now ${they} read or rejected`,
    advice: `Check recorded requests: no client should send ${them} yet.`,
  };
}

function pointers(way: string, names: readonly string[]): string {
  return listed(names.map((name) => way + below('', name)));
}

function otherName({ cause, name, is }: Found, way: string, at: Affected): Made {
  const names = (is as readonly string[]).map((n) => JSON.stringify(n));
  const value = way + below('', name);
  return {
    ...plain(at, 'versions/form-name-added', 'risky', cause.a, cause.b),
    value,
    message: `${value} may be ${names.join(' or ')} now, by which clients tell no form yet`,
    advice: 'Tell clients; those that know the old names alone may stumble.',
  };
}
