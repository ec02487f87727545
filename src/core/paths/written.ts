/** How a parameter is written in each style, for messages that speak of a path which nobody declared. */
import type { Style } from './pattern.ts';

/** `{lockId}`, `:lockId`, `<lockId>`, `[lockId]`, `(?<lockId>[^/]+)`; with a type where the style has them. */
export function writtenParameter(style: Style, name: string, type?: string): string {
  switch (style) {
    case 'brace':
      return type === undefined ? `{${name}}` : `{${name}:${type}}`;
    case 'colon':
    case 'parens':
      return `:${name}`;
    case 'angle':
      return type === undefined ? `<${name}>` : `<${type}:${name}>`;
    case 'bracket':
      return type === undefined ? `[${name}]` : `[${name}=${type}]`;
    case 'regex':
      return `(?<${name}>[^/]+)`;
    default:
      return style satisfies never;
  }
}
