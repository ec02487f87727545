/**
 * From pieces to languages. A path is the text of its decoded segments, each behind a `BOUNDARY`: `/locks/7` is
 * boundary, `locks`, boundary, `7`. Segments are compared one by one where both sides have segments; where a span is
 * involved, the rest of the path is one language.
 */
import { InternTable, memoise, RecentMap } from '../base/memo.ts';
import { ANY_CHARACTER, BOUNDARY, unionSets } from '../language/charset.ts';
import { ANY, type Expression, literal, NOTHING, oneOf, repeat, SLASH, sequence } from '../language/expression.ts';
import { accepts, intersect, type Language, languageOf, languageOrLarge, wordLanguage } from '../language/language.ts';
import { segmentTest } from './match-segment.ts';
import { literalText, type Part, type Piece, type Segment, type Shape } from './pattern.ts';
import { languageOfType, type ParameterType } from './types.ts';

/** What of a router changes the languages themselves. */
export interface MatchOptions {
  /** Literal text is matched in either case. */
  readonly eitherCase: boolean;
  /** A parameter of type text may be empty. */
  readonly emptyValue: boolean;
  /** The longest value of a parameter, in characters. */
  readonly longest: number;
  /** Written types are part of the match. */
  readonly typesMatch: boolean;
}

export const PLAIN_READING: MatchOptions = {
  eitherCase: false,
  emptyValue: false,
  longest: Number.POSITIVE_INFINITY,
  typesMatch: true,
};

const ANY_OR_SLASH: Expression = oneOf(unionSets(ANY_CHARACTER, [BOUNDARY, BOUNDARY]));
/** `/segment`, not empty. */
const NAMED = sequence(SLASH, repeat(ANY, 1));
/** `(/segment)*` */
const ALL = repeat(sequence(SLASH, repeat(ANY)));

export interface Compiler {
  readonly reading: MatchOptions;
  /** The language of one segment's text, without its slash. */
  readonly segment: (segment: Segment) => Language;
  /** The structure of a segment; equal keys match the same texts. Costs no automaton for several parts. */
  readonly key: (segment: Segment) => string;
  /** Does a segment match a text? Costs no automaton for several parts. */
  readonly test: (segment: Segment) => (text: string) => boolean;
  /** The language of the pieces from `from` on, each behind its slash. */
  readonly rest: (shape: Shape, from: number) => Language;
  /** The structure of these pieces; equal keys match the same. */
  readonly restKey: (shape: Shape, from: number) => string;
  /** The language of one parameter's value. */
  readonly value: (type: ParameterType) => Language;
}

/**
 * A compiler for one reading. Languages are interned, so the same segment costs one lookup. What is too large for an
 * automaton throws `LimitReached` when its automaton is asked for, not here.
 */
export function compiler(reading: MatchOptions): Compiler {
  const segments = new WeakMap<Segment, Language>();
  const tests = new WeakMap<Segment, (text: string) => boolean>();
  const values = new WeakMap<ParameterType, Language>();
  const rests = new RecentMap<string, Language>(2_000);
  const value = (type: ParameterType): Language => remember(values, type, () => valueLanguage(type, reading));
  const segment = (s: Segment): Language => remember(segments, s, () => segmentLanguage(s, reading, value));
  return {
    reading,
    value,
    segment,
    key: (s) => segmentKey(s, reading, value),
    test: (s) => {
      const known = tests.get(s) ?? testOf(s, reading, value, segment);
      tests.set(s, known);
      return known;
    },
    restKey,
    rest: (shape, from) => {
      const key = restKey(shape, from);
      return remember(rests, key, () => languageOrLarge(sequence(...shape.slice(from).map((p) => pieceExpression(p, reading)))));
    },
  };
}

function remember<K extends object | string>(
  known: { get(k: K): Language | undefined; set(k: K, l: Language): unknown },
  key: K,
  make: () => Language,
): Language {
  const found = known.get(key);
  if (found !== undefined) return found;
  const made = make();
  known.set(key, made);
  return made;
}

function segmentLanguage(segment: Segment, reading: MatchOptions, value: (type: ParameterType) => Language): Language {
  const text = literalText(segment);
  if (text !== undefined && !reading.eitherCase) return wordLanguage(text);
  const only = segment.parts.length === 1 ? segment.parts[0] : undefined;
  if (only?.kind === 'parameter') return value(only.type);
  return languageOrLarge(sequence(...segment.parts.map((p) => partExpression(p, reading))));
}

function segmentKey({ parts }: Segment, { eitherCase }: MatchOptions, value: (type: ParameterType) => Language): string {
  return parts
    .map((part) => {
      if (part.kind === 'literal') return `=${JSON.stringify(eitherCase ? part.text.toLowerCase() : part.text)}`;
      return part.kind === 'parameter' ? `{${value(part.type).id}}` : partKey(part);
    })
    .join('');
}

