/** Parameter types, each a language of text. */

import { InternTable, memoise } from '../base/memo.ts';
import { suggest } from '../base/nearest-word.ts';
import { ANY, choice, type Expression, literal, oneOf, optional, repeat, sequence, span } from '../language/expression.ts';
import { type Language, languageOrLarge } from '../language/language.ts';
import { LimitReached } from '../language/limits.ts';
import { parseRegex } from '../language/regex.ts';
import { dateExpression, datetimeExpression } from './dates.ts';
import { integerRange } from './integers.ts';

export interface ParameterType {
  /** As people write it: `int`, `int(1..99)`, `registration`, `[A-Z]{3}`. */
  readonly name: string;
  readonly expression: Expression;
  /** Texts that make a good example, tried first. */
  readonly hints: readonly string[];
}

export type TypeResult = { readonly ok: true; readonly type: ParameterType } | { readonly ok: false; readonly message: string };

/** The types that a table names itself. */
export type NamedTypes = ReadonlyMap<string, ParameterType>;

const digit = span('0', '9');
const letter = oneOf([0x41, 0x5a, 0x61, 0x7a]);
const alnum = oneOf([0x30, 0x39, 0x41, 0x5a, 0x61, 0x7a]);
const hex = oneOf([0x30, 0x39, 0x41, 0x46, 0x61, 0x66]);
const some = (e: Expression): Expression => repeat(e, 1);
const times = (e: Expression, n: number): Expression => repeat(e, n, n);
const dash = literal('-');
const slugWord = some(oneOf([0x30, 0x39, 0x61, 0x7a]));

/** The types that every table knows; `text` is the default. */
const BUILT_IN: Readonly<Record<string, { readonly expression: Expression; readonly hints: readonly string[] }>> = {
  text: { expression: some(ANY), hints: [] },
  int: { expression: sequence(optional(dash), some(digit)), hints: ['7'] },
  uint: { expression: some(digit), hints: ['7'] },
  number: { expression: numberExpression(), hints: ['7.5', '7'] },
  bool: { expression: choice(literal('true'), literal('false')), hints: ['true'] },
  uuid: {
    expression: sequence(times(hex, 8), dash, times(hex, 4), dash, times(hex, 4), dash, times(hex, 4), dash, times(hex, 12)),
    hints: ['3f2b8c1e-5a4d-4e6f-9b7a-0c1d2e3f4a5b'],
  },
  date: { expression: dateExpression(), hints: ['2027-03-14'] },
  datetime: { expression: datetimeExpression(), hints: ['2027-03-14T09:30:00Z'] },
  slug: { expression: sequence(slugWord, repeat(sequence(dash, slugWord))), hints: ['a-b', 'abc'] },
  alpha: { expression: some(letter), hints: ['abc'] },
  alnum: { expression: some(alnum), hints: ['a1', 'abc'] },
  hex: { expression: some(hex), hints: ['e1f7'] },
};

export const TYPE_NAMES: readonly string[] = Object.keys(BUILT_IN);
const typesBySource = new InternTable<ParameterType>();

export const TEXT: ParameterType = builtIn('text') as ParameterType;

/** The language of a type, computed once. */
export const languageOfType = memoise((type: ParameterType): Language => languageOrLarge(type.expression));

/**
 * Reads a type as written behind a parameter's colon: a name, a name with arguments, or a regular expression. An unknown
 * name is an error, never text.
 */
export function parseType(source: string, named: NamedTypes): TypeResult {
  const known = named.get(source) ?? builtIn(source) ?? typesBySource.get(source);
  if (known !== undefined) return { ok: true, type: known };
  const call = /^([A-Za-z][\w-]*)(?:\((.*)\))?$/su.exec(source);
  if (call === null) return regexType(source, source);
  const [, name = '', argument] = call;
  if (argument === undefined) return { ok: false, message: unknownType(source, named) };
  const result = typeWithArgument(name, argument, source, named);
  if (result.ok) typesBySource.set(source, result.type);
  return result;
}

/** A type that is a regular expression over the whole value. */
export function regexType(name: string, source: string, hints: readonly string[] = []): TypeResult {
  const known = hints.length === 0 ? typesBySource.get(`${name} ${source}`) : undefined;
  if (known !== undefined) return { ok: true, type: known };
  const parsed = parseRegex(source, {}, true);
  if (!parsed.ok)
    return {
      ok: false,
      message: `${parsed.error.message}, at "${source.slice(parsed.error.start, parsed.error.end)}" in ${source}`,
    };
  const type = { name, expression: parsed.expression, hints };
  try {
    languageOfType(type);
  } catch (error) {
    if (error instanceof LimitReached) return { ok: false, message: error.message };
    throw error;
  }
  typesBySource.set(`${name} ${source}`, type);
  return { ok: true, type };
}

