/**
 * From pieces to languages. A path is the text of its decoded segments, each behind a `BOUNDARY`: `/locks/7` is
 * boundary, `locks`, boundary, `7`. Segments are compared one by one where both sides have segments; where a span is
 * involved, the rest of the path is one language.
 */
import { ANY_CHARACTER, BOUNDARY, unionSets } from '../language/charset.ts';
import { ANY, type Expression, literal, oneOf, repeat, SLASH, sequence } from '../language/expression.ts';
import { intersect, type Language, languageOf, wordLanguage } from '../language/language.ts';
import { literalText, type Part, type Piece, type Segment, type Shape } from './pattern.ts';
import { languageOfType, type ParameterType } from './types.ts';

/** What of a router changes the languages themselves. */
export interface Reading {
  /** Literal text is matched in either case. */
  readonly eitherCase: boolean;
  /** A parameter of type text may be empty. */
  readonly emptyValue: boolean;
  /** The longest value of a parameter, in characters. */
  readonly longest: number;
  /** Written types are part of the match. */
  readonly typesMatch: boolean;
}

export const PLAIN_READING: Reading = {
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
  /** The language of one segment's text, without its slash. */
  readonly segment: (segment: Segment) => Language;
  /** The language of the pieces from `from` on, each behind its slash. */
  readonly rest: (shape: Shape, from: number) => Language;
  /** The language of one parameter's value. */
  readonly value: (type: ParameterType) => Language;
}

/** A compiler for one reading. Languages are interned, so the same segment costs one lookup. Throws `LimitReached`. */
export function compiler(reading: Reading): Compiler {
  const segments = new WeakMap<Segment, Language>();
  const values = new Map<ParameterType, Language>();
  const rests = new Map<string, Language>();
  const value = (type: ParameterType): Language => remember(values, type, () => valueLanguage(type, reading));
  return {
    value,
    segment: (segment) => remember(segments, segment, () => segmentLanguage(segment, reading, value)),
    rest: (shape, from) => {
      const key = shape
        .slice(from)
        .map((piece) => `/${pieceKey(piece)}`)
        .join('');
      return remember(rests, key, () => languageOf(sequence(...shape.slice(from).map((p) => pieceExpression(p, reading)))));
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

function segmentLanguage(segment: Segment, reading: Reading, value: (type: ParameterType) => Language): Language {
  const text = literalText(segment);
  if (text !== undefined && !reading.eitherCase) return wordLanguage(text);
  const only = segment.parts.length === 1 ? segment.parts[0] : undefined;
  if (only?.kind === 'parameter') return value(only.type);
  return languageOf(sequence(...segment.parts.map((p) => partExpression(p, reading))));
}

function valueLanguage(type: ParameterType, reading: Reading): Language {
  const plain = reading.typesMatch && !reading.emptyValue && reading.longest === Number.POSITIVE_INFINITY;
  return plain ? languageOfType(type) : languageOf(valueExpression(type, reading));
}

function valueExpression(type: ParameterType, reading: Reading): Expression {
  if (type.name === 'text' || !reading.typesMatch) return repeat(ANY, reading.emptyValue ? 0 : 1, reading.longest);
  if (reading.longest === Number.POSITIVE_INFINITY) return type.expression;
  return { kind: 'automaton', automaton: intersect(languageOfType(type), languageOf(repeat(ANY, 0, reading.longest))).automaton };
}

function partExpression(part: Part, reading: Reading): Expression {
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
function pieceExpression(piece: Piece, reading: Reading): Expression {
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

function pieceKey(piece: Piece): string {
  return piece.parts.map(partKey).join('');
}

const numbers = new Map<string, number>();
const keys = new WeakMap<ParameterType, string>();

/** A text of its own for each type: two tables may call two types the same. */
export function typeKey(type: ParameterType): string {
  const known = keys.get(type);
  if (known !== undefined) return known;
  const said = JSON.stringify(type.expression);
  const number = numbers.get(said) ?? numbers.size;
  numbers.set(said, number);
  const key = `${type.name}#${number}`;
  keys.set(type, key);
  return key;
}

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
