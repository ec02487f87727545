/** A parameter's schema as a language of the texts that stand for its values on the wire. */
import { RecentMap } from '../../base/memo.ts';
import { ANY, choice, type Expression, literal, oneOf, optional, repeat, sequence, span } from '../../language/expression.ts';
import { intersect, type Language, languageOf, nothing, subtract, union, wordLanguage } from '../../language/language.ts';
import { type Decided, decide, LimitReached } from '../../language/limits.ts';
import { integerRange } from '../../paths/integers.ts';
import type { Keywords, Schema } from '../model/schema.ts';
import type { MessageEnd } from '../model/side.ts';
import { formatLanguage } from '../vocabulary/formats.ts';
import { patternLanguage } from '../vocabulary/patterns.ts';

/** How a list is written into one text; undefined where each item is sent by itself. */
export type Separator = ',' | ' ' | '|' | '\t' | undefined;

const lengthCache = new RecentMap<string, Language>(500);

/** All texts of so many characters. */
function ofLength(least: number, most: number): Language {
  return lengthCache.remember(`${least} ${most}`, () => languageOf(repeat(ANY, least, most)));
}

const ANYTHING = (): Language => ofLength(0, Number.POSITIVE_INFINITY);
const digit = span('0', '9');
const INTEGER: Expression = sequence(optional(literal('-')), repeat(digit, 1));
const exponent = sequence(oneOf([0x45, 0x45, 0x65, 0x65]), optional(oneOf([0x2b, 0x2b, 0x2d, 0x2d])), repeat(digit, 1));
const NUMBER: Expression = sequence(INTEGER, optional(sequence(literal('.'), repeat(digit, 1))), optional(exponent));

const fraction = sequence(literal('.'), repeat(digit), span('1', '9'));
/** The shortest form of each (RFC 8259, 6): no zeros in front or at the end, and no minus before nothing. */
const CANONICAL_NUMBER: Expression = choice(
  literal('0'),
  sequence(optional(literal('-')), span('1', '9'), repeat(digit), optional(fraction), optional(exponent)),
  sequence(optional(literal('-')), literal('0'), fraction, optional(exponent)),
);

/** What a sender writes, or all that a receiver takes: a whole number may have leading zeros, as programs that read numbers allow. */

interface Writing {
  readonly separator: Separator;
  readonly end: MessageEnd;
}

const known: Readonly<Record<MessageEnd, WeakMap<Schema, Decided<Language>>>> = {
  producer: new WeakMap(),
  consumer: new WeakMap(),
};

/**
 * The texts of a schema's values. `int32` and `int64` are left aside, because no router knows them. Undecided, with the
 * keyword, where a keyword can't be said of texts.
 */
export function languageOfSchema(schema: Schema, separator: Separator, end: MessageEnd = 'consumer'): Decided<Language> {
  const ask = (): Decided<Language> => decide(() => textLanguage(schema, { separator, end }, new Set()));
  if (separator !== ',') return ask();
  const found = known[end].get(schema) ?? ask();
  known[end].set(schema, found);
  return found;
}

function textLanguage(schema: Schema, writing: Writing, trail: ReadonlySet<Schema>): Language {
  const k = schema.keywords();
  if (typeof k === 'boolean') return k ? ANYTHING() : nothing();
  if (trail.has(schema)) throw new LimitReached('its schema refers to itself');
  const next = new Set([...trail, schema]);
  const sub = (s: Schema): Language => textLanguage(s, writing, next);
  if (k.if !== undefined) throw new LimitReached('"if" is not decided for texts');
  let out = languageByType(k, writing, next);
  if (k.enum !== undefined)
    out = intersect(out, union(k.enum.map((e) => wordLanguage(typeof e === 'string' ? e : JSON.stringify(e)))));
  for (const s of [...(k.ref === undefined ? [] : [k.ref]), ...k.allOf]) out = intersect(out, sub(s));
  for (const some of [k.anyOf, k.oneOf]) if (some !== undefined && some.length > 0) out = intersect(out, union(some.map(sub)));
  return k.not === undefined ? out : subtract(out, languageExcludedBy(k, k.not, sub));
}

/** The texts that `not` takes away: those of values of the same types, because one text may stand for values of several. */
function languageExcludedBy(k: Keywords, not: Schema, sub: (s: Schema) => Language): Language {
  const other = not.keywords();
  if (typeof other === 'boolean') return sub(not);
  const { types } = k;
  if (
    types !== undefined &&
    other.types?.every((t) => !types.includes(t) && !(t === 'number' && types.includes('integer'))) === true
  )
    return nothing();
  const alike =
    types === undefined ? other.types === undefined : types.length === 1 && (other.types ?? types).includes(types[0] as never);
  if (!alike) throw new LimitReached('"not" is not decided for texts');
  return other.types === undefined && other.enum === undefined && types !== undefined
    ? sameTypedLanguage(other, types, sub, not)
    : sub(not);
}

function sameTypedLanguage(
  other: Keywords,
  types: NonNullable<Keywords['types']>,
  sub: (s: Schema) => Language,
  not: Schema,
): Language {
  const keywords: Keywords = { ...other, types };
  return sub({ place: not.place, raw: undefined, keywords: () => keywords });
}

