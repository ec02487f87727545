/** The formats that say which texts they hold, each as a language (JSON Schema 2020-12 Validation, 7.3). All others say nothing. */

import { invariant } from '../../base/invariant.ts';
import type { Expression } from '../../language/expression.ts';
import { type Language, languageOf } from '../../language/language.ts';
import { parseRegex } from '../../language/regex.ts';
import { dateExpression, datetimeExpression, timeExpression } from '../../paths/dates.ts';

const LABEL = '[a-z0-9](?:[a-z0-9-]{0,61}[a-z0-9])?';
/** In an address no length is counted, as the programs that check addresses don't. */
const DOMAIN = '[a-z0-9](?:[a-z0-9-]*[a-z0-9])?';
const ATOM = "[a-z0-9!#$%&'*+/=?^_`{|}~-]+";
const BYTE = '(?:25[0-5]|2[0-4][0-9]|1[0-9]{2}|[1-9]?[0-9])';
const FOUR = `${BYTE}(?:\\.${BYTE}){3}`;
const HEX = '[0-9a-f]{1,4}';
const PERCENT = '%[0-9a-f]{2}';
const REGISTERED = `(?:[a-z0-9._~!$&'()*+,;=-]|${PERCENT})*`;
const USER = `(?:[a-z0-9._~!$&'()*+,;=:-]|${PERCENT})*@`;
const IN_PATH = `(?:[a-z0-9._~!$&'()*+,;=:@-]|${PERCENT})`;
const NOT_COLON = `(?:[a-z0-9._~!$&'()*+,;=@-]|${PERCENT})`;
const AFTER = `(?:\\?(?:${IN_PATH}|[/?])*)?(?:#(?:${IN_PATH}|[/?])*)?`;

/** RFC 4291, 2.2: eight groups, or fewer around one `::`, the last two perhaps as IPv4. */
function ipv6(): string {
  const tail = `(?:${HEX}:${HEX}|${FOUR})`;
  const all = [`(?:${HEX}:){6}${tail}`];
  for (let left = 0; left <= 7; left++) {
    const head = left === 0 ? '' : `${HEX}(?::${HEX}){${left - 1}}`;
    for (let right = 0; left + right <= 7; right++) {
      const groups = right === 0 ? '' : `${HEX}(?::${HEX}){${right - 1}}`;
      all.push(`${head}::${groups}`);
      if (left + right <= 5) all.push(`${head}::${right === 0 ? '' : `${groups}:`}${FOUR}`);
    }
  }
  return all.join('|');
}

/** RFC 3986, 3: with an authority, or with a path alone, whose first segment holds what is given here. */
function hierarchy(first: string): string {
  const rest = `(?:/${IN_PATH}*)*`;
  // Which addresses there are is left to ipv6: it would take most of the time that a document takes.
  const authority = `//(?:${USER})?(?:\\[[0-9a-f:.]*:[0-9a-f:.]*\\]|${REGISTERED})(?::\\d*)?${rest}`;
  return `(?:${authority}|/(?:${IN_PATH}+${rest})?|${first}+${rest}|)${AFTER}`;
}

function regex(source: string, ignoreCase = true): Expression {
  const parsed = parseRegex(source, { ignoreCase }, true);
  invariant(parsed.ok, `a format has a regular expression of its own: ${source}`);
  return parsed.expression;
}

const FORMATS: Readonly<Record<string, () => Expression>> = {
  date: dateExpression,
  'date-time': datetimeExpression,
  time: timeExpression,
  duration: () =>
    regex(
      'P(?:\\d+W|(?:(?:\\d+Y(?:\\d+M)?(?:\\d+D)?|\\d+M(?:\\d+D)?|\\d+D)(?:T(?:\\d+H(?:\\d+M)?(?:\\d+S)?|\\d+M(?:\\d+S)?|\\d+S))?)|T(?:\\d+H(?:\\d+M)?(?:\\d+S)?|\\d+M(?:\\d+S)?|\\d+S))',
      false,
    ),
  uuid: () => regex('[0-9a-f]{8}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{4}-[0-9a-f]{12}'),
  email: () => regex(`${ATOM}(?:\\.${ATOM})*@(?:${DOMAIN}\\.)+${DOMAIN}`),
  hostname: () => regex(`${LABEL}(?:\\.${LABEL})*\\.?`),
  ipv4: () => regex(FOUR),
  ipv6: () => regex(ipv6()),
  uri: () => regex(`[a-z][a-z0-9+.-]*:${hierarchy(IN_PATH)}`),
  'uri-reference': () => regex(`[a-z][a-z0-9+.-]*:${hierarchy(IN_PATH)}|${hierarchy(NOT_COLON)}`),
};

const formatLanguages = new Map<string, Language>();

/** The texts of a format; undefined where it says nothing. */
export function formatLanguage(name: string): Language | undefined {
  const make = Object.hasOwn(FORMATS, name) ? FORMATS[name] : undefined;
  if (make === undefined) return undefined;
  const language = formatLanguages.get(name) ?? languageOf(make());
  formatLanguages.set(name, language);
  return language;
}

/** The numbers of a format, both ends included. */
export const NUMBER_FORMATS: Readonly<Record<string, readonly [number, number]>> = {
  int32: [-2147483648, 2147483647],
  // The upper end, 2^63 - 1, is no number that JavaScript can hold; this is the nearest one within.
  int64: [-(2 ** 63), 2 ** 63 - 1024],
};

/** Texts that are good examples of a format. */
export const FORMAT_EXAMPLES: Readonly<Record<string, string>> = {
  date: '2027-03-14',
  'date-time': '2027-03-14T09:30:00Z',
  time: '09:30:00Z',
  duration: 'PT45M',
  uuid: '3f2b8c1e-5a4d-4e6f-9b7a-0c1d2e3f4a5b',
  email: 'someone@example.com',
  hostname: 'www.example.com',
  ipv4: '192.0.2.7',
  ipv6: '2001:db8::7',
  uri: 'https://www.example.com/items/7',
  'uri-reference': '/locks/7',
};
