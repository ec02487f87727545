/**
 * Regular expressions as people write them (ECMA-262), turned into expressions. The syntax is read by a library; what it
 * means is decided here. What is not regular - look-around, backreferences - is refused with its place.
 */
import { type AST, RegExpParser } from '@eslint-community/regexpp';
import { propertySet, SPACE, WORD, withEitherCase } from './characters.ts';
import { ANY_CHARACTER, type CharSet, charSet, complementSet, unionSets } from './charset.ts';
import { ANY, choice, EMPTY, type Expression, NOTHING, oneOf, repeat, sequence } from './expression.ts';

/** The highest count that a `{n,m}` may ask for; beyond it the automaton would be too large to be useful. */
export const MAX_REPETITION = 5_000;

export interface RegexError {
  readonly message: string;
  /** Offset into the source where it goes wrong, and one past its end. */
  readonly start: number;
  readonly end: number;
}

export type RegexResult =
  | { readonly ok: true; readonly expression: Expression; readonly tree: AST.Pattern }
  | { readonly ok: false; readonly error: RegexError };

export interface RegexFlags {
  /** `i`: letters match in either case. */
  readonly ignoreCase?: boolean;
  /** `s`: the dot takes line ends too. */
  readonly dotAll?: boolean;
  /** Look-around is ignored and a backreference is any text, so that what is read holds more than what is meant. */
  readonly loose?: boolean;
}

/**
 * Reads a regular expression. With `whole` it must match all of the text, otherwise it may match anywhere in it.
 * Read with the `u` flag first, and without where only that is the problem (`\-` outside a class).
 */
export function parseRegex(source: string, flags: RegexFlags, whole: boolean): RegexResult {
  let tree: AST.Pattern;
  try {
    tree = parseTree(source);
  } catch (error) {
    return { ok: false, error: syntaxError(source, error) };
  }
  try {
    const inner = translateAlternatives(tree.alternatives, flags, whole ? CLOSED : { before: true, behind: true });
    return { ok: true, tree, expression: whole ? inner : sequence(repeat(ANY), inner, repeat(ANY)) };
  } catch (error) {
    if (error instanceof NotRegular) return { ok: false, error };
    throw error;
  }
}

/** What is no regular language, or too large a one. */
export class NotRegular extends Error {
  readonly start: number;
  readonly end: number;
  constructor(message: string, node: AST.Node) {
    super(message);
    this.start = node.start;
    this.end = node.end;
  }
}

/** The syntax tree. Throws where there is none. */
export function parseTree(source: string): AST.Pattern {
  const parser = new RegExpParser({ ecmaVersion: 2025 });
  try {
    return parser.parsePattern(source, 0, source.length, { unicode: true });
  } catch {
    return parser.parsePattern(source, 0, source.length, { unicode: false });
  }
}

function syntaxError(source: string, error: unknown): RegexError {
  const { message, index } = error as { message: string; index?: number };
  const start = Math.min(index ?? 0, source.length);
  const reason = message.replace(/^Invalid regular expression: \/.*\/[a-z]*: /su, '');
  return { message: `the regular expression can't be read: ${reason.toLowerCase()}`, start, end: start + 1 };
}

/** Where anything may stand beside a part: there no more of it has to be counted than it needs. */
interface Context {
  readonly before: boolean;
  readonly behind: boolean;
}

const CLOSED: Context = { before: false, behind: false };

/** The expression of a part of a parsed pattern. Throws `NotRegular`, which `parseRegex` turns into an error. */
export function translateAlternatives(
  alternatives: readonly AST.Alternative[],
  flags: RegexFlags,
  open: Context = CLOSED,
): Expression {
  return choice(...alternatives.map((a) => translateElements(a.elements, flags, open)));
}

