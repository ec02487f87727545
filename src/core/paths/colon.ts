/**
 * The colon style: the pathname part of the WHATWG URL Pattern standard - `:name`, `:name(regex)`, `(regex)`, `*`, the
 * modifiers `?` `+` `*`, groups in braces, a backslash before what is meant literally - and the named wildcards seen in
 * the wild, `*rest`, which take at least one character.
 */
import { literal, repeat, SLASH, sequence } from '../language/expression.ts';
import { parseRegex } from '../language/regex.ts';
import type { Part, PatternResult } from './pattern.ts';
import { MAX_SHAPES, PatternFailure, patternFrom, type Token, textToken, tooManyShapes } from './segments.ts';
import { crosses, withBoundaries } from './slashes.ts';
import { type NamedTypes, regexType, TEXT } from './types.ts';

const NAME = /[\p{ID_Start}$_][\p{ID_Continue}$]*/uy;

/** Reads a pattern of the colon style. */
export function parseColon(text: string, _named: NamedTypes): PatternResult {
  return patternFrom('colon', text, () => scanAll({ text, at: 0, unnamed: 0 }, false));
}

interface Scanner {
  readonly text: string;
  at: number;
  /** How many groups without a name there were; they are called 0, 1, 2. */
  unnamed: number;
}

/** The tokens up to the end or the closing brace; several lists where a group is optional, the fullest first. */
function scanAll(scanner: Scanner, inGroup: boolean): Token[][] {
  let variants: Token[][] = [[]];
  while (scanner.at < scanner.text.length) {
    const char = scanner.text[scanner.at];
    if (char === '}') {
      if (inGroup) return variants;
      throw new PatternFailure('a closing brace without an opening one', scanner.at, scanner.at + 1);
    }
    const next = char === '{' ? scanGroup(scanner) : [[scanOne(scanner)]];
    if (variants.length * next.length > MAX_SHAPES) throw tooManyShapes();
    variants = variants.flatMap((v) => next.map((tokens) => [...v, ...tokens]));
  }
  if (inGroup) throw new PatternFailure('this group is never closed', scanner.text.lastIndexOf('{'), scanner.text.length);
  return variants;
}

function scanGroup(scanner: Scanner): Token[][] {
  const start = scanner.at;
  scanner.at += 1;
  const inner = scanAll(scanner, true);
  scanner.at += 1;
  const modifier = scanner.text[scanner.at];
  if (modifier === '*' || modifier === '+') {
    scanner.at += 1;
    const repeated = repeatedGroup(inner, start, scanner.at);
    return modifier === '+' ? [repeated] : [repeated, []];
  }
  if (modifier !== '?') return inner;
  scanner.at += 1;
  return [...inner, []];
}

/** A segment that repeats, `{/:name}+`, binds all that it takes with the slashes between; text that repeats binds nothing. */
function repeatedGroup(inner: readonly (readonly Token[])[], start: number, end: number): Token[] {
  const [[slash, token, ...more] = []] = inner;
  if (inner.length > 1 || more.length > 0 || slash?.kind !== 'slash' || token === undefined || token.kind === 'slash')
    throw new PatternFailure(
      'only a group of one segment, such as {/:name}+, may repeat here; name a wildcard instead',
      start,
      end,
    );
  if (token.kind === 'part') return [slash, { ...token, part: repeatedPart(token.part, start, end), optional: false }];
  const expression = sequence(literal(token.text), repeat(sequence(SLASH, literal(token.text))));
  return [
    slash,
    { kind: 'part', part: { kind: 'expression', expression, source: `{/${token.text}}+` }, optional: false, start, end },
  ];
}

/** One segment or more, each as the part wants it. */
function repeatedPart(part: Part, start: number, end: number): Part {
  if (part.kind === 'literal' || part.kind === 'tail') throw new PatternFailure('this can not repeat', start, end);
  if (part.kind === 'parameter' && part.type === TEXT) return { kind: 'tail', name: part.name, takes: 'segments' };
  const one = part.kind === 'parameter' ? part.type.expression : part.expression;
  const source = part.kind === 'parameter' ? part.type.name : part.source;
  const expression = sequence(one, repeat(sequence(SLASH, one)));
  return { kind: 'expression', ...(part.name === undefined ? {} : { name: part.name }), expression, source: `(${source})+` };
}

