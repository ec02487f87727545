/** The short form of a route, `METHOD[|METHOD] /path -> handler`: read, and what is wrong with it in words. */

import { RecentMap } from '../../base/memo.ts';
import { suggest } from '../../base/nearest-word.ts';
import type { Style } from '../../paths/pattern.ts';
import { ANY_METHOD } from './route.ts';

export interface RouteLine {
  /** Upper case. */
  readonly methods: readonly string[];
  readonly path: string;
  /** Empty where none is named. */
  readonly handler: string;
  readonly problems: readonly string[];
}

/** Registered methods (RFC 9110, 16.1 and the registry that it sets up), and a few that servers use besides. */
const METHODS: ReadonlySet<string> = new Set(
  (
    'GET HEAD POST PUT PATCH DELETE OPTIONS CONNECT TRACE QUERY ' +
    'ACL BASELINE-CONTROL BIND CHECKIN CHECKOUT COPY LABEL LINK LOCK MERGE MKACTIVITY MKCALENDAR MKCOL MKREDIRECTREF ' +
    'MKWORKSPACE MOVE ORDERPATCH PRI PROPFIND PROPPATCH REBIND REPORT SEARCH UNBIND UNCHECKOUT UNLINK UNLOCK UPDATE ' +
    'UPDATEREDIRECTREF VERSION-CONTROL M-SEARCH NOTIFY PURGE SOURCE SUBSCRIBE UNSUBSCRIBE'
  ).split(' '),
);

const FORM = /^([A-Za-z*][A-Za-z*|,-]*)\s+(\S.*?)(?:\s+->\s+(\S.*))?$/su;
const OTHER_ARROW = /\s(=>|-->|->|→|⇒|=|:)\s*/u;

const methodLists = new RecentMap<string, readonly string[]>(1_000);

/** The methods of a route, upper case, each once; `*` and `ANY` stand for every method, alone. */
function methodsOf(text: string): readonly string[] {
  return methodLists.remember(text, () => {
    const words = text
      .toUpperCase()
      .split(/[|,]/u)
      .filter((m) => m !== '');
    const list = words.some((m) => m === ANY_METHOD || m === '*') ? [ANY_METHOD] : [...new Set(words)];
    return list;
  });
}

/** Reads a line. Where it is no route at all the path is empty. */
export function readRouteLine(text: string, style: Style): RouteLine {
  const line = text.trim();
  const [, methodText = '', rest = '', handler = ''] = FORM.exec(line) ?? [];
  if (rest === '') return { methods: [], path: '', handler: '', problems: [noRoute(line)] };
  const written = methodsOf(methodText);
  const problems = written.flatMap((m) => methodProblem(m) ?? []);
  const meant = problems.length === 0 ? written : methodsOf(written.map(methodMeant).join('|'));
  const methods = meant.length === 0 ? written : meant;
  // Spaces within braces or parentheses belong to a type.
  const end = style === 'regex' ? rest.length : endOfPath(rest);
  if (end === rest.length) return { methods, path: rest, handler, problems };
  const behind = rest.slice(end);
  const [, arrow] = OTHER_ARROW.exec(`${behind} `) ?? [];
  const named = behind.replace(OTHER_ARROW, '').trim();
  const found = arrow === undefined ? `"${behind.trim()}" without an arrow before it` : `"${arrow}"`;
  return {
    methods,
    path: rest.slice(0, end),
    handler: handler === '' ? named : handler,
    problems: [...problems, `found ${found}, expected "->" before the handler: METHOD /path -> handler`],
  };
}

function noRoute(line: string): string {
  const what = line === '' ? 'an empty line' : JSON.stringify(line.length > 60 ? `${line.slice(0, 57)}...` : line);
  return `${what} is not a route; expected METHOD /path -> handler, such as GET /items -> items.list`;
}

function methodProblem(method: string): string | undefined {
  if (method === ANY_METHOD || METHODS.has(method)) return undefined;
  if (method === 'ALL' || method === 'USE') return `unknown method "${method}"; write ANY for every method`;
  const near = suggest(method, [...METHODS, ANY_METHOD]);
  return `unknown method "${method}"${near === undefined ? '; expected an HTTP method such as GET or POST, or ANY for every method' : `; did you mean "${near}"?`}`;
}

/** What a method is read as that is not known: the nearest one, so that the route still counts. */
function methodMeant(method: string): string {
  if (METHODS.has(method)) return method;
  return method === 'ALL' || method === 'USE' ? ANY_METHOD : (suggest(method, [...METHODS, ANY_METHOD]) ?? method);
}

function endOfPath(text: string): number {
  let depth = 0;
  for (let i = 0; i < text.length; i++) {
    const char = text[i] as string;
    if (char === '\\') i += 1;
    else if ('{([<'.includes(char)) depth += 1;
    else if ('})]>'.includes(char)) depth = Math.max(0, depth - 1);
    else if (/\s/u.test(char) && (depth === 0 || /^\s+(?:=>|->)/u.test(text.slice(i)))) return i;
  }
  return text.length;
}

/** What a path looks like in each style that marks its parameters. */
const LOOKS: readonly (readonly [Style, RegExp])[] = [
  ['brace', /\{[A-Za-z_$*][^{}]*\}/u],
  ['colon', /(?:^|[/.-]):[A-Za-z_]\w*/u],
  ['angle', /<(?:[A-Za-z]\w*:)?[A-Za-z_]\w*>/u],
  ['bracket', /\[+(?:\.\.\.)?[A-Za-z_]\w*\]+/u],
];

/** The other style that a path looks like, where it has nothing of its own style. */
export function otherStyle(path: string, style: Style): Style | undefined {
  // Of a path without a group nobody can tell the two styles of the colon apart.
  if (style === 'regex' || style === 'parens') return undefined;
  const own = LOOKS.find(([s]) => s === style)?.[1];
  // In the colon style braces are groups, and parentheses hold expressions in which brackets are usual.
  const bare = style === 'colon' ? path.replaceAll(/\((?:[^()]|\([^()]*\))*\)/gu, '') : path;
  if (style !== 'colon' && own?.test(bare)) return undefined;
  const other = LOOKS.find(([s, looks]) => s !== style && looks.test(bare))?.[0];
  if (style === 'colon' && other === 'brace' && /\{[^{}]*[:/][^{}]*\}/u.test(bare)) return undefined;
  return style === 'colon' && own?.test(bare) ? undefined : other;
}
