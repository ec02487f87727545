/** A route table as text, written for the first time. */
import type { FromReading } from './from.ts';

export interface FirstTable {
  readonly service: string;
  readonly reading: FromReading;
  /** What the entry says besides `from`. */
  readonly options: Readonly<Record<string, unknown>>;
  /** The source as seen from the table; undefined where its routes are copied. */
  readonly from: string | undefined;
  readonly within?: string | undefined;
}

/** The text of a table that reads the source, or holds a copy of its routes. O(routes). */
export function firstTable({ service, reading, options, from, within }: FirstTable): string {
  const lines = ['routeTable: 1', `service: ${scalar(service)}`];
  const { rows, style } = reading;
  if (from === undefined) lines.push(`style: ${style}`);
  lines.push(
    '# What a list of routes can not say is assumed: elm-gate check names each assumed fact that decided something, and',
    '# docs/router-facts.md explains them. Set them here:',
    '# router:',
    '#   precedence: first-declared   # or most-specific',
    'routes:',
  );
  if (from !== undefined) {
    lines.push(`  - from: ${scalar(from)}`);
    for (const [key, value] of Object.entries(options)) if (value !== undefined) lines.push(`    ${key}: ${textOf(value)}`);
    if (within !== undefined) lines.push(`    within: ${scalar(within)}`);
    return `${lines.join('\n')}\n`;
  }
  const indent = within === undefined ? '  ' : '      ';
  if (within !== undefined) lines.push(`  - within: ${scalar(within)}`, '    routes:');
  for (const { methods, path, handler, name, host } of rows) {
    const route = `${methods?.join('|') ?? 'ANY'} ${path}`;
    if (name === undefined && host === undefined)
      lines.push(`${indent}- ${scalar(handler === '' ? route : `${route} -> ${handler}`)}`);
    else {
      const more = [
        ...(name === undefined ? [] : [`name: ${scalar(name)}`]),
        ...(host === undefined ? [] : [`host: ${scalar(host)}`]),
      ];
      lines.push(
        `${indent}- { route: ${quoted(route)}, handler: ${quoted(handler === '' ? route : handler)}, ${more.join(', ')} }`,
      );
    }
  }
  return `${lines.join('\n')}\n`;
}

function textOf(value: unknown): string {
  return Array.isArray(value) ? `[${value.map((v) => scalar(String(v))).join(', ')}]` : scalar(String(value));
}

/** Plain where YAML reads the same text from it, else quoted. */
function scalar(text: string): string {
  const isPlain =
    /^[A-Za-z/][^#:\n"'{}[\]&*!|>%@`,]*(?::[^\s#"'{}[\],][^#\n"'{}[\],]*)*$/u.test(text) &&
    !/\s$|: |^(?:true|false|null|yes|no|on|off)$/iu.test(text);
  return isPlain || (/^[A-Z|*]+ \/[^\n#]*$/u.test(text) && !/: | #|:$/u.test(text) && !text.startsWith('*'))
    ? text
    : quoted(text);
}

function quoted(text: string): string {
  return /^[^'\n\\\p{Cc}]*$/u.test(text) ? `'${text}'` : JSON.stringify(text);
}