export function translateElements(elements: readonly AST.Element[], flags: RegexFlags, open: Context = CLOSED): Expression {
  const isIdle = (e: AST.Element | undefined): boolean => e?.type === 'Quantifier' && e.min === 0;
  let [from, to] = [0, elements.length];
  while (open.before && from < to && isIdle(elements[from])) from += 1;
  while (open.behind && to > from && isIdle(elements[to - 1])) to -= 1;
  if (from === to) return EMPTY;
  const items = elements.slice(from, to).map((e, i) => {
    const at = { before: open.before && i === 0, behind: open.behind && i === to - from - 1 };
    return translate(e, flags, at);
  });
  return sequence(...items);
}

function translate(node: AST.Element, flags: RegexFlags, open: Context): Expression {
  switch (node.type) {
    case 'Group':
    case 'CapturingGroup':
      return translateAlternatives(node.alternatives, flags, open);
    case 'Character':
    case 'CharacterSet':
    case 'CharacterClass':
      return oneOf(setOf(node, flags));
    case 'Quantifier':
      return translateQuantifier(node, flags, open.before || open.behind ? node.min : node.max);
    case 'Assertion':
      return translateAssertion(node, flags);
    case 'Backreference':
      if (flags.loose === true) return repeat(ANY);
      throw new NotRegular("a backreference can't be decided, because it is not regular; write the alternatives out", node);
    case 'ExpressionCharacterClass':
      throw new NotRegular('set notation of the v flag is not understood here; use a plain character class', node);
    default:
      node satisfies never;
      return NOTHING;
  }
}

function translateQuantifier(node: AST.Quantifier, flags: RegexFlags, max: number): Expression {
  const highest = max === Number.POSITIVE_INFINITY ? node.min : max;
  if (highest > MAX_REPETITION) {
    throw new NotRegular(`a repetition counts up to ${highest}, and ${MAX_REPETITION} is the limit`, node);
  }
  return repeat(translate(node.element, flags, CLOSED), node.min, max);
}

function translateAssertion(node: AST.Assertion, { loose }: RegexFlags): Expression {
  if (node.kind === 'start' || node.kind === 'end') return { kind: 'edge', of: node.kind };
  if (loose === true) return EMPTY;
  if (node.kind === 'word') throw new NotRegular('a word boundary is not understood here; name the characters around it', node);
  throw new NotRegular('look-around is not supported; name what may stand there instead', node);
}

/** The characters that one of a text may be. */
export function setOf(node: AST.Character | AST.CharacterSet | AST.CharacterClass, flags: RegexFlags): CharSet {
  const set = plainSet(node, flags);
  const folded = flags.ignoreCase ? withEitherCase(set) : set;
  return node.type === 'CharacterClass' && node.negate ? complementSet(folded) : folded;
}

function plainSet(node: AST.CharacterClassElement | AST.CharacterSet | AST.CharacterClass, flags: RegexFlags): CharSet {
  switch (node.type) {
    case 'Character':
      return [node.value, node.value];
    case 'CharacterClassRange':
      return [node.min.value, node.max.value];
    case 'CharacterClass':
      return unionSets(...node.elements.map((e) => plainSet(e as AST.CharacterClassElement, flags)));
    case 'CharacterSet':
      return namedSet(node, flags);
    default:
      throw new NotRegular('set notation of the v flag is not understood here; use a plain character class', node);
  }
}

function namedSet(node: AST.CharacterSet, flags: RegexFlags): CharSet {
  switch (node.kind) {
    case 'any':
      return flags.dotAll ? ANY_CHARACTER : complementSet(charSet([10, 10], [13, 13], [0x2028, 0x2029]));
    case 'digit':
      return negated([0x30, 0x39], node.negate);
    case 'space':
      return negated(SPACE, node.negate);
    case 'word':
      return negated(WORD, node.negate);
    case 'property':
      return negated(propertySet(node.key, node.value), node.negate);
    default:
      (node as { kind: never }).kind satisfies never;
      return [];
  }
}

function negated(set: CharSet, negate: boolean): CharSet {
  return negate ? complementSet(set) : set;
}
