/** The angle style: `/locks/<lockId>`, typed `<int:lockId>`, `<any(open,closed):state>`, the tail `<path:rest>`. */
import type { Part, PatternResult } from './pattern.ts';
import { PatternFailure, patternFrom, type Token, textToken } from './segments.ts';
import { type NamedTypes, parseType, TEXT } from './types.ts';

/** What this style calls the types that all styles share; in it a plain int has no sign. */
const ALIASES: Readonly<Record<string, string>> = {
  string: 'text',
  str: 'text',
  int: 'uint',
  float: '[0-9]+\\.[0-9]+',
  default: 'text',
};
const PARAMETER = /^(?:([A-Za-z][\w-]*)(?:\(([^<>]*)\))?:)?([A-Za-z_]\w*)$/u;

/** Reads a pattern of the angle style. */
export function parseAngle(text: string, named: NamedTypes): PatternResult {
  return patternFrom('angle', text, () => [scan(text, named)]);
}

function scan(text: string, named: NamedTypes): Token[] {
  return [...text.matchAll(/\/|<[^<>/]*>|<|>|[^/<>]+/gu)].map((match): Token => {
    const [whole] = match;
    const [start, end] = [match.index, match.index + whole.length];
    if (whole === '/') return { kind: 'slash', start, end };
    if (whole === '<' || whole === '>')
      throw new PatternFailure(
        whole === '<' ? 'this angle bracket is never closed' : 'a closing angle bracket without an opening one',
        start,
        end,
      );
    if (!whole.startsWith('<')) return textToken(whole, start, end);
    return { kind: 'part', part: parameter(whole.slice(1, -1), start, end, named), optional: false, start, end };
  });
}

function parameter(inner: string, start: number, end: number, named: NamedTypes): Part {
  const [, type, argument, name] = PARAMETER.exec(inner) ?? [];
  if (name === undefined)
    throw new PatternFailure(
      `expected a name, or type:name, between the angle brackets, found ${inner === '' ? 'nothing' : `"${inner}"`}`,
      start,
      end,
    );
  if (type === undefined) return { kind: 'parameter', name, type: TEXT };
  if (type === 'path') return { kind: 'tail', name, takes: 'some' };
  const result = parseType(spelling(type, argument, named), named);
  if (!result.ok) throw new PatternFailure(result.message, start + 1, start + 1 + type.length);
  return { kind: 'parameter', name, type: result.type };
}

/** The type as all styles write it. */
function spelling(type: string, argument: string | undefined, named: NamedTypes): string {
  if (named.has(type)) return type;
  if (argument === undefined) return ALIASES[type] ?? type;
  if (type === 'any') return `among(${argument.replaceAll(/['"]/gu, '')})`;
  const bound = (...keys: readonly string[]): string =>
    new RegExp(`(?:${keys.join('|')})\\s*=\\s*(-?\\d+)`, 'u').exec(argument)?.[1] ?? '';
  const exact = bound('length');
  const [low, high] = [bound('min(?:length)?') || exact, bound('max(?:length)?') || exact];
  return low === '' && high === '' ? `${ALIASES[type] ?? type}(${argument})` : `${ALIASES[type] ?? type}(${low}..${high})`;
}
