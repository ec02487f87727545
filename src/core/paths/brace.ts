/**
 * The brace style: `/locks/{lockId}`, typed `{lockId:int}`, optional `{page?}`, tails `{rest*}` and `{rest+}`, and the
 * tails found in the wild: `{*rest}`, `{**rest}`, `{rest...}`, `{rest:path}`, `{rest:any}`. A superset of OpenAPI's path
 * templating.
 */
import type { Part, PatternResult, Takes } from './pattern.ts';
import { decodeLiteral, flawsOf, PatternFailure, shapesOf, type Token } from './segments.ts';
import { type NamedTypes, parseType, TEXT } from './types.ts';

const NAME = /^[\p{L}\p{N}_$@.-]+$/u;

/** Reads a pattern of the brace style. */
export function parseBrace(text: string, named: NamedTypes): PatternResult {
  try {
    const tokens = scan(text, named);
    return { ok: true, pattern: { style: 'brace', text, shapes: shapesOf(tokens) }, flaws: flawsOf(text, tokens, true) };
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
      tokens.push({ kind: 'text', text: decodeLiteral(text.slice(i, end)), start: i, end });
      i = end;
    }
  }
  return tokens;
}

function endOfText(text: string, from: number): number {
  const rest = /[/{}]/u.exec(text.slice(from));
  return rest === null ? text.length : from + rest.index;
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
