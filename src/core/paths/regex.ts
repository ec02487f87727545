/**
 * The regex style: the whole path is one regular expression, `^locks/(?P<lockId>\d+)/$`. It is matched as it stands:
 * without `^` or `$` anything may stand before or behind. Written without a leading slash it is matched against the path
 * without one, as frameworks that write it so do.
 */
import type { AST } from '@eslint-community/regexpp';
import { ANY, choice, repeat, SLASH, sequence } from '../language/expression.ts';
import { parseRegex, translateElements } from '../language/regex.ts';
import { literalSegment, type Part, type PatternResult, type Piece, type Shape, segmentOf } from './pattern.ts';
import { crosses, withBoundaries } from './slashes.ts';
import type { NamedTypes } from './types.ts';

/** Reads a whole path as one regular expression. Flags stand in front, as in `(?i)`. */
export function parseWholeRegex(text: string, _named: NamedTypes): PatternResult {
  const flags = /^(\^?)\(\?([aiLmsux]+)\)/u.exec(text);
  const ignoreCase = flags?.[2]?.includes('i') ?? false;
  const cut = flags === null ? 0 : flags[0].length - (flags[1] as string).length;
  const source = (flags === null ? text : (flags[1] as string) + text.slice(flags[0].length))
    .replaceAll('(?P<', '(?<')
    .replaceAll('\\Z', '$')
    .replaceAll('\\A', '^');
  const parsed = parseRegex(source, { ignoreCase }, true);
  if (!parsed.ok) {
    const shift = cut + (source.slice(0, parsed.error.start).match(/\(\?</gu) ?? []).length;
    return {
      ok: false,
      error: { message: parsed.error.message, start: parsed.error.start + shift, end: parsed.error.end + shift },
    };
  }
  const slashed = /^\^?\(*\//u.test(source);
  const shapes = segmented(parsed.tree, ignoreCase, slashed) ?? [[wholeSpan(parsed.tree, source, ignoreCase, slashed)]];
  const [full, ...partial] = [...shapes].sort((a, b) => b.length - a.length);
  return {
    ok: true,
    pattern: {
      style: 'regex',
      text,
      shapes: [full as Shape, ...partial],
      partial: new Set(partial),
      capture: { source, flags: ignoreCase ? 'iu' : 'u', slashed },
    },
    flaws: [],
  };
}

/** One span for all of it, anything before and behind each alternative where it is not anchored. */
function wholeSpan(tree: AST.Pattern, source: string, ignoreCase: boolean, slashed: boolean): Piece {
  const anything = repeat(choice(ANY, SLASH));
  const alternatives = tree.alternatives.map(({ elements }) => {
    const [first, last] = [elements[0], elements[elements.length - 1]];
    const starts = first?.type === 'Assertion' && first.kind === 'start';
    const ends = last?.type === 'Assertion' && last.kind === 'end';
    const inner = translateElements(elements.slice(starts ? 1 : 0, ends ? -1 : undefined), { ignoreCase });
    return sequence(...(starts ? [] : [anything]), withBoundaries(inner), ...(ends ? [] : [anything]));
  });
  return { kind: 'span', parts: [{ kind: 'expression', expression: choice(...alternatives), source, ownsSlash: slashed }] };
}

/**
 * The shapes, where the expression is a list of segments: one alternative, anchored at both ends, slashes only as plain
 * characters (the last one may be optional). Undefined otherwise.
 */
function segmented(tree: AST.Pattern, ignoreCase: boolean, slashed: boolean): readonly Shape[] | undefined {
  const [only] = tree.alternatives;
  if (tree.alternatives.length !== 1 || only === undefined || ignoreCase) return undefined;
  const [first, ...rest] = only.elements;
  const last = rest.pop();
  if (first?.type !== 'Assertion' || first.kind !== 'start' || last?.type !== 'Assertion' || last.kind !== 'end')
    return undefined;
  const optionalSlash = isOptionalSlash(rest[rest.length - 1]);
  const elements = optionalSlash ? rest.slice(0, -1) : rest;
  const words = splitAtSlashes(slashed ? elements.slice(1) : elements);
  const pieces = words.map(segmentPiece);
  if (pieces.some((p) => p === undefined)) return undefined;
  const shape = pieces as Piece[];
  return optionalSlash ? [shape, [...shape, literalSegment('')]] : [shape];
}

function isOptionalSlash(element: AST.Element | undefined): boolean {
  return element?.type === 'Quantifier' && element.min === 0 && element.max === 1 && isSlash(element.element);
}

function isSlash(element: AST.Element): boolean {
  return element.type === 'Character' && element.value === 0x2f;
}

function splitAtSlashes(elements: readonly AST.Element[]): AST.Element[][] {
  const words: AST.Element[][] = [[]];
  for (const element of elements) {
    if (isSlash(element)) words.push([]);
    else (words[words.length - 1] as AST.Element[]).push(element);
  }
  return words;
}

/** Literal characters, groups as parameters, anything else as it is; undefined where it can match a slash. */
function segmentPiece(elements: readonly AST.Element[]): Piece | undefined {
  const parts: Part[] = [];
  for (const element of elements) {
    const expression = translateElements([element], {});
    if (crosses(withBoundaries(expression))) return undefined;
    const last = parts[parts.length - 1];
    if (element.type === 'Character') {
      const text = String.fromCodePoint(element.value);
      if (last?.kind === 'literal') parts[parts.length - 1] = { kind: 'literal', text: last.text + text };
      else parts.push({ kind: 'literal', text });
    } else if (element.type === 'CapturingGroup') {
      const inner = element.raw.replace(/^\((?:\?<[^>]*>)?/u, '').slice(0, -1);
      parts.push({ kind: 'parameter', name: element.name ?? String(parts.length), type: { name: inner, expression, hints: [] } });
    } else parts.push({ kind: 'expression', expression, source: element.raw });
  }
  return segmentOf(parts);
}
