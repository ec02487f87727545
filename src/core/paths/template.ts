/** OpenAPI path templating: `{name}` and nothing else is special (OpenAPI 3.1, 4.8.2). */
import { RecentMap } from '../base/memo.ts';
import type { Pattern } from './pattern.ts';
import { shapesOf, type Token, textToken } from './segments.ts';
import { TEXT } from './types.ts';

/** A path is asked for by every rule that looks at it. */
const patterns = new RecentMap<string, Pattern>(5_000);

/** Reads a path template. A brace that is never closed is literal text, so nothing fails. */
export function parseTemplate(text: string): Pattern {
  return patterns.remember(text, () => parsed(text));
}

function parsed(text: string): Pattern {
  const tokens: Token[] = [];
  for (const match of text.matchAll(/\/|\{([^{}/]+)\}|[^/{]+|\{/gu)) {
    const [whole, name] = match;
    const [start, end] = [match.index, match.index + whole.length];
    if (whole === '/') tokens.push({ kind: 'slash', start, end });
    else if (name !== undefined)
      tokens.push({ kind: 'part', part: { kind: 'parameter', name, type: TEXT }, optional: false, start, end });
    else tokens.push(textToken(whole, start, end));
  }
  return { style: 'brace', text, ...shapesOf([tokens]) };
}
