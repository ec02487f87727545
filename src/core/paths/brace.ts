/**
 * The brace style: `/locks/{lockId}`, typed `{lockId:int}`, optional `{page?}`, tails `{rest*}` and `{rest+}`, and the
 * tails found in the wild: `{*rest}`, `{**rest}`, `{rest...}`, `{rest:path}`, `{rest:any}`. A superset of OpenAPI's path
 * templating.
 */
import { literalSegment, type Part, type PatternResult, type Segment, segmentOf, type Takes } from './pattern.ts';
import { flawsOf, PatternFailure, shapesOf, type Token, textToken } from './segments.ts';
import { type NamedTypes, parseType, TEXT } from './types.ts';

const NAME = /^[\p{L}\p{N}_$@.-]+$/u;

/** Reads a pattern of the brace style. */
export function parseBrace(text: string, named: NamedTypes): PatternResult {
  return plainPattern(text, named) ?? parseFully(text, named);
}

const plainSegments = new WeakMap<NamedTypes, Map<string, { readonly piece: Segment; readonly name: string | undefined }>>();

/**
 * The common case, a slash and then segments that are one literal or one parameter each: every segment is read once for
 * all the patterns in which it stands. Undefined where anything else is in the pattern, or anything is wrong with it.
 */
function plainPattern(text: string, named: NamedTypes): PatternResult | undefined {
  if (text.charCodeAt(0) !== 0x2f) return undefined;
  const known = plainSegments.get(named) ?? new Map();
  plainSegments.set(named, known);
  const shape: Segment[] = [];
  const names: string[] = [];
  const words = text.split('/');
  for (let i = 1; i < words.length; i++) {
    const word = words[i] as string;
    const segment = known.get(word) ?? plainSegment(word, named);
    if (segment === undefined || (word === '' && i < words.length - 1)) return undefined;
    known.set(word, segment);
    shape.push(segment.piece);
    if (segment.name === undefined) continue;
    if (names.includes(segment.name)) return undefined;
    names.push(segment.name);
  }
  return { ok: true, pattern: { style: 'brace', text, shapes: [shape] }, flaws: [] };
}

function plainSegment(word: string, named: NamedTypes): { piece: Segment; name: string | undefined } | undefined {
  if (!word.includes('{')) return /[}%]/u.test(word) ? undefined : { piece: literalSegment(word), name: undefined };
  const plain = /^\{([\w.-]*\w)(?::([^{}[\]\\]*))?\}$/u.exec(word);
  if (plain === null || plain[2] === 'path' || plain[2] === 'any' || plain[2]?.endsWith('?')) return undefined;
  const type = plain[2] === undefined ? TEXT : parseType(plain[2].trim(), named);
  if ('ok' in type && !type.ok) return undefined;
  const part = { kind: 'parameter' as const, name: plain[1] as string, type: 'ok' in type ? type.type : type };
  return { piece: segmentOf([part]), name: part.name };
}

function parseFully(text: string, named: NamedTypes): PatternResult {
  try {
    const tokens = scan(text, named);
    return { ok: true, pattern: { style: 'brace', text, ...shapesOf([tokens]) }, flaws: flawsOf(text, tokens, true) };
  } catch (error) {
    if (error instanceof PatternFailure) return { ok: false, error };
    throw error;
  }
}

function scan(text: string, named: NamedTypes): Token[] {
  const tokens: Token[] = [];
  for (let i = 0; i < text.length; ) {
    const char = text[i] as string;
    if (char === '/') {
      tokens.push({ kind: 'slash', start: i, end: i + 1 });
      i += 1;
    } else if (char === '{') {
      const end = closingBrace(text, i);
      tokens.push({ kind: 'part', ...parameter(text.slice(i + 1, end), i, end + 1, named), start: i, end: end + 1 });
      i = end + 1;
    } else if (char === '}') {
      throw new PatternFailure('a closing brace without an opening one', i, i + 1);
    } else {
      const end = endOfText(text, i);
      tokens.push(textToken(text.slice(i, end), i, end));
      i = end;
    }
  }
  return tokens;
}

function endOfText(text: string, from: number): number {
  let i = from;
  while (i < text.length && text[i] !== '/' && text[i] !== '{' && text[i] !== '}') i += 1;
  return i;
}

/** The brace that closes the one at `open`, braces inside a type counted, escaped ones and those in brackets not. */
function closingBrace(text: string, open: number): number {
  let depth = 0;
  let inClass = false;
  for (let i = open; i < text.length; i++) {
    const char = text[i];
    if (char === '\\') i += 1;
    else if (char === '[') inClass = depth > 0;
    else if (char === ']') inClass = false;
    else if (char === '{' && !inClass) depth += 1;
    else if (char === '}' && !inClass) {
      depth -= 1;
      if (depth === 0) return i;
    }
  }
  throw new PatternFailure('this brace is never closed', open, open + 1);
}

function parameter(inner: string, start: number, end: number, named: NamedTypes): { part: Part; optional: boolean } {
  const colon = inner.indexOf(':');
  const head = (colon < 0 ? inner : inner.slice(0, colon)).trim();
  const spec = colon < 0 ? undefined : inner.slice(colon + 1).trim();
  const tail = tailOf(head, spec);
  const bare = head.replace(/^\*{1,2}/u, '').replace(/(?:\.\.\.|[*+?])$/u, '');
  if (!NAME.test(bare)) {
    const found = inner === '' ? 'nothing' : `"${inner}"`;
    throw new PatternFailure(`expected a parameter's name between the braces, found ${found}`, start, end);
  }
  if (tail !== undefined) return { part: { kind: 'tail', name: bare, takes: tail }, optional: false };
  if (spec === undefined) return { part: { kind: 'parameter', name: bare, type: TEXT }, optional: head.endsWith('?') };
  return typed(bare, spec, head.endsWith('?'), start + 1 + colon + 1, end - 1, named);
}

function typed(
  name: string,
  spec: string,
  marked: boolean,
  start: number,
  end: number,
  named: NamedTypes,
): { part: Part; optional: boolean } {
  const optional = marked || /^[\w-]+(?:\(.*\))?\?$/u.test(spec);
  const source = optional && !marked ? spec.slice(0, -1) : spec;
  const result = parseType(source, named);
  if (!result.ok) throw new PatternFailure(result.message, start, Math.max(end, start + 1));
  return { part: { kind: 'parameter', name, type: result.type }, optional };
}

function tailOf(head: string, spec: string | undefined): Takes | undefined {
  if (spec === 'path') return 'some';
  if (spec === 'any') return 'below';
  if (spec !== undefined) return undefined;
  if (head.endsWith('*') || head.startsWith('*')) return 'all';
  if (head.endsWith('+')) return 'some';
  return head.endsWith('...') ? 'below' : undefined;
}