/** A type that is one of a few texts. */
export function amongType(name: string, values: readonly string[]): ParameterType {
  return { name, expression: choice(...values.map((v) => literal(v))), hints: values.slice(0, 3) };
}

function typeWithArgument(name: string, argument: string, source: string, named: NamedTypes): TypeResult {
  if (name === 'among') {
    const values = argument
      .split(',')
      .map((v) => v.trim())
      .filter((v) => v !== '');
    if (values.length === 0) return { ok: false, message: 'among() names no value; write among(open,closed)' };
    return { ok: true, type: amongType(source, values) };
  }
  const range = /^(-?\d+)?\.\.(-?\d+)?$/u.exec(argument.replaceAll(' ', ''));
  const [low, high] = [range?.[1], range?.[2]];
  if (range === null || (low === undefined && high === undefined)) {
    if (!TYPE_NAMES.includes(name) && !named.has(name)) return { ok: false, message: unknownType(name, named) };
    return {
      ok: false,
      message: `"${source}" is no type: after ${name} expected a range such as ${name}(1..99), found (${argument})`,
    };
  }
  if (low !== undefined && high !== undefined && BigInt(low) > BigInt(high)) {
    return { ok: false, message: `"${source}" holds no value, because ${low} is above ${high}` };
  }
  if (name === 'int' || name === 'uint') return { ok: true, type: integerType(source, name, low, high) };
  if (name === 'text' || name === 'alpha' || name === 'alnum' || name === 'hex') {
    return lengthType(source, name, Number(low ?? 0), high === undefined ? Number.POSITIVE_INFINITY : Number(high));
  }
  return { ok: false, message: `"${source}" is no type: only int, uint, text, alpha, alnum and hex take a range` };
}

function integerType(source: string, name: 'int' | 'uint', low: string | undefined, high: string | undefined): ParameterType {
  const from = low === undefined ? (name === 'uint' ? 0n : undefined) : BigInt(low);
  const to = high === undefined ? undefined : BigInt(high);
  const near = [7n, from, to].filter(
    (n): n is bigint => n !== undefined && (from === undefined || n >= from) && (to === undefined || n <= to),
  );
  return { name: source, expression: integerRange(from, to), hints: near.map(String) };
}

const MAX_LENGTH = 1_000;

function lengthType(source: string, name: 'text' | 'alpha' | 'alnum' | 'hex', low: number, high: number): TypeResult {
  const bound = high === Number.POSITIVE_INFINITY ? low : high;
  if (bound > MAX_LENGTH || low < 0) return { ok: false, message: `"${source}" asks for a length outside 0..${MAX_LENGTH}` };
  const item = { text: ANY, alpha: letter, alnum, hex }[name];
  const hint = 'abcdef'.repeat(5).slice(0, Math.max(1, Math.min(low || 3, 30)));
  return { ok: true, type: { name: source, expression: repeat(item, low, high), hints: [hint] } };
}

function builtIn(name: string): ParameterType | undefined {
  const known = typesBySource.get(name);
  if (known !== undefined) return known;
  const definition = Object.hasOwn(BUILT_IN, name) ? BUILT_IN[name] : undefined;
  if (definition === undefined) return undefined;
  const type = { name, ...definition };
  typesBySource.set(name, type);
  return type;
}

function unknownType(name: string, named: NamedTypes): string {
  const known = [...named.keys(), ...TYPE_NAMES, 'among(a,b)', 'int(1..99)', 'text(2..10)'];
  const near = suggest(name, known);
  return `unknown type "${name}"${near === undefined ? '.' : `; did you mean "${near}"?`} Known are ${known.join(', ')}, a regular expression, and those under types: in the table`;
}

function numberExpression(): Expression {
  const exponent = sequence(oneOf([0x45, 0x45, 0x65, 0x65]), optional(oneOf([0x2b, 0x2b, 0x2d, 0x2d])), some(digit));
  return sequence(optional(dash), some(digit), optional(sequence(literal('.'), some(digit))), optional(exponent));
}