/** By the types that are named; a schema that names none says what its other keywords say. */
function languageByType(k: Keywords, writing: Writing, trail: ReadonlySet<Schema>): Language {
  if (k.types === undefined) {
    const says = k.pattern ?? k.format ?? k.minLength ?? k.maxLength;
    return says === undefined ? ANYTHING() : strings(k);
  }
  return union(
    k.types.map((type) => {
      switch (type) {
        case 'integer':
          return written(integers(k), writing);
        case 'number':
          return written(numbers(k), writing);
        case 'boolean':
          return union([wordLanguage('true'), wordLanguage('false')]);
        case 'string':
          return strings(k);
        case 'null':
          // Nothing at all, or the word; the standard leaves it open (OpenAPI 3.1, 4.8.12.3).
          return union([wordLanguage(''), wordLanguage('null')]);
        case 'array':
          return lists(k, writing, trail);
        default:
          throw new LimitReached('an object is written in too many ways');
      }
    }),
  );
}

function strings(k: Keywords): Language {
  let out = ANYTHING();
  if ((k.minLength ?? 0) > (k.maxLength ?? Infinity)) return nothing();
  if (k.minLength !== undefined || k.maxLength !== undefined)
    out = ofLength(k.minLength ?? 0, k.maxLength ?? Number.POSITIVE_INFINITY);
  const format = k.format === undefined ? undefined : formatLanguage(k.format);
  if (format !== undefined) out = intersect(out, format);
  if (k.pattern === undefined) return out;
  const pattern = patternLanguage(k.pattern);
  if (pattern === undefined) throw new LimitReached(`the pattern ${k.pattern} is not regular`);
  return intersect(out, pattern);
}

const rangeCache = new RecentMap<string, Language>(500);

function integers(k: Keywords): Language {
  if (k.multipleOf !== undefined && k.multipleOf !== 1) throw new LimitReached('"multipleOf" is not decided for texts');
  const low = Math.max(
    k.minimum === undefined ? -Infinity : Math.ceil(k.minimum),
    k.exclusiveMinimum === undefined ? -Infinity : Math.floor(k.exclusiveMinimum) + 1,
  );
  const high = Math.min(
    k.maximum === undefined ? Infinity : Math.floor(k.maximum),
    k.exclusiveMaximum === undefined ? Infinity : Math.ceil(k.exclusiveMaximum) - 1,
  );
  if (low > high) return nothing();
  if (low === -Infinity && high === Infinity) return languageOf(INTEGER);
  return rangeCache.remember(`${low} ${high}`, () =>
    languageOf(integerRange(low === -Infinity ? undefined : BigInt(low), high === Infinity ? undefined : BigInt(high))),
  );
}

function written(numbers: Language, { end }: Writing): Language {
  return end === 'producer' ? intersect(numbers, languageOf(CANONICAL_NUMBER)) : numbers;
}

function numbers(k: Keywords): Language {
  const bound = (['minimum', 'maximum', 'exclusiveMinimum', 'exclusiveMaximum', 'multipleOf'] as const).find(
    (key) => k[key] !== undefined,
  );
  if (bound !== undefined) throw new LimitReached(`"${bound}" of a number is not decided for texts`);
  return languageOf(NUMBER);
}

function lists(k: Keywords, writing: Writing, trail: ReadonlySet<Schema>): Language {
  const { separator } = writing;
  const item = k.items === undefined ? ANYTHING() : textLanguage(k.items, writing, trail);
  if (separator === undefined) return item;
  const free = languageOf(repeat(oneOf(withoutCharacter(separator.charCodeAt(0)))));
  const one: Expression = { kind: 'automaton', automaton: intersect(item, free).automaton };
  const [least, most] = [k.minItems ?? 0, k.maxItems ?? Number.POSITIVE_INFINITY];
  if (most < least) return nothing();
  if (most === 0) return wordLanguage('');
  const more = sequence(one, repeat(sequence(literal(separator), one), Math.max(0, least - 1), most - 1));
  return languageOf(least === 0 ? choice({ kind: 'empty' }, more) : more);
}

function withoutCharacter(code: number): readonly number[] {
  return [0, code - 1, code + 1, 0xd7ff, 0xe000, 0x10ffff];
}

/** What a schema says of a text, in words: `integer from 1 to 99`, `one of "open", "closed"`. */
export function describeSchemaText(schema: Schema): string {
  const k = schema.keywords();
  if (typeof k === 'boolean') return k ? 'any text' : 'nothing';
  if (k.ref !== undefined) return describeSchemaText(k.ref);
  if (k.enum !== undefined)
    return k.enum.length === 1
      ? JSON.stringify(k.enum[0])
      : `one of ${k.enum
          .slice(0, 5)
          .map((e) => JSON.stringify(e))
          .join(', ')}${k.enum.length > 5 ? ', …' : ''}`;
  const type = k.types?.filter((t) => t !== 'null').join(' or ') ?? 'any text';
  const low = k.minimum ?? k.exclusiveMinimum;
  const high = k.maximum ?? k.exclusiveMaximum;
  const range =
    low === undefined && high === undefined
      ? ''
      : low === undefined
        ? ` up to ${high}`
        : high === undefined
          ? ` from ${low}`
          : ` from ${low} to ${high}`;
  const format = k.format === undefined ? '' : ` (${k.format})`;
  const pattern = k.pattern === undefined ? '' : ` matching ${k.pattern}`;
  const length =
    k.minLength === undefined && k.maxLength === undefined
      ? ''
      : ` of ${k.minLength ?? 0} to ${k.maxLength ?? 'any number of'} characters`;
  return `${type}${format}${range}${length}${pattern}`;
}