function scanOne(scanner: Scanner): Token {
  const { text, at: start } = scanner;
  const char = text[start] as string;
  if (char === '/') {
    scanner.at += 1;
    return { kind: 'slash', start, end: start + 1 };
  }
  if (char === ':' || char === '(') return scanParameter(scanner);
  if (char === '*') return scanWildcard(scanner);
  if (char === '\\') {
    scanner.at += 2;
    return { kind: 'text', text: text[start + 1] ?? '', start, end: start + 2 };
  }
  let end = start;
  while (end < text.length && !'/:(*{}\\'.includes(text[end] as string)) end += 1;
  scanner.at = Math.max(end, start + 1);
  return textToken(text.slice(start, scanner.at), start, scanner.at);
}

function scanParameter(scanner: Scanner): Token {
  const start = scanner.at;
  const name = scanner.text[start] === ':' ? nameAt(scanner, start + 1) : String(scanner.unnamed++);
  if (name === undefined)
    throw new PatternFailure('expected a name after the colon; write \\: for the character itself', start, start + 1);
  const source = scanner.text[scanner.at] === '(' ? parenthesised(scanner) : undefined;
  const modifier = scanner.text[scanner.at];
  if (modifier === '?' || modifier === '*' || modifier === '+') scanner.at += 1;
  const end = scanner.at;
  const part: Part = source === undefined ? { kind: 'parameter', name, type: TEXT } : regexPart(name, source, start);
  if (modifier === '*' || modifier === '+')
    return { kind: 'part', part: repeatedPart(part, start, end), optional: modifier === '*', start, end };
  return {
    kind: 'part',
    part,
    optional: modifier === '?',
    start,
    end,
  };
}

function scanWildcard(scanner: Scanner): Token {
  const start = scanner.at;
  scanner.at += 1;
  const name = nameAt(scanner, scanner.at);
  const modifier = scanner.text[scanner.at];
  if (modifier === '?' || modifier === '*' || modifier === '+') scanner.at += 1;
  const part: Part =
    name === undefined
      ? { kind: 'tail', name: String(scanner.unnamed++), takes: 'below' }
      : { kind: 'tail', name, takes: 'some' };
  // With the slash before it, as in /locks/*?: then /locks alone is matched too.
  return { kind: 'part', part, optional: modifier === '?' || modifier === '*', start, end: scanner.at };
}

/** Reads a name at an offset and moves behind it. */
function nameAt(scanner: Scanner, from: number): string | undefined {
  NAME.lastIndex = from;
  const [name] = NAME.exec(scanner.text) ?? [];
  scanner.at = from + (name?.length ?? 0);
  return name;
}

/** The regular expression between the parentheses at the scanner's place. */
function parenthesised(scanner: Scanner): string {
  const start = scanner.at;
  let depth = 0;
  let inClass = false;
  for (let i = start; i < scanner.text.length; i++) {
    const char = scanner.text[i];
    if (char === '\\') i += 1;
    else if (char === '[') inClass = true;
    else if (char === ']') inClass = false;
    else if (char === '(' && !inClass) depth += 1;
    else if (char === ')' && !inClass && --depth === 0) {
      scanner.at = i + 1;
      return scanner.text.slice(start + 1, i);
    }
  }
  throw new PatternFailure('this parenthesis is never closed', start, start + 1);
}

/** A parameter that a regular expression describes; one that can match a slash goes over several segments. */
function regexPart(name: string, source: string, start: number): Part {
  const parsed = parseRegex(source, {}, true);
  if (!parsed.ok) throw new PatternFailure(parsed.error.message, start, start + source.length + 2);
  const expression = withBoundaries(parsed.expression);
  if (crosses(expression)) return { kind: 'expression', name, expression, source };
  const result = regexType(source, source);
  if (!result.ok) throw new PatternFailure(result.message, start, start + source.length + 2);
  return { kind: 'parameter', name, type: result.type };
}
