/**
 * Regular expressions that look ahead, as languages: from the end of the pattern to its start, what may stand behind each
 * place of it. What must stand there besides is taken together with that, what must not is taken away.
 */
import type { AST } from '@eslint-community/regexpp';
import { ANY, type Expression, repeat, sequence } from './expression.ts';
import { accepts, intersect, type Language, languageOf, nothing, subtract, union, wordLanguage } from './language.ts';
import { LimitReached } from './limits.ts';
import { NotRegular, translateElements } from './regex.ts';

/** What may stand behind a place, where that is the start of the whole text and where it is not. */
interface Rest {
  readonly first: Language;
  readonly later: Language;
}

/** A part that looks ahead may be repeated so often. */
const MOST_REPEATED = 100;

/**
 * The texts somewhere in which the pattern matches (ECMA-262, 22.2.2.4). Throws `LimitReached` where it looks behind, or
 * ahead in a part that is repeated without end. Cost: an automaton for each part that looks at something.
 */
export function languageAhead(tree: AST.Pattern): Language {
  const all = languageOf(repeat(ANY));
  try {
    const { first, later } = anyOf(tree.alternatives, { first: all, later: all });
    return union([first, joined(languageOf(repeat(ANY, 1)), later)]);
  } catch (error) {
    throw error instanceof NotRegular ? new LimitReached(error.message) : error;
  }
}

function anyOf(alternatives: readonly AST.Alternative[], rest: Rest): Rest {
  return either(alternatives.map((a) => inTurn(a.elements, rest)));
}

function either(rests: readonly Rest[]): Rest {
  return { first: union(rests.map((r) => r.first)), later: union(rests.map((r) => r.later)) };
}

/** One after the other, those that look at nothing as one. */
function inTurn(elements: readonly AST.Element[], rest: Rest): Rest {
  let behind = rest;
  for (let end = elements.length; end > 0; ) {
    let from = end;
    while (from > 0 && !looks(elements[from - 1] as AST.Element)) from -= 1;
    behind = from === end ? looking(elements[end - 1] as AST.Element, behind) : taken(elements.slice(from, end), behind);
    end = from === end ? end - 1 : from;
  }
  return behind;
}

/** Does it look at anything but the characters that it takes? */
function looks(node: AST.Element): boolean {
  if (node.type === 'Assertion' || node.type === 'Backreference') return true;
  if (node.type === 'Quantifier') return looks(node.element);
  if (node.type !== 'Group' && node.type !== 'CapturingGroup') return false;
  return node.alternatives.some((a) => a.elements.some(looks));
}

function taken(elements: readonly AST.Element[], { first, later }: Rest): Rest {
  const own = languageOf(translateElements(elements, {}));
  const some = subtract(own, NONE);
  const behind = joined(some, later);
  return accepts(own, '') ? { first: union([behind, first]), later: union([behind, later]) } : { first: behind, later: behind };
}

const NONE = wordLanguage('');

function joined(a: Language, b: Language): Language {
  return languageOf(sequence(asExpression(a), asExpression(b)));
}

function asExpression({ automaton }: Language): Expression {
  return { kind: 'automaton', automaton };
}

function looking(node: AST.Element, rest: Rest): Rest {
  switch (node.type) {
    case 'Group':
    case 'CapturingGroup':
      return anyOf(node.alternatives, rest);
    case 'Quantifier':
      return repeated(node, rest);
    case 'Assertion':
      return asserted(node, rest);
    default:
      throw new LimitReached('pattern');
  }
}

function repeated({ element, min, max }: AST.Quantifier, rest: Rest): Rest {
  if (max > MOST_REPEATED) throw new LimitReached('pattern');
  let behind = rest;
  for (let n = max; n > 0; n--) {
    const once = inTurn([element], behind);
    behind = n > min ? either([rest, once]) : once;
  }
  return behind;
}

function asserted(node: AST.Assertion, { first, later }: Rest): Rest {
  if (node.kind === 'start') return { first, later: nothing() };
  if (node.kind === 'end') return { first: intersect(first, NONE), later: intersect(later, NONE) };
  if (node.kind !== 'lookahead') throw new LimitReached('pattern');
  const all = languageOf(repeat(ANY));
  const ahead = anyOf(node.alternatives, { first: all, later: all });
  const both = node.negate ? subtract : intersect;
  return { first: both(first, ahead.first), later: both(later, ahead.later) };
}