function testOf(
  segment: Segment,
  reading: MatchOptions,
  value: (type: ParameterType) => Language,
  language: (segment: Segment) => Language,
): (text: string) => boolean {
  const [only] = segment.parts;
  if (segment.parts.length === 1 && only?.kind === 'parameter') {
    const { min, max } = plainLengths(only.type, reading) ?? {};
    if (min !== undefined && max === Number.POSITIVE_INFINITY) return (text) => text.length >= min;
    const own = value(only.type);
    return (text) => accepts(own, text);
  }
  const whole = (): Language => language(segment);
  const part = ({ type }: { readonly type: ParameterType }) => plainLengths(type, reading) ?? value(type);
  return segmentTest(segment.parts, reading.eitherCase, part, whole) ?? ((text) => accepts(whole(), text));
}

/** The lengths of a value that may be any text; undefined where its type says more. */
function plainLengths(type: ParameterType, reading: MatchOptions): { readonly min: number; readonly max: number } | undefined {
  if (type.name !== 'text' && reading.typesMatch) return undefined;
  return { min: reading.emptyValue ? 0 : 1, max: reading.longest };
}

function valueLanguage(type: ParameterType, reading: MatchOptions): Language {
  const plain = reading.typesMatch && !reading.emptyValue && reading.longest === Number.POSITIVE_INFINITY;
  return plain ? languageOfType(type) : languageOrLarge(valueExpression(type, reading));
}

function valueExpression(type: ParameterType, reading: MatchOptions): Expression {
  if (type.name === 'text' || !reading.typesMatch) return repeat(ANY, reading.emptyValue ? 0 : 1, reading.longest);
  const { expression } = type;
  // Counts stay counts, which keeps automata small.
  if (expression.kind === 'repeat' && expression.item.kind === 'set') {
    const max = Math.min(expression.max, reading.longest);
    return max < expression.min ? NOTHING : repeat(expression.item, expression.min, max);
  }
  const own = languageOfType(type);
  if (reading.longest === Number.POSITIVE_INFINITY || own.large !== undefined) return type.expression;
  return { kind: 'automaton', automaton: intersect(own, languageOf(repeat(ANY, 0, reading.longest))).automaton };
}

function partExpression(part: Part, reading: MatchOptions): Expression {
  switch (part.kind) {
    case 'literal':
      return literal(part.text, reading.eitherCase);
    case 'parameter':
      return valueExpression(part.type, reading);
    case 'expression':
      return part.expression;
    case 'tail':
      return part.takes === 'segments'
        ? sequence(repeat(ANY, 1), repeat(NAMED))
        : repeat(ANY_OR_SLASH, part.takes === 'some' ? 1 : 0);
    default:
      return part satisfies never;
  }
}

/** The expression of a piece with the slash before it. */
function pieceExpression(piece: Piece, reading: MatchOptions): Expression {
  const [only] = piece.parts;
  if (piece.parts.length === 1 && only?.kind === 'tail') {
    if (only.takes === 'all') return ALL;
    if (only.takes === 'segments') return repeat(NAMED, 1);
    return sequence(SLASH, repeat(ANY_OR_SLASH, only.takes === 'some' ? 1 : 0));
  }
  if (only?.kind === 'expression' && only.source.startsWith('/^')) return only.expression;
  if (only?.kind === 'expression' && only.ownsSlash) return only.expression;
  return sequence(SLASH, ...piece.parts.map((p) => partExpression(p, reading)));
}

function restKey(shape: Shape, from: number): string {
  return shape
    .slice(from)
    .map((piece) => `/${pieceKey(piece)}`)
    .join('');
}

function pieceKey(piece: Piece): string {
  return piece.parts.map(partKey).join('');
}

/** One object for each expression, which lives as long as a type that has it. */
const expressions = new InternTable<{ readonly number: number }>();
let lastNumber = 0;

const expressionOf = memoise(({ expression }: ParameterType) =>
  expressions.remember(JSON.stringify(expression), () => {
    lastNumber += 1;
    return { number: lastNumber };
  }),
);

/** A text of its own for each type: two tables may call two types the same. */
export const typeKey = memoise((type: ParameterType): string => `${type.name}#${expressionOf(type).number}`);

function partKey(part: Part): string {
  switch (part.kind) {
    case 'literal':
      return JSON.stringify(part.text);
    case 'parameter':
      return `{${typeKey(part.type)}}`;
    case 'expression':
      return `(${part.source})`;
    case 'tail':
      return `{${part.takes}}`;
    default:
      return part satisfies never;
  }
}
